<script setup lang="ts">
/** How each device gets its address, and in which segment; the row that is chosen has its form. */
import { explainAddress, formatAddress } from '@mast/core/addressing'
import { giveAddresses } from '@mast/core/topology'
import type { Device } from '@mast/core/plan'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const devices = computed(() =>
  site.opened.model.devices.filter(
    (d) =>
      site.opened.model.profileOf(d.id).kind !== 'gateway' &&
      site.opened.model.profileOf(d.id).factory.dhcp !== 'none',
  ),
)
const segments = useStable(() => [
  { title: 'none yet', value: null },
  ...site.opened.model.segments.map((s) => ({ title: `${s.vlanId} ${s.name}`, value: s.id })),
])
const modeWords = { automatic: 'automatic', reserved: 'reserved', fixed: 'typed in' } as const
const modes = (['automatic', 'reserved', 'fixed'] as const).map((value) => ({
  title: modeWords[value],
  value,
}))
const segmentName = (d: Device): string => {
  const s = d.addressing.segmentId ? site.opened.plan.segments[d.addressing.segmentId] : undefined
  return s ? `${s.vlanId} ${s.name}` : 'none yet'
}
const columns: readonly Column<Device>[] = [
  { key: 'name', title: 'Device', value: (d) => d.name },
  { key: 'segment', title: 'Segment', value: segmentName },
  { key: 'mode', title: 'Gets its address', value: (d) => modeWords[d.addressing.mode] },
  {
    key: 'address',
    title: 'Address',
    value: (d) =>
      d.addressing.address ?? (d.addressing.mode === 'automatic' ? 'from the pool' : ''),
    mono: true,
  },
]
const { refused, make } = useBulk('devices')
const set = (d: Device, changes: Partial<Device['addressing']>): string | undefined =>
  site.mend(`Address ${d.name}`, giveAddresses(site.opened.plan, [d.id], changes))
const setAll = (ids: readonly string[], changes: Partial<Device['addressing']>): boolean =>
  make('Address', ids.length, giveAddresses(site.opened.plan, ids, changes))
function setAddress(d: Device, text: string): string | undefined {
  if (text === '') return set(d, { address: null })
  const read = explainAddress(text)
  return read.ok ? set(d, { address: formatAddress(read.value) }) : read.reason
}
/**
 * Infrastructure gets its addresses by the site's habit; one button does it for all that have none.
 */
const habit = computed(() => site.opened.plan.site.preferences.infrastructure)
const lacking = computed(() =>
  devices.value.filter(
    (d) =>
      ['switch', 'access-point', 'bridge-radio', 'controller'].includes(
        site.opened.model.profileOf(d.id).kind,
      ) &&
      d.addressing.mode === 'automatic' &&
      d.addressing.segmentId,
  ),
)
const giveAll = (): boolean =>
  setAll(
    lacking.value.map((d) => d.id),
    { mode: habit.value },
  )
</script>

<template>
  <section
    v-if="devices.length && site.opened.model.segments.length"
    aria-label="Addresses of devices"
  >
    <div class="row spread">
      <h2>Devices</h2>
      <v-btn v-if="lacking.length" class="no-print" size="small" @click="giveAll"
        >{{ habit === 'reserved' ? 'Reserve' : 'Fix' }} addresses for
        {{ lacking.length }} infrastructure devices</v-btn
      >
    </div>
    <div class="scroll-x">
      <LazyRowsDataTable
        :rows="devices"
        :columns="columns"
        what="devices"
        :groups="['segment', 'mode']"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #chosen="{ ids }">
          <RowsBulkSelect
            label="Segment"
            :items="segments"
            @choose="(segmentId) => setAll(ids, { segmentId })"
          />
          <RowsBulkSelect
            label="Gets its address"
            :items="modes"
            @choose="(mode) => setAll(ids, { mode })"
          />
        </template>
        <template #form="{ row: d }">
          <div class="in-place fields">
            <v-select
              :label="`Segment of ${d.name}`"
              :model-value="d.addressing.segmentId"
              :items="segments"
              @update:model-value="(segmentId: string | null) => set(d, { segmentId })"
            />
            <v-select
              :label="`How ${d.name} gets its address`"
              :model-value="d.addressing.mode"
              :items="modes"
              @update:model-value="(mode: Device['addressing']['mode']) => set(d, { mode })"
            />
            <FieldsEditField
              v-if="d.addressing.mode !== 'automatic'"
              :label="`Address of ${d.name}`"
              :value="d.addressing.address"
              :save="(t) => setAddress(d, t)"
              mono
            />
          </div>
        </template>
      </LazyRowsDataTable>
      <Refusal :says="refused" />
    </div>
  </section>
</template>
