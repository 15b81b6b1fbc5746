<script setup lang="ts">
/** How each device gets its address, and in which segment. */
import type { Device } from '@mast/core/plan'

const site = useSite()
const devices = computed(() => site.model!.devices.filter((d) => site.model!.profileOf(d.id).kind !== 'gateway' && site.model!.profileOf(d.id).factory.dhcp !== 'none'))
const segments = computed(() => [{ title: 'none yet', value: null }, ...site.model!.segments.map((s) => ({ title: `${s.vlanId} ${s.name}`, value: s.id }))])
const modes = [{ title: 'automatic', value: 'automatic' }, { title: 'reserved', value: 'reserved' }, { title: 'typed in', value: 'fixed' }]
function nextFree(d: Device, segmentId: string | null): string | null {
  const block = segmentId ? site.plan!.segments[segmentId]?.fixedBlock : null
  if (!block) return null
  const used = new Set(devices.value.filter((x) => x.id !== d.id).map((x) => x.addressing.address))
  const [a, b, c, last] = block.first.split('.').map(Number) as [number, number, number, number]
  for (let i = last; i < 255; i++) if (!used.has(`${a}.${b}.${c}.${i}`)) return `${a}.${b}.${c}.${i}`
  return null
}
function set(d: Device, changes: Partial<Device['addressing']>): string | undefined {
  const next = { ...d.addressing, ...changes }
  if (next.mode === 'automatic') { next.address = null; next.gateway = null } else {
    if (changes.mode || changes.segmentId) next.address = nextFree(d, next.segmentId)
    next.gateway = next.mode === 'fixed' && next.segmentId ? site.plan!.segments[next.segmentId]!.gateway : null
  }
  return site.edit('changeDevice', { id: d.id, changes: { addressing: next } })
}
</script>

<template>
  <section v-if="devices.length && site.model!.segments.length" aria-label="Addresses of devices">
    <h2>Devices</h2>
    <div class="scroll-x">
      <table class="plain">
        <thead><tr><th>Device</th><th>Segment</th><th>Gets its address</th><th>Address</th></tr></thead>
        <tbody>
          <tr v-for="d in devices" :key="d.id" :class="{ selected: site.selected === d.id || site.pointed.includes(d.id) }">
            <td>{{ d.name }}</td>
            <td><v-select variant="plain" :aria-label="`Segment of ${d.name}`" :model-value="d.addressing.segmentId" :items="segments" @update:model-value="(segmentId) => set(d, { segmentId })" /></td>
            <td><v-select variant="plain" :aria-label="`How ${d.name} gets its address`" :model-value="d.addressing.mode" :items="modes" @update:model-value="(mode) => set(d, { mode })" /></td>
            <td class="address"><FieldsEditField v-if="d.addressing.mode !== 'automatic'" :label="''" :aria-label="`Address of ${d.name}`" :value="d.addressing.address" :save="(t) => set(d, { address: t || null })" mono /><span v-else class="faint">from the pool</span></td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.address { width: 190px; }
td :deep(.v-field__input) { padding-top: 2px; padding-bottom: 2px; min-height: 30px; }
</style>
