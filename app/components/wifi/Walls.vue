<script setup lang="ts">
/** Walls on a plan of the place as a table; made when somebody opens it. */
import type { Floor, PlanWall } from '@mast/core/plan'
import { bands, lossOfMaterial, materialIds, materials, type MaterialId } from '@mast/core/radio'
import { cornersOn, cornerWords } from '@mast/core/wifi/drawing'

const props = defineProps<{
  floor: Floor
  walls: readonly PlanWall[]
  reshape: (id: string, points: readonly { x: number; y: number }[]) => string | undefined
}>()
/** The wall whose corners are on the plan. */
const chosen = defineModel<string | null>('chosen', { required: true })
const site = useSite()
const isOpen = ref(false)
/** So many at a time: each row has fields of its own. */
const PAGE = 20
const page = ref(1)
const pages = computed(() => Math.max(1, Math.ceil(props.walls.length / PAGE)))
const shown = computed(() => {
  const at = Math.min(page.value, pages.value)
  return props.walls.slice((at - 1) * PAGE, at * PAGE)
})
function corners(w: PlanWall, text: string): string | undefined {
  const read = cornersOn(props.floor, text)
  return 'refused' in read ? read.refused : props.reshape(w.id, read.points)
}
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
const remove = (w: PlanWall): void => {
  refused.value = site.edit('removeWall', { id: w.id })
}
</script>

<template>
  <details
    v-if="walls.length"
    class="walls"
    @toggle="(e) => (isOpen = (e.target as HTMLDetailsElement).open)"
  >
    <summary>{{ walls.length }} walls</summary>
    <table v-if="isOpen" class="plain" aria-label="Walls">
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
        <tr v-for="w in shown" :key="w.id">
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
    <v-pagination
      v-if="isOpen && pages > 1"
      v-model="page"
      :length="pages"
      size="small"
      density="compact"
      class="no-print"
    />
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.walls {
  margin: 8px 0;
}
</style>
