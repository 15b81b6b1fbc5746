<script setup lang="ts">
import { formatPrefix, pickSpace } from '@mast/core/addressing'
import { foreignPrefixes } from '@mast/core/plan'

const site = useSite()
const facts = computed(() => site.plan!.site)
const save = (text: string): string | undefined => site.edit('setAddressSpace', { addressSpace: text.split(/[,\s]+/).filter(Boolean) })
const prefer = (preferences: object): void => void site.edit('changeSite', { preferences })
function pick(): void {
  const found = pickSpace(foreignPrefixes(site.plan!))
  if (found) save(formatPrefix(found))
}
const why = {
  'third-octet': 'Easy to read aloud: VLAN 20 is x.y.20.0. Costs a whole /24 for each segment.',
  'free': 'Segments are packed by size; nothing is wasted, the numbers say less.',
}
</script>

<template>
  <div class="fields space no-print">
    <div class="row nowrap"><FieldsEditField label="Address space" :value="facts.addressSpace.join(', ')" :save="save" mono /><v-btn size="small" title="A private space that collides with nothing known here" @click="pick">Pick one</v-btn></div>
    <v-select label="Numbering" :model-value="facts.preferences.vlanNumbering" :items="[{ title: 'VLAN id is the third octet', value: 'third-octet' }, { title: 'packed by size', value: 'free' }]" :hint="why[facts.preferences.vlanNumbering]" persistent-hint @update:model-value="(vlanNumbering) => prefer({ vlanNumbering })" />
    <v-select label="Gateway" :model-value="facts.preferences.gatewayPosition" :items="[{ title: 'first usable address', value: 'first' }, { title: 'last usable address', value: 'last' }]" hint="Either works; one habit for all sites is what matters." persistent-hint @update:model-value="(gatewayPosition) => prefer({ gatewayPosition })" />
  </div>
</template>

<style scoped>
.space { grid-template-columns: repeat(auto-fill, minmax(260px, 1fr)); margin-bottom: 12px; } .nowrap { flex-wrap: nowrap; align-items: flex-start; }
</style>
