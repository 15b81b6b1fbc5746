<script setup lang="ts">
import { inPlan, allocationsFor } from '@mast/core/plan'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const segments = computed(() => Object.values(site.plan?.segments ?? {}))
const unplaced = computed(() => segments.value.filter((s) => !s.subnet).map((s) => s.id))
const without6 = computed(() =>
  site.plan?.site.addressSpace6.length ? segments.value.filter((s) => !s.subnet6).length : 0,
)
const refused = ref<string | undefined>()
const allocate = (ids: string[]): void => {
  refused.value = site.edit('allocateSegments', { segmentIds: ids })
}
const said = ref<string | null>(null)
/** Plans all segments again, and says what moves and why. */
function replan(): void {
  const why = {
    'too small': 'has outgrown it',
    'not in the space': 'lay outside the space',
    overlaps: 'met another',
    'not aligned': 'was not aligned',
    'makes room': 'makes room',
  } as const
  const movedText = (m: { id: string; from: string; to: string; why: keyof typeof why }): string =>
    `${inPlan(site.opened.plan.segments, m.id).name} from ${m.from} to ${m.to} (${why[m.why]})`
  const { moves } = allocationsFor(
    site.opened.plan,
    segments.value.map((s) => s.id),
    true,
  )
  refused.value = site.edit('replanSegments', {})
  said.value = refused.value
    ? null
    : moves.length === 0
      ? 'Nothing has to move.'
      : `Moved: ${moves.map(movedText).join(', ')}.`
}
const shown = reactive({ options: false, names: false })
</script>

<template>
  <ShellSheetFrame stop="addresses" has-remarks>
    <template #tools>
      <v-btn v-if="unplaced.length" color="primary" variant="flat" @click="allocate(unplaced)"
        >Allocate {{ unplaced.length }} {{ unplaced.length === 1 ? 'segment' : 'segments' }}</v-btn
      >
      <v-btn
        v-else-if="segments.length"
        size="small"
        title="Moves as little as it can; locked segments stay"
        @click="replan"
        >Plan again</v-btn
      >
      <v-btn v-if="without6" size="small" @click="refused = site.edit('allocateSixtyFours', {})"
        >Give {{ without6 }} a /64</v-btn
      >
    </template>
    <Refusal :says="refused" />
    <p v-if="said" role="status">{{ said }}</p>
    <AddressesSpaceForm />
    <AddressesRuler />
    <AddressesSegmentTable />
    <AddressesLeaseCalculator />
    <section aria-label="Details of leases and names">
      <details
        @toggle="
          (e) => {
            shown.options = (e.target as HTMLDetailsElement).open
          }
        "
      >
        <summary>What a lease tells, octet for octet</summary>
        <AddressesLeaseOptions v-if="shown.options" />
      </details>
      <details
        @toggle="
          (e) => {
            shown.names = (e.target as HTMLDetailsElement).open
          }
        "
      >
        <summary>Names, reverse zones, summary routes</summary>
        <AddressesHostNames v-if="shown.names" />
      </details>
    </section>
    <AddressesDeviceAddresses />
    <AddressesElsewhere />
    <AddressesClassifier />
  </ShellSheetFrame>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-family: var(--label);
  font-stretch: 87%;
  font-weight: 600;
  font-size: 15px;
  padding: 6px 0;
}
</style>
