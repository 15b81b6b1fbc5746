<script setup lang="ts">
import { formatAddress, prefix, usableRange } from '@mast/core/addressing'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const ways = [
  { title: 'a DHCP option in management', value: 'dhcp-option' },
  { title: "a name in the site's DNS", value: 'dns-name' },
]
const hosts = useStable(() => [
  ...(site.model?.devices ?? [])
    .filter((d) => site.opened.model.profileOf(d.id).kind === 'controller')
    .map((d) => ({ title: d.name, value: d.id })),
  ...Object.values(site.plan?.peers ?? {})
    .filter((p) => p.networks.some(isIpv4))
    .map((p) => ({ title: `behind ${p.name}, by its tunnel`, value: p.id })),
])
const isIpv4 = (prefix: string): boolean => !prefix.includes(':')
const refused = ref<string | undefined>()
const controller = computed(() => site.opened.plan.controller)
function runOn(id: string): void {
  const peer = site.opened.plan.peers[id]
  const network = peer?.networks.find(isIpv4)
  refused.value = site.edit(
    'setController',
    peer && network
      ? { elsewhere: { peerId: id, address: firstAddress(network) } }
      : { hostDeviceId: id },
  )
}
const firstAddress = (network: string): string =>
  formatAddress({ family: 4, value: usableRange(prefix(network)).first })
const callAt = (address: string): string | undefined =>
  controller.value.elsewhere
    ? site.edit('setController', { elsewhere: { ...controller.value.elsewhere, address } })
    : undefined
</script>

<template>
  <ShellSheetFrame stop="wiring" has-remarks>
    <WiringLoom />
    <WiringNewCable />
    <div v-if="hosts.length" class="row no-print">
      <v-select
        label="The controller runs on"
        style="max-width: 260px"
        :model-value="controller.hostDeviceId ?? controller.elsewhere?.peerId"
        :items="hosts"
        @update:model-value="runOn"
      />
      <FieldsEditField
        v-if="controller.elsewhere"
        label="Its address there"
        :value="controller.elsewhere.address"
        :save="callAt"
        mono
      />
      <v-select
        label="Devices learn of it by"
        style="max-width: 260px"
        :model-value="site.opened.plan.controller.discovery"
        :items="ways"
        @update:model-value="(discovery) => site.edit('setController', { discovery })"
      />
    </div>
    <Refusal :says="refused" />
    <WiringPortTable />
    <WiringPowerTable />
  </ShellSheetFrame>
</template>
