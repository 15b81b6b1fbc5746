<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
const site = useSite()
const ways = [
  { title: 'a DHCP option in management', value: 'dhcp-option' },
  { title: "a name in the site's DNS", value: 'dns-name' },
]
const hosts = useStable(() =>
  (site.model?.devices ?? [])
    .filter((d) => site.opened.model.profileOf(d.id).kind === 'controller')
    .map((d) => ({ title: d.name, value: d.id })),
)
</script>

<template>
  <ShellSheetFrame stop="wiring" has-remarks>
    <WiringLoom />
    <WiringNewCable />
    <div v-if="hosts.length" class="row no-print">
      <v-select
        label="The controller runs on"
        style="max-width: 260px"
        :model-value="site.opened.plan.controller.hostDeviceId"
        :items="hosts"
        @update:model-value="(hostDeviceId) => site.edit('setController', { hostDeviceId })"
      />
      <v-select
        label="Devices learn of it by"
        style="max-width: 260px"
        :model-value="site.opened.plan.controller.discovery"
        :items="ways"
        @update:model-value="(discovery) => site.edit('setController', { discovery })"
      />
    </div>
    <WiringPortTable />
    <WiringPowerTable />
  </ShellSheetFrame>
</template>
