<script setup lang="ts">
/** Areas on a plan of the place: who is where, with what in hand; where nothing may hang; the boundary. */
import type { Floor } from '@mast/core/plan'
import { cornersOn, cornerWords } from '@mast/core/wifi/drawing'

const { floor, reshape } = defineProps<{
  floor: Floor
  reshape: (id: string, points: readonly { x: number; y: number }[]) => string | undefined
}>()
/** The area whose corners are on the plan. */
const chosen = defineModel<string | null>('chosen', { required: true })
function corners(id: string, text: string): string | undefined {
  const read = cornersOn(floor, text)
  return 'refused' in read ? read.refused : reshape(id, read.points)
}
const site = useSite()
const areas = computed(() =>
  Object.values(site.opened.plan.areas).filter((a) => a.floorId === floor.id),
)
const kinds = [
  { title: 'people', value: 'people' },
  { title: 'nothing may hang here', value: 'keep-out' },
  { title: 'boundary of what may be reached', value: 'boundary' },
]
const clients = computed(() => [
  { title: 'the usual client', value: null },
  ...Object.values(site.opened.plan.clientTypes).map((c) => ({ title: c.name, value: c.id })),
])
const refused = ref<string | undefined>()
const change = (id: string, changes: object): string | undefined =>
  (refused.value = site.edit('changeArea', { id, changes }))
</script>

<template>
  <details v-if="areas.length">
    <summary>{{ areas.length }} areas</summary>
    <div v-for="a in areas" :key="a.id" class="row" role="group" :aria-label="a.name">
      <FieldsEditField label="Area" :value="a.name" :save="(t) => change(a.id, { name: t })" />
      <v-select
        label="Kind"
        :model-value="a.kind"
        :items="kinds"
        style="max-width: 280px"
        @update:model-value="(kind) => change(a.id, { kind })"
      />
      <template v-if="a.kind === 'people'">
        <FieldsEditField
          label="Heads at the busiest time"
          :value="a.heads"
          type="number"
          :save="(t) => change(a.id, { heads: Number(t) })"
          mono
        />
        <v-select
          label="With"
          :model-value="a.clientTypeId"
          :items="clients"
          style="max-width: 240px"
          @update:model-value="(clientTypeId) => change(a.id, { clientTypeId })"
        />
      </template>
      <FieldsEditField
        label="Corners, m"
        :value="cornerWords(a.points)"
        :save="(t) => corners(a.id, t)"
        mono
      />
      <v-btn
        size="small"
        variant="text"
        class="no-print"
        :aria-pressed="chosen === a.id"
        :aria-label="`Corners of ${a.name} on the plan`"
        @click="chosen = chosen === a.id ? null : a.id"
        >On the plan</v-btn
      >
      <v-btn
        size="small"
        variant="text"
        class="no-print"
        :aria-label="`Remove the area ${a.name}`"
        @click="refused = site.edit('removeArea', { id: a.id })"
        >Remove</v-btn
      >
    </div>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.row {
  margin-top: 14px;
}
</style>
