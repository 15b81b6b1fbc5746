<script setup lang="ts">
/** A new segment: what it is for, and how many hosts it will see. */
import { firstFreeVlan, newId, segmentPurposes, type Segment } from '@mast/core/plan'

const emit = defineEmits<{ added: [id: string]; close: [] }>()
const site = useSite()
const refused = ref<string | undefined>()
/** The first purpose that no segment has yet. */
const first = (): Segment['purpose'] =>
  segmentPurposes.find((p) => site.opened.model.segments.every((s) => s.purpose !== p)) ?? 'staff'
const draft = reactive({
  name: '',
  purpose: first(),
  vlanId: '',
  expectedHosts: '20',
  growthPercent: '50',
})
const usedVlans = computed(
  () => new Map(site.opened.model.segments.map((s) => [s.vlanId, s.name] as const)),
)
watch(
  () => draft.purpose,
  (purpose) => {
    draft.vlanId = String(firstFreeVlan(purpose, new Set(usedVlans.value.keys())) ?? '')
  },
  { immediate: true },
)
const taken = computed(() => {
  const owner = usedVlans.value.get(Number(draft.vlanId))
  return owner === undefined || draft.vlanId === ''
    ? undefined
    : `VLAN ${draft.vlanId} is ${owner}'s already`
})

function add(): void {
  const id = newId(site.opened.plan, draft.name)
  refused.value = site.edit('addSegment', {
    id,
    name: draft.name,
    purpose: draft.purpose,
    vlanId: Number(draft.vlanId),
    expectedHosts: Number(draft.expectedHosts),
    growthPercent: Number(draft.growthPercent),
    leaseSeconds: draft.purpose === 'guests' ? 14_400 : 86_400,
  })
  if (!refused.value) emit('added', id)
}
</script>

<template>
  <form @keydown.esc="emit('close')" class="in-place fields" @submit.prevent="add">
    <InTurns>
      <v-text-field v-model="draft.name" label="Segment name" autofocus />
      <v-select v-model="draft.purpose" label="Purpose" :items="[...segmentPurposes]" />
      <v-text-field v-model="draft.vlanId" label="VLAN id" type="number" :error-messages="taken" />
      <v-text-field v-model="draft.expectedHosts" label="Hosts at the busiest time" type="number" />
      <v-text-field v-model="draft.growthPercent" label="Growth" type="number" suffix="%" />
      <v-btn type="submit" color="primary" :disabled="!draft.name.trim() || taken !== undefined"
        >Add segment</v-btn
      >
      <Refusal :says="refused" />
    </InTurns>
  </form>
</template>
