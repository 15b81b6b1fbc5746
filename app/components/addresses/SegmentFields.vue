<script setup lang="ts">
/** The fields of one segment, beneath its row. */
import { explainSpan, explainSubnet, formatPrefix } from '@mast/core/addressing'
import { segmentPurposes, type Segment } from '@mast/core/plan'
import { chosenDuration, explainDuration } from '@mast/core/words'

const props = defineProps<{ s: Segment }>()
const site = useSite()
const refused = ref<string | undefined>()
const leaseSources = [
  { title: 'the gateway', value: 'server' },
  { title: 'a server elsewhere, relayed', value: 'relay' },
  { title: 'nobody', value: 'off' },
] as const
const change = (changes: object): string | undefined =>
  site.edit('changeSegment', { id: props.s.id, changes })
function saveSubnet(text: string): string | undefined {
  if (text === '') return site.edit('setSubnet', { segmentId: props.s.id, subnet: null })
  const read = explainSubnet(text)
  return read.ok
    ? site.edit('setSubnet', { segmentId: props.s.id, subnet: formatPrefix(read.value) })
    : read.reason
}
function savePools(text: string): string | undefined {
  const read = text
    .split(/[,;]+/)
    .filter((t) => t.trim())
    .map(explainSpan)
  const bad = read.find((r) => !r.ok)
  return bad && !bad.ok
    ? bad.reason
    : site.edit('setPools', {
        segmentId: props.s.id,
        pools: read.flatMap((r) => (r.ok ? [r.value] : [])),
      })
}
const pools = computed(() => props.s.pools.map((p) => `${p.first}-${p.last}`).join(', '))
const list = (text: string): string[] => text.split(/[,;\s]+/).filter(Boolean)
function saveRoutes(text: string): string | undefined {
  const routes = text
    .split(/[,;]+/)
    .filter((t) => t.trim())
    .map((t) => {
      const [to = '', via = ''] = t.trim().split(/\s+via\s+|\s+/)
      return { to, via }
    })
  return change({ options: { ...props.s.options, routes } })
}
/** A relay is one once it is known where it passes requests on to. */
const { kind: source, await: wait } = useChosenKind<Segment['dhcp']['mode']>(
  () => props.s.dhcp.mode,
)
function setSource(mode: Segment['dhcp']['mode']): void {
  if (mode === 'relay' && props.s.dhcp.relayTo === null) return wait(mode)
  wait(null)
  refused.value = change({
    dhcp: { mode, relayTo: mode === 'relay' ? props.s.dhcp.relayTo : null },
  })
}
function saveLease(text: string): string | undefined {
  const read = explainDuration(text)
  return read.ok ? change({ leaseSeconds: read.value }) : read.reason
}
</script>

<template>
  <InTurns>
    <FieldsEditField label="Name" :value="s.name" :save="(name) => change({ name })" />
    <v-select
      label="Purpose"
      :model-value="s.purpose"
      :items="[...segmentPurposes]"
      @update:model-value="(purpose) => change({ purpose })"
    />
    <FieldsEditField
      label="VLAN id"
      type="number"
      :value="s.vlanId"
      :save="(t) => change({ vlanId: Number(t) })"
      mono
    />
    <FieldsEditField
      label="Hosts at the busiest time"
      type="number"
      :value="s.expectedHosts"
      :save="(t) => change({ expectedHosts: Number(t) })"
      mono
    />
    <FieldsEditField
      label="Growth"
      type="number"
      suffix="%"
      :value="s.growthPercent"
      :save="(t) => change({ growthPercent: Number(t) })"
      mono
    />
    <FieldsEditField label="Subnet" :value="s.subnet" :save="(t) => saveSubnet(t)" mono />
    <FieldsEditField
      label="Gateway"
      :value="s.gateway"
      :save="(t) => site.edit('setGateway', { segmentId: s.id, gateway: t })"
      mono
    />
    <FieldsEditField
      label="Pool"
      :value="pools || null"
      hint="several with commas between"
      :save="(t) => savePools(t)"
      mono
    />
    <v-select
      label="Leases come from"
      :model-value="source"
      :items="leaseSources"
      @update:model-value="setSource"
    />
    <FieldsEditField
      v-if="source === 'relay'"
      label="Relayed to"
      :value="s.dhcp.relayTo"
      hint="the server's address"
      :save="(t) => change({ dhcp: { mode: 'relay', relayTo: t } })"
      mono
    />
    <FieldsEditField
      label="Lease"
      :value="chosenDuration(s.leaseSeconds)"
      hint="30 min, 8 h, 1 d"
      :save="saveLease"
      mono
    />
    <FieldsEditField
      label="IPv6 subnet"
      :value="s.subnet6"
      :save="(t) => change({ subnet6: t || null })"
      mono
    />
    <FieldsEditField
      label="Name servers"
      :value="s.options.nameServers.join(', ')"
      hint="empty: the gateway"
      :save="(t) => change({ options: { ...s.options, nameServers: list(t) } })"
      mono
    />
    <FieldsEditField
      label="Time servers"
      :value="s.options.timeServers.join(', ')"
      :save="(t) => change({ options: { ...s.options, timeServers: list(t) } })"
      mono
    />
    <FieldsEditField
      label="Routes told to hosts"
      :value="s.options.routes.map((r) => `${r.to} via ${r.via}`).join(', ')"
      hint="10.9.0.0/16 via 10.2.20.9"
      :save="(t) => saveRoutes(t)"
      mono
    />
    <FieldsEditField
      label="Aligned to"
      :value="s.alignLength"
      type="number"
      hint="a prefix length; empty for its own"
      :save="(t) => change({ alignLength: t ? Number(t) : null })"
      mono
    />
    <v-checkbox
      label="Locked in place"
      :model-value="s.locked"
      @update:model-value="(locked) => change({ locked: !!locked })"
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
    <Refusal :says="refused" />
  </InTurns>
</template>
