<script setup lang="ts">
/** What is drawn on a plan of the place, as a table and a list. */
import type { Device, PlanWall } from '@mast/core/plan'
import { materials } from '@mast/core/radio'
import type { Drawn } from '~/workers/coverage.worker'

const props = defineProps<{
  points: readonly Device[]
  walls: readonly PlanWall[]
  drawn: Drawn | null
}>()
const site = useSite()
const radioOf = (id: string) => props.drawn?.radios.find((r) => r.deviceId === id)
const lengthOf = ({ points: p }: PlanWall): number =>
  p.slice(1).reduce((sum, b, n) => sum + Math.hypot(b.x - p[n]!.x, b.y - p[n]!.y), 0)
const refused = ref<string | undefined>()
const remove = (w: PlanWall): void => {
  refused.value = site.edit('removeWall', { id: w.id })
}
</script>

<template>
  <table v-if="points.length" class="plain" aria-label="Access points on the plan">
    <thead>
      <tr>
        <th>Access point</th>
        <th>From the left</th>
        <th>From above</th>
        <th>Height</th>
        <th>Channel</th>
        <th>EIRP</th>
        <th>People</th>
        <th>Of its time</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="d in points" :key="d.id">
        <td>{{ d.name }}</td>
        <td class="mono">{{ d.place!.x }} m</td>
        <td class="mono">{{ d.place!.y }} m</td>
        <td class="mono">{{ d.place!.heightM }} m</td>
        <td class="mono">{{ radioOf(d.id)?.channel ?? 'none yet' }}</td>
        <td class="mono">{{ radioOf(d.id) ? `${radioOf(d.id)!.eirpDbm} dBm` : 'off' }}</td>
        <td class="mono">{{ Math.round(radioOf(d.id)?.heads ?? 0) }}</td>
        <td class="mono">{{ Math.round((radioOf(d.id)?.busy ?? 0) * 100) }} %</td>
      </tr>
    </tbody>
  </table>
  <details v-if="walls.length" class="walls">
    <summary>{{ walls.length }} walls</summary>
    <ul>
      <li v-for="w in walls" :key="w.id">
        {{ materials[w.material].name }}, {{ Math.round(10 * lengthOf(w)) / 10 }} m
        <v-btn
          class="no-print"
          size="small"
          variant="text"
          :aria-label="`Remove the wall ${w.id}`"
          @click="remove(w)"
          >Remove</v-btn
        >
      </li>
    </ul>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.walls {
  margin: 8px 0;
}
</style>
