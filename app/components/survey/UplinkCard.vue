<script setup lang="ts">
import { gateFacts, mayUnplug } from '@mast/core/bringup'
import type { HandOff, Uplink } from '@mast/core/plan'

const props = defineProps<{ uplink: Uplink }>()
const site = useSite()
const h = computed(() => props.uplink.handOff)
const facts = computed(() => gateFacts(props.uplink))
const known = computed(() => facts.value.filter((f) => f.known).length)
const open = computed(() => mayUnplug(props.uplink))
const record = (f: Partial<HandOff>): string | undefined => site.edit('recordHandOff', { uplinkId: props.uplink.id, facts: f })
const number = (text: string): number | null => (text === '' ? null : Number(text))
const tagKind = computed(() => (h.value.vlan === null ? null : h.value.vlan === 'untagged' ? 'untagged' : 'tagged'))
const lanKind = computed(() => (h.value.providerLan === null ? null : h.value.providerLan === 'none' ? 'none' : 'known'))
const unknown = { title: 'not known yet', value: null }
</script>

<template>
  <section class="handoff" aria-label="Hand-off">
    <div class="gate keep" :class="{ open }" role="status">
      <svg width="150" height="84" viewBox="0 0 150 84" aria-hidden="true">
        <path d="M8 60 H58 M92 60 H142" stroke="currentColor" stroke-width="2" />
        <rect v-if="!open" x="60" y="14" width="30" height="52" fill="none" stroke="currentColor" stroke-width="2" />
        <path v-if="!open" d="M60 24 H90 M60 34 H90 M60 44 H90 M60 54 H90" stroke="currentColor" stroke-width="1" />
        <path v-else d="M60 60 H90 M60 66 V14 M90 66 V14 M60 14 L44 22 M90 14 L106 22" stroke="currentColor" stroke-width="2" />
        <text x="8" y="78" font-size="10" fill="currentColor">old line</text><text x="104" y="78" font-size="10" fill="currentColor">gateway</text>
      </svg>
      <div>
        <p class="verdict label">{{ open ? 'Gate open: the old line may be unplugged' : 'Gate shut: do not unplug the old line' }}</p>
        <p class="faint">{{ known }} of {{ facts.length }} facts of {{ uplink.name }} are known.</p>
        <ul v-if="!open" class="missing"><li v-for="f in facts.filter((x) => !x.known)" :key="f.key"><b>{{ f.label }}</b> <span class="faint">{{ f.where }}</span></li></ul>
      </div>
    </div>
    <div class="fields">
      <FieldsEditField label="Line" :value="uplink.name" :save="(name) => site.edit('changeUplink', { id: uplink.id, changes: { name } })" />
      <v-select label="Address given" :model-value="h.mode" :items="[unknown, { title: 'automatic (DHCP)', value: 'automatic' }, { title: 'fixed', value: 'fixed' }]" @update:model-value="(mode) => record({ mode })" />
      <v-select label="Tag on the hand-off" :model-value="tagKind" :items="[unknown, { title: 'no tag', value: 'untagged' }, { title: 'a VLAN tag', value: 'tagged' }]" @update:model-value="(k) => record({ vlan: k === 'tagged' ? 10 : k === 'untagged' ? k : null })" />
      <FieldsEditField v-if="tagKind === 'tagged'" label="VLAN tag" type="number" :value="h.vlan" :save="(t) => record({ vlan: number(t) })" mono />
      <FieldsEditField v-if="tagKind !== 'untagged'" label="802.1p priority" type="number" :value="h.priority" :save="(t) => record({ priority: number(t) })" mono />
      <FieldsEditField label="MTU" type="number" :value="h.mtu" suffix="octets" :save="(t) => record({ mtu: number(t) })" mono />
      <v-select label="Kind of address" :model-value="h.addressKind" :items="[unknown, { title: 'public', value: 'public' }, { title: 'carrier-grade NAT', value: 'carrier-grade' }, { title: 'private, behind their router', value: 'private' }]" @update:model-value="(addressKind) => record({ addressKind })" />
      <template v-if="h.mode === 'fixed'">
        <FieldsEditField label="Our address" :value="h.address" hint="with its length, 203.0.113.10/29" :save="(t) => record({ address: t || null })" mono />
        <FieldsEditField label="Their gateway" :value="h.gateway" :save="(t) => record({ gateway: t || null })" mono />
        <FieldsEditField label="Name servers" :value="h.nameServers.join(', ')" :save="(t) => record({ nameServers: t.split(/[,\s]+/).filter(Boolean) })" mono />
      </template>
      <v-select label="LAN on their router" :model-value="lanKind" :items="[unknown, { title: 'none, a plain modem', value: 'none' }, { title: 'a subnet', value: 'known' }]" @update:model-value="(k) => record({ providerLan: k === 'known' ? '192.168.1.0/24' : k })" />
      <FieldsEditField v-if="lanKind === 'known'" label="Their LAN" :value="h.providerLan" :save="(t) => record({ providerLan: t || null })" mono />
      <FieldsEditField label="Pinned hardware address" :value="h.pinnedHardwareAddress" hint="none, or the address" :save="(t) => record({ pinnedHardwareAddress: t ? t.toLowerCase() : null })" mono />
      <FieldsEditField label="Down" type="number" :value="h.downMbps" suffix="Mbit/s" :save="(t) => record({ downMbps: number(t) })" mono />
      <FieldsEditField label="Up" type="number" :value="h.upMbps" suffix="Mbit/s" :save="(t) => record({ upMbps: number(t) })" mono />
    </div>
  </section>
</template>

<style scoped>
.gate { display: flex; gap: 16px; align-items: flex-start; color: var(--blocker); border: 1px solid currentColor; padding: 10px 14px; margin-bottom: 14px; }
.gate.open { color: var(--proven); }
.gate p, .gate ul { color: var(--ink); margin: 0; } .verdict { font-size: 17px; font-weight: 600; color: inherit !important; }
.gate .faint { color: var(--faint); }
.missing { padding-left: 18px; margin-top: 6px !important; font-size: 13.5px; }
@media (max-width: 600px) { .gate svg { display: none; } }
</style>
