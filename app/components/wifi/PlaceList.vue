<script setup lang="ts">
/** Access points on a plan of the place, as a table. */
import type { Device } from '@mast/core/plan'
import type { Drawn } from '~/workers/coverage.worker'

const props = defineProps<{ points: readonly Device[]; drawn: Drawn | null }>()
const radioOf = (id: string) => props.drawn?.radios.find((r) => r.deviceId === id)
const open = ref<string | null>(null)
/** More of them are folded away at first. */
const FEW = 12
</script>

<template>
  <details v-if="points.length" :open="points.length <= FEW">
    <summary>{{ points.length }} access points</summary>
    <div class="scroll-x">
      <table class="plain" aria-label="Access points on the plan">
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
          <template v-for="d in points" :key="d.id">
            <tr>
              <td>
                <v-btn
                  size="small"
                  variant="text"
                  :aria-expanded="open === d.id"
                  @click="open = open === d.id ? null : d.id"
                  >{{ d.name }}</v-btn
                >
              </td>
              <td class="mono">{{ d.place!.x }} m</td>
              <td class="mono">{{ d.place!.y }} m</td>
              <td class="mono">{{ d.place!.heightM }} m</td>
              <td class="mono">{{ radioOf(d.id)?.channel ?? 'none yet' }}</td>
              <td class="mono">{{ radioOf(d.id) ? `${radioOf(d.id)!.eirpDbm} dBm` : 'off' }}</td>
              <td class="mono">{{ Math.round(radioOf(d.id)?.heads ?? 0) }}</td>
              <td class="mono">{{ Math.round((radioOf(d.id)?.busy ?? 0) * 100) }} %</td>
            </tr>
            <tr v-if="open === d.id">
              <td colspan="8"><WifiRadioRow :device="d" /></td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
  </details>
</template>
