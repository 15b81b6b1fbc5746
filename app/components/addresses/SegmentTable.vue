<script setup lang="ts">
import { parsePrefix, spanSize, usableHosts } from '@mast/core/addressing'
import { segmentPurposes, type Segment } from '@mast/core/plan'
import { idFor } from '@mast/core/formats'
import { strandOf } from '~/components/drawing/strands'

const site = useSite()
const adding = ref(false)
const draft = reactive({ name: '', purpose: 'staff' as Segment['purpose'], vlanId: '', expectedHosts: '20', growthPercent: '50' })
const refused = ref<string | undefined>()
const usual: Record<string, number> = { management: 10, staff: 20, payments: 30, cameras: 40, voice: 50, instruments: 60, servers: 70, guests: 90 }
watch(() => draft.purpose, (p) => { draft.vlanId = String(usual[p] ?? '') }, { immediate: true })
function add(): void {
  refused.value = site.edit('addSegment', {
    id: idFor(draft.name, new Set([...Object.keys(site.plan!.segments), ...Object.keys(site.plan!.devices), ...Object.keys(site.plan!.locations)])), name: draft.name, purpose: draft.purpose, vlanId: Number(draft.vlanId), expectedHosts: Number(draft.expectedHosts), growthPercent: Number(draft.growthPercent),
    subnet: null, gateway: null, fixedBlock: null, pool: null, leaseSeconds: draft.purpose === 'guests' ? 14_400 : 86_400,
  })
  if (!refused.value) { draft.name = ''; adding.value = false }
}
const change = (id: string, changes: object): string | undefined => site.edit('changeSegment', { id, changes })
const hosts = (s: Segment): string => { const p = s.subnet ? parsePrefix(s.subnet) : undefined; return p ? String(usableHosts(p)) : '' }
function savePool(s: Segment, text: string): string | undefined {
  const [first, last] = text.split('-').map((t) => t.trim())
  return first && last ? site.edit('setPool', { segmentId: s.id, first, last }) : 'a pool is two addresses with a hyphen between, 10.2.20.10-10.2.20.254'
}
const headroom = (s: Segment): string => (s.pool ? `${Math.floor((spanSize(s.pool) / s.expectedHosts - 1) * 100)} %` : '')
const lease = (seconds: number): string => (seconds % 3600 === 0 ? `${seconds / 3600} h` : `${Math.round(seconds / 60)} min`)
</script>

<template>
  <section aria-label="Segments">
    <div class="row spread"><h2>Segments <span class="faint">{{ site.model!.segments.length }}</span></h2><v-btn class="no-print" size="small" @click="adding = !adding">Add a segment</v-btn></div>
    <form v-if="adding" class="in-place fields" @submit.prevent="add">
      <v-text-field v-model="draft.name" label="Segment name" autofocus />
      <v-select v-model="draft.purpose" label="Purpose" :items="[...segmentPurposes]" />
      <v-text-field v-model="draft.vlanId" label="VLAN id" type="number" />
      <v-text-field v-model="draft.expectedHosts" label="Hosts at the busiest time" type="number" />
      <v-text-field v-model="draft.growthPercent" label="Growth" type="number" suffix="%" />
      <v-btn type="submit" color="primary" :disabled="!draft.name.trim()">Add segment</v-btn>
      <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
    </form>
    <p v-if="site.model!.segments.length === 0" class="lead">No segment yet. A site usually starts with management, the staff and the guests; say how many hosts each will see, then allocate them.</p>
    <div v-else class="scroll-x">
      <table class="plain">
        <thead><tr><th /><th>VLAN</th><th>Segment</th><th>Purpose</th><th>Subnet</th><th>Gateway</th><th>Pool</th><th>Hosts</th><th title="Expected hosts against addresses of the pool">Room to grow</th><th>Lease</th></tr></thead>
        <tbody>
          <template v-for="s in site.model!.segments" :key="s.id">
            <tr :class="{ selected: site.selected === s.id || site.pointed.includes(s.id) }" tabindex="0" @click="site.selected = s.id" @keydown.enter="site.selected = s.id">
              <td><svg width="26" height="8" aria-hidden="true"><line x1="0" x2="26" y1="4" y2="4" stroke-width="3" :stroke="strandOf(site.model!.segments, s.id).colour" :stroke-dasharray="strandOf(site.model!.segments, s.id).dash" /></svg></td>
              <td class="mono">{{ s.vlanId }}</td><td>{{ s.name }}</td><td>{{ s.purpose }}</td><td class="mono">{{ s.subnet ?? 'not placed' }}</td><td class="mono">{{ s.gateway ?? '' }}</td>
              <td class="mono">{{ s.pool ? `${s.pool.first}-${s.pool.last.split('.').slice(-1)}` : '' }}</td><td class="mono" :title="`${s.expectedHosts} expected, ${hosts(s)} possible`">{{ s.expectedHosts }}/{{ hosts(s) || '?' }}</td><td class="mono">{{ headroom(s) }}</td><td class="mono">{{ lease(s.leaseSeconds) }}</td>
            </tr>
            <tr v-if="site.selected === s.id">
              <td colspan="10" style="height: auto">
                <div class="in-place fields">
                  <FieldsEditField label="Name" :value="s.name" :save="(name) => change(s.id, { name })" />
                  <v-select label="Purpose" :model-value="s.purpose" :items="[...segmentPurposes]" @update:model-value="(purpose) => change(s.id, { purpose })" />
                  <FieldsEditField label="VLAN id" type="number" :value="s.vlanId" :save="(t) => change(s.id, { vlanId: Number(t) })" mono />
                  <FieldsEditField label="Hosts at the busiest time" type="number" :value="s.expectedHosts" :save="(t) => change(s.id, { expectedHosts: Number(t) })" mono />
                  <FieldsEditField label="Growth" type="number" suffix="%" :value="s.growthPercent" :save="(t) => change(s.id, { growthPercent: Number(t) })" mono />
                  <FieldsEditField label="Subnet" :value="s.subnet" :save="(t) => change(s.id, { subnet: t || null })" mono />
                  <FieldsEditField label="Gateway" :value="s.gateway" :save="(t) => site.edit('setGateway', { segmentId: s.id, gateway: t })" mono />
                  <FieldsEditField label="Pool" :value="s.pool ? `${s.pool.first}-${s.pool.last}` : null" :save="(t) => savePool(s, t)" mono />
                  <FieldsEditField label="Lease" type="number" suffix="s" :value="s.leaseSeconds" :save="(t) => change(s.id, { leaseSeconds: Number(t) })" mono />
                  <div class="row"><v-btn size="small" @click="site.edit('allocateSegments', { segmentIds: [s.id] })">Place anew</v-btn><v-btn size="small" variant="text" color="error" @click="site.edit('removeSegment', { id: s.id })">Remove</v-btn></div>
                </div>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <AddressesDeviceAddresses />
  </section>
</template>
