<script setup lang="ts">
/** What is drawn on a plan of the place, as a table and a list. */
import type { Device, Floor, PlanWall } from '@mast/core/plan'
import { bands, lossOfMaterial, materialIds, materials, type MaterialId } from '@mast/core/radio'
import { cornersOn, cornerWords } from '@mast/core/wifi/drawing'
import type { Drawn } from '~/workers/coverage.worker'

const props = defineProps<{
  floor: Floor
  points: readonly Device[]
  walls: readonly PlanWall[]
  drawn: Drawn | null
  reshape: (id: string, points: readonly { x: number; y: number }[]) => string | undefined
}>()
/** The wall whose corners are on the plan. */
const chosen = defineModel<string | null>('chosen', { required: true })
function corners(w: PlanWall, text: string): string | undefined {
  const read = cornersOn(props.floor, text)
  return 'refused' in read ? read.refused : props.reshape(w.id, read.points)
}
const site = useSite()
const radioOf = (id: string) => props.drawn?.radios.find((r) => r.deviceId === id)
const lengthOf = ({ points: p }: PlanWall): number =>
  p.slice(1).reduce((sum, b, n) => sum + Math.hypot(b.x - p[n]!.x, b.y - p[n]!.y), 0)
const refused = ref<string | undefined>()
const materialItems = materialIds.map((value) => ({ title: materials[value].name, value }))
const takes = (id: MaterialId): string =>
  bands.map((b) => `${Math.round(lossOfMaterial(id, b) * 10) / 10}`).join(' / ')
const made = (w: PlanWall, material: MaterialId): void => {
  refused.value = site.edit('changeWall', { id: w.id, changes: { material } })
}
/** `2-3 wood; 5-6`: from and to along the wall, m, and what is in it. */
const openingWords = (w: PlanWall): string =>
  w.openings.map((o) => `${o.fromM}-${o.toM}${o.material ? ` ${o.material}` : ''}`).join('; ')
function setOpenings(w: PlanWall, text: string): string | undefined {
  const openings: PlanWall['openings'] = []
  for (const part of text.split(';').map((t) => t.trim())) {
    if (part === '') continue
    const m = /^([\d.]+)\s*-\s*([\d.]+)\s*(\S*)$/.exec(part)
    const material = m?.[3] ? materialIds.find((id) => id === m[3]) : null
    if (!m || material === undefined)
      return (
        `'${part}' is no opening; expected for example 2-3 wood, or 2-3 of nothing; ` +
        `known are ${materialIds.join(', ')}`
      )
    openings.push({ fromM: Number(m[1]), toM: Number(m[2]), material })
  }
  return site.edit('changeWall', { id: w.id, changes: { openings } })
}
const open = ref<string | null>(null)
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
  <details v-if="walls.length" class="walls">
    <summary>{{ walls.length }} walls</summary>
    <table class="plain" aria-label="Walls">
      <thead>
        <tr>
          <th>Of</th>
          <th>Long</th>
          <th>Takes in 2.4 / 5 / 6 GHz</th>
          <th>Known from</th>
          <th>Doors, windows and gaps</th>
          <th>Corners</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in walls" :key="w.id">
          <td>
            <v-select
              :aria-label="`Material of ${w.id}`"
              :model-value="w.material"
              :items="materialItems"
              @update:model-value="(m: MaterialId) => made(w, m)"
            />
          </td>
          <td class="mono">{{ Math.round(10 * lengthOf(w)) / 10 }} m</td>
          <td class="mono">{{ takes(w.material) }} dB</td>
          <td>{{ materials[w.material].source }}</td>
          <td>
            <FieldsEditField
              label="From-to, m, and of what"
              :value="openingWords(w)"
              :save="(t) => setOpenings(w, t)"
              mono
            />
          </td>
          <td>
            <FieldsEditField
              label="Corners, m"
              :value="cornerWords(w.points)"
              :save="(t) => corners(w, t)"
              mono
            />
          </td>
          <td>
            <v-btn
              class="no-print"
              size="small"
              variant="text"
              :aria-pressed="chosen === w.id"
              :aria-label="`Corners of ${w.id} on the plan`"
              @click="chosen = chosen === w.id ? null : w.id"
              >On the plan</v-btn
            >
            <v-btn
              class="no-print"
              size="small"
              variant="text"
              :aria-label="`Remove the wall ${w.id}`"
              @click="remove(w)"
              >Remove</v-btn
            >
          </td>
        </tr>
      </tbody>
    </table>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.walls {
  margin: 8px 0;
}
</style>
