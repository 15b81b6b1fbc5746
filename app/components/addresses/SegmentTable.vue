<script setup lang="ts">
import { chosenDuration } from '@mast/core/words'
import {
  explainSpan,
  explainSubnet,
  formatPrefix,
  parsePrefix,
  spanSize,
  usableHosts,
  yearsUntilFull,
} from '@mast/core/addressing'
import { segmentPurposes, type Segment } from '@mast/core/plan'
import { idFor } from '@mast/core/formats'
import { strandOf } from '~/components/drawing/strands'

const site = useSite()
const adding = ref(false)
const draft = reactive({
  name: '',
  purpose: 'staff' as Segment['purpose'],
  vlanId: '',
  expectedHosts: '20',
  growthPercent: '50',
})
const refused = ref<string | undefined>()
const purposes = [...segmentPurposes]
const leaseSources = [
  { title: 'the gateway', value: 'server' },
  { title: 'a server elsewhere, relayed', value: 'relay' },
  { title: 'nobody', value: 'off' },
] as const
const usual: Record<string, number> = {
  management: 10,
  staff: 20,
  payments: 30,
  cameras: 40,
  voice: 50,
  instruments: 60,
  servers: 70,
  guests: 90,
}
watch(
  () => draft.purpose,
  (p) => {
    draft.vlanId = String(usual[p] ?? '')
  },
  { immediate: true },
)
const { shown, rest, more, reach } = useShownRows(() => site.opened.model.segments)
watch(
  () => site.selected,
  (id) => reach(site.opened.model.segments.findIndex((s) => s.id === id)),
)

function add(): void {
  refused.value = site.edit('addSegment', {
    id: idFor(
      draft.name,
      new Set([
        ...Object.keys(site.opened.plan.segments),
        ...Object.keys(site.opened.plan.devices),
        ...Object.keys(site.opened.plan.locations),
      ]),
    ),
    name: draft.name,
    purpose: draft.purpose,
    vlanId: Number(draft.vlanId),
    expectedHosts: Number(draft.expectedHosts),
    growthPercent: Number(draft.growthPercent),
    leaseSeconds: draft.purpose === 'guests' ? 14_400 : 86_400,
  })
  if (!refused.value) {
    draft.name = ''
    adding.value = false
  }
}
const change = (id: string, changes: object): string | undefined =>
  site.edit('changeSegment', { id, changes })
const hosts = (s: Segment): string => {
  const p = s.subnet ? parsePrefix(s.subnet) : undefined
  return p ? String(usableHosts(p)) : ''
}
const poolSize = (s: Segment): number => s.pools.reduce((n, p) => n + Math.max(0, spanSize(p)), 0)
function saveSubnet(s: Segment, text: string): string | undefined {
  if (text === '') return site.edit('setSubnet', { segmentId: s.id, subnet: null })
  const read = explainSubnet(text)
  return read.ok
    ? site.edit('setSubnet', { segmentId: s.id, subnet: formatPrefix(read.value) })
    : read.reason
}
function savePools(s: Segment, text: string): string | undefined {
  const read = text
    .split(/[,;]+/)
    .filter((t) => t.trim())
    .map(explainSpan)
  const bad = read.find((r) => !r.ok)
  return bad && !bad.ok
    ? bad.reason
    : site.edit('setPools', {
        segmentId: s.id,
        pools: read.flatMap((r) => (r.ok ? [r.value] : [])),
      })
}
const pools = (s: Segment): string => s.pools.map((p) => `${p.first}-${p.last}`).join(', ')
const short = (s: Segment): string =>
  s.pools.map((p) => `${p.first}-${p.last.split('.').slice(-1)}`).join(', ')
function fullIn(s: Segment): string {
  if (s.pools.length === 0) return ''
  const years = yearsUntilFull(
    s.expectedHosts,
    poolSize(s),
    s.growthPercent,
    site.opened.plan.site.preferences.growthYears,
  )
  return years === Infinity
    ? 'never'
    : years === 0
      ? 'full now'
      : years > 50
        ? 'over 50 years'
        : `${years < 10 ? years.toFixed(1) : Math.round(years)} years`
}
const list = (text: string): string[] => text.split(/[,;\s]+/).filter(Boolean)
function saveRoutes(s: Segment, text: string): string | undefined {
  const routes = text
    .split(/[,;]+/)
    .filter((t) => t.trim())
    .map((t) => {
      const [to = '', via = ''] = t.trim().split(/\s+via\s+|\s+/)
      return { to, via }
    })
  return change(s.id, { options: { ...s.options, routes } })
}
const relay = (s: Segment, mode: Segment['dhcp']['mode']): string | undefined =>
  change(s.id, {
    dhcp: { mode, relayTo: mode === 'relay' ? (s.dhcp.relayTo ?? s.gateway ?? '0.0.0.0') : null },
  })
</script>

<template>
  <section aria-label="Segments">
    <div class="row spread">
      <h2>
        Segments <span class="faint">{{ site.opened.model.segments.length }}</span>
      </h2>
      <v-btn class="no-print" size="small" @click="adding = !adding">Add a segment</v-btn>
    </div>
    <form v-if="adding" class="in-place fields" @submit.prevent="add">
      <InTurns>
        <v-text-field v-model="draft.name" label="Segment name" autofocus />
        <v-select v-model="draft.purpose" label="Purpose" :items="purposes" />
        <v-text-field v-model="draft.vlanId" label="VLAN id" type="number" />
        <v-text-field
          v-model="draft.expectedHosts"
          label="Hosts at the busiest time"
          type="number"
        />
        <v-text-field v-model="draft.growthPercent" label="Growth" type="number" suffix="%" />
        <v-btn type="submit" color="primary" :disabled="!draft.name.trim()">Add segment</v-btn>
        <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
      </InTurns>
    </form>
    <p v-if="site.opened.model.segments.length === 0" class="lead">
      No segment yet. A site usually starts with management, the staff and the guests; say how many
      hosts each will see, then allocate them. An address plan that exists can be read in below.
    </p>
    <div v-else class="scroll-x">
      <table class="plain">
        <thead>
          <tr>
            <th />
            <th>VLAN</th>
            <th>Segment</th>
            <th>Purpose</th>
            <th>Subnet</th>
            <th>Gateway</th>
            <th>Pool</th>
            <th>Hosts</th>
            <th title="Until the hosts, growing as planned, fill the pool">Full in</th>
            <th>Lease</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="s in shown" :key="s.id">
            <tr
              :class="{ selected: site.selected === s.id || site.pointed.includes(s.id) }"
              tabindex="0"
              @click="site.selected = s.id"
              @keydown.enter="site.selected = s.id"
            >
              <td>
                <svg width="26" height="8" aria-hidden="true">
                  <line
                    x1="0"
                    x2="26"
                    y1="4"
                    y2="4"
                    stroke-width="3"
                    :stroke="strandOf(site.opened.model.segments, s.id).colour"
                    :stroke-dasharray="strandOf(site.opened.model.segments, s.id).dash"
                  />
                </svg>
              </td>
              <td class="mono">{{ s.vlanId }}</td>
              <td>{{ s.name }}</td>
              <td>{{ s.purpose }}</td>
              <td class="mono">
                {{ s.subnet ?? 'not placed' }}<span v-if="s.locked" class="faint"> locked</span>
                <div v-if="s.subnet6" class="six">{{ s.subnet6 }}</div>
              </td>
              <td class="mono">{{ s.gateway ?? '' }}</td>
              <td class="mono">
                {{
                  s.dhcp.mode === 'server'
                    ? short(s)
                    : s.dhcp.mode === 'relay'
                      ? `relayed to ${s.dhcp.relayTo}`
                      : 'no leases'
                }}
              </td>
              <td class="mono" :title="`${s.expectedHosts} expected, ${hosts(s)} possible`">
                {{ s.expectedHosts }}/{{ hosts(s) || '?' }}
              </td>
              <td
                class="mono"
                :title="
                  `ln(${poolSize(s)} / ${s.expectedHosts}) / ln(1 + yearly growth); ` +
                  `${s.growthPercent} % over ${site.opened.plan.site.preferences.growthYears} years`
                "
              >
                {{ fullIn(s) }}
              </td>
              <td class="mono">{{ chosenDuration(s.leaseSeconds) }}</td>
            </tr>
            <tr v-if="site.selected === s.id">
              <td colspan="10" style="height: auto">
                <div class="in-place fields">
                  <InTurns>
                    <FieldsEditField
                      label="Name"
                      :value="s.name"
                      :save="(name) => change(s.id, { name })"
                    />
                    <v-select
                      label="Purpose"
                      :model-value="s.purpose"
                      :items="purposes"
                      @update:model-value="(purpose) => change(s.id, { purpose })"
                    />
                    <FieldsEditField
                      label="VLAN id"
                      type="number"
                      :value="s.vlanId"
                      :save="(t) => change(s.id, { vlanId: Number(t) })"
                      mono
                    />
                    <FieldsEditField
                      label="Hosts at the busiest time"
                      type="number"
                      :value="s.expectedHosts"
                      :save="(t) => change(s.id, { expectedHosts: Number(t) })"
                      mono
                    />
                    <FieldsEditField
                      label="Growth"
                      type="number"
                      suffix="%"
                      :value="s.growthPercent"
                      :save="(t) => change(s.id, { growthPercent: Number(t) })"
                      mono
                    />
                    <FieldsEditField
                      label="Subnet"
                      :value="s.subnet"
                      :save="(t) => saveSubnet(s, t)"
                      mono
                    />
                    <FieldsEditField
                      label="Gateway"
                      :value="s.gateway"
                      :save="(t) => site.edit('setGateway', { segmentId: s.id, gateway: t })"
                      mono
                    />
                    <FieldsEditField
                      label="Pool"
                      :value="pools(s) || null"
                      hint="several with commas between"
                      :save="(t) => savePools(s, t)"
                      mono
                    />
                    <v-select
                      label="Leases come from"
                      :model-value="s.dhcp.mode"
                      :items="leaseSources"
                      @update:model-value="(mode) => relay(s, mode)"
                    />
                    <FieldsEditField
                      v-if="s.dhcp.mode === 'relay'"
                      label="Relayed to"
                      :value="s.dhcp.relayTo"
                      :save="(t) => change(s.id, { dhcp: { mode: 'relay', relayTo: t } })"
                      mono
                    />
                    <FieldsEditField
                      label="Lease"
                      type="number"
                      suffix="s"
                      :value="s.leaseSeconds"
                      :save="(t) => change(s.id, { leaseSeconds: Number(t) })"
                      mono
                    />
                    <FieldsEditField
                      label="IPv6 subnet"
                      :value="s.subnet6"
                      :save="(t) => change(s.id, { subnet6: t || null })"
                      mono
                    />
                    <FieldsEditField
                      label="Name servers"
                      :value="s.options.nameServers.join(', ')"
                      hint="empty: the gateway"
                      :save="
                        (t) => change(s.id, { options: { ...s.options, nameServers: list(t) } })
                      "
                      mono
                    />
                    <FieldsEditField
                      label="Time servers"
                      :value="s.options.timeServers.join(', ')"
                      :save="
                        (t) => change(s.id, { options: { ...s.options, timeServers: list(t) } })
                      "
                      mono
                    />
                    <FieldsEditField
                      label="Routes told to hosts"
                      :value="s.options.routes.map((r) => `${r.to} via ${r.via}`).join(', ')"
                      hint="10.9.0.0/16 via 10.2.20.9"
                      :save="(t) => saveRoutes(s, t)"
                      mono
                    />
                    <FieldsEditField
                      label="Aligned to"
                      :value="s.alignLength"
                      type="number"
                      hint="a prefix length; empty for its own"
                      :save="(t) => change(s.id, { alignLength: t ? Number(t) : null })"
                      mono
                    />
                    <v-checkbox
                      label="Locked in place"
                      :model-value="s.locked"
                      @update:model-value="(locked) => change(s.id, { locked: !!locked })"
                    />
                    <div class="row">
                      <v-btn
                        size="small"
                        :disabled="s.locked"
                        @click="refused = site.edit('allocateSegments', { segmentIds: [s.id] })"
                        >Place anew</v-btn
                      ><v-btn
                        size="small"
                        variant="text"
                        color="error"
                        @click="site.edit('removeSegment', { id: s.id })"
                        >Remove</v-btn
                      >
                    </div>
                    <p
                      v-if="refused"
                      class="mark blockers"
                      role="alert"
                      style="white-space: normal"
                    >
                      {{ refused }}
                    </p>
                  </InTurns>
                </div>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="segments" @more="more" />
    </div>
  </section>
</template>

<style scoped>
.six {
  font-size: 12px;
  color: var(--faint);
}
</style>
