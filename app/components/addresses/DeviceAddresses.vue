<script setup lang="ts">
/** How each device gets its address, and in which segment; the row that is chosen has its form. */
import { inPlan } from '@mast/core/plan'
import { address, explainAddress, formatAddress } from '@mast/core/addressing'
import type { Device } from '@mast/core/plan'

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
const modes = [
  { title: 'automatic', value: 'automatic' },
  { title: 'reserved', value: 'reserved' },
  { title: 'typed in', value: 'fixed' },
]
const modeWords = { automatic: 'automatic', reserved: 'reserved', fixed: 'typed in' } as const
const { shown, rest, more, reach } = useShownRows(() => devices.value)
watch(
  () => site.selected,
  (id) => reach(devices.value.findIndex((d) => d.id === id)),
)
function nextFree(d: Device, segmentId: string | null): string | null {
  const block = segmentId ? site.opened.plan.segments[segmentId]?.fixedBlock : null
  if (!block) return null
  const used = new Set(
    Object.values(site.opened.plan.devices)
      .filter((x) => x.id !== d.id)
      .map((x) => x.addressing.address),
  )
  for (let v = address(block.first).value; v <= address(block.last).value; v++) {
    const text = formatAddress({ family: 4, value: v })
    if (!used.has(text)) return text
  }
  return null
}
function set(d: Device, changes: Partial<Device['addressing']>): string | undefined {
  const next = { ...d.addressing, ...changes }
  if (next.mode === 'automatic') {
    next.address = null
    next.gateway = null
  } else {
    if (changes.mode || changes.segmentId) next.address = nextFree(d, next.segmentId)
    next.gateway =
      next.mode === 'fixed' && next.segmentId
        ? inPlan(site.opened.plan.segments, next.segmentId).gateway
        : null
  }
  return site.edit('changeDevice', { id: d.id, changes: { addressing: next } })
}
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
function giveAll(): void {
  for (const d of lacking.value) set(d, { mode: habit.value })
}
const segmentName = (d: Device): string => {
  const s = d.addressing.segmentId ? site.opened.plan.segments[d.addressing.segmentId] : undefined
  return s ? `${s.vlanId} ${s.name}` : 'none yet'
}
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
      <table class="plain">
        <thead>
          <tr>
            <th>Device</th>
            <th>Segment</th>
            <th>Gets its address</th>
            <th>Address</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="d in shown"
            :key="d.id"
            :class="{ selected: site.selected === d.id || site.pointed.includes(d.id) }"
            tabindex="0"
            @click="site.selected = d.id"
            @focus="site.selected = d.id"
          >
            <template v-if="site.selected === d.id">
              <td>{{ d.name }}</td>
              <td>
                <v-select
                  variant="plain"
                  :aria-label="`Segment of ${d.name}`"
                  :model-value="d.addressing.segmentId"
                  :items="segments"
                  @update:model-value="(segmentId) => set(d, { segmentId })"
                />
              </td>
              <td>
                <v-select
                  variant="plain"
                  :aria-label="`How ${d.name} gets its address`"
                  :model-value="d.addressing.mode"
                  :items="modes"
                  @update:model-value="(mode) => set(d, { mode })"
                />
              </td>
              <td class="address">
                <FieldsEditField
                  v-if="d.addressing.mode !== 'automatic'"
                  :label="''"
                  :aria-label="`Address of ${d.name}`"
                  :value="d.addressing.address"
                  :save="(t) => setAddress(d, t)"
                  mono
                /><span v-else class="faint">from the pool</span>
              </td>
            </template>
            <template v-else
              ><td>{{ d.name }}</td>
              <td>{{ segmentName(d) }}</td>
              <td>{{ modeWords[d.addressing.mode] }}</td>
              <td class="mono address">
                {{ d.addressing.address ?? ''
                }}<span v-if="d.addressing.mode === 'automatic'" class="faint">from the pool</span>
              </td></template
            >
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="devices" @more="more" />
    </div>
  </section>
</template>

<style scoped>
.address {
  width: 190px;
}
td :deep(.v-field__input) {
  padding-top: 2px;
  padding-bottom: 2px;
  min-height: 30px;
}
</style>
