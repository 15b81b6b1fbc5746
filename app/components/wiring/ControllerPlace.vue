<script setup lang="ts">
/** Where the controller is, whether it is always on, who knows its accounts, how devices learn of it. */
import { formatAddress, prefix, usableRange } from '@mast/core/addressing'

const site = useSite()
const discoveries = [
  { title: 'a DHCP option in management', value: 'dhcp-option' },
  { title: "a name in the site's DNS", value: 'dns-name' },
]
const hours = [
  { title: 'always', value: 'always' },
  { title: 'only when somebody needs it', value: 'when-needed' },
]
const accounts = [
  { title: 'in the controller itself', value: 'local' },
  { title: 'with a service on the internet', value: 'hosted' },
]
const HOSTED = 'hosted'
const isIpv4 = (network: string): boolean => !network.includes(':')
const places = useStable(() => {
  const { model } = site
  const devices = model?.devices ?? []
  const limits = (id: string) => site.opened.model.profileOf(id).limits.controllerCapacity
  const kindOf = (id: string): string => site.opened.model.profileOf(id).kind
  return [
    ...devices
      .filter((d) => kindOf(d.id) === 'controller')
      .map((d) => ({ title: d.name, value: d.id })),
    ...devices
      .filter((d) => kindOf(d.id) === 'gateway' && limits(d.id))
      .map((d) => ({ title: `inside ${d.name}`, value: d.id })),
    ...Object.values(site.plan?.peers ?? {})
      .filter((p) => p.networks.some(isIpv4))
      .map((p) => ({ title: `behind ${p.name}, by its tunnel`, value: p.id })),
    ...(devices.some((d) => site.opened.model.profileOf(d.id).adoptable)
      ? [{ title: 'a host on the internet', value: HOSTED }]
      : []),
  ]
})
const refused = ref<string | undefined>()
const controller = computed(() => site.opened.plan.controller)
/** Chosen, and its name not typed yet. */
const wantsName = ref(false)
const at = computed(() =>
  wantsName.value || controller.value.hosted
    ? HOSTED
    : (controller.value.hostDeviceId ?? controller.value.elsewhere?.peerId),
)
function runOn(id: string): void {
  wantsName.value = id === HOSTED && !controller.value.hosted
  if (id === HOSTED) return
  const network = site.opened.plan.peers[id]?.networks.find(isIpv4)
  refused.value = site.edit(
    'setController',
    network ? { elsewhere: { peerId: id, address: firstAddress(network) } } : { hostDeviceId: id },
  )
}
const firstAddress = (network: string): string =>
  formatAddress({ family: 4, value: usableRange(prefix(network)).first })
const callAt = (address: string): string | undefined =>
  controller.value.elsewhere
    ? site.edit('setController', { elsewhere: { ...controller.value.elsewhere, address } })
    : undefined
function named(name: string): string | undefined {
  if (name === '') return 'a name is wanted, for example fleet.example.net'
  const isNew = !controller.value.hosted
  const said = site.edit('setController', { hosted: { name }, ...(isNew ? { port: 443 } : {}) })
  if (!said) wantsName.value = false
  return said
}
const BOOTSTRAP_PORT = 8543
const serve = (isOn: boolean | null): void => {
  refused.value = site.edit('setController', {
    bootstrap: isOn ? { port: BOOTSTRAP_PORT, passTo: null } : null,
  })
}
const serveOn = (text: string): string | undefined =>
  site.edit('setController', {
    bootstrap: { ...controller.value.bootstrap!, port: Number(text) },
  })
function passOn(text: string): string | undefined {
  const [host, port, ...more] = text.split(':')
  if (text !== '' && (more.length > 0 || !Number(port)))
    return 'a name or address with its port, for example start.example.net:443'
  return site.edit('setController', {
    bootstrap: {
      ...controller.value.bootstrap!,
      passTo: text === '' ? null : { host: host!, port: Number(port) },
    },
  })
}
const passedTo = computed(() => {
  const to = controller.value.bootstrap?.passTo
  return to ? `${to.host}:${to.port}` : null
})
const onPort = (text: string): string | undefined =>
  site.edit('setController', { port: Number(text) })
</script>

<template>
  <div v-if="places.length" class="row place no-print" role="group" aria-label="Controller">
    <v-select
      label="The controller runs on"
      style="min-width: 210px; max-width: 260px"
      :model-value="at"
      :items="places"
      @update:model-value="runOn"
    />
    <template v-if="at">
      <FieldsEditField
        v-if="controller.elsewhere"
        label="Its address there"
        :value="controller.elsewhere.address"
        :save="callAt"
        mono
      />
      <FieldsEditField
        v-if="at === HOSTED"
        label="Its name there"
        :value="controller.hosted?.name ?? null"
        :save="named"
        mono
      />
      <FieldsEditField
        label="Port"
        type="number"
        style="max-width: 110px"
        :value="controller.port"
        :save="onPort"
        mono
      />
      <v-select
        label="Devices learn of it by"
        style="max-width: 260px"
        :model-value="controller.discovery"
        :items="discoveries"
        @update:model-value="(discovery) => site.edit('setController', { discovery })"
      />
      <v-select
        v-if="controller.hostDeviceId || controller.elsewhere"
        label="It is on"
        style="max-width: 240px"
        :model-value="controller.runs"
        :items="hours"
        @update:model-value="(runs) => site.edit('setController', { runs })"
      />
      <v-select
        label="Accounts are kept"
        style="max-width: 260px"
        :model-value="controller.accounts"
        :items="accounts"
        @update:model-value="(kept) => site.edit('setController', { accounts: kept })"
      />
      <v-checkbox
        label="Devices set themselves up from their box (RFC 8572)"
        density="compact"
        hide-details
        :model-value="controller.bootstrap !== null"
        @update:model-value="serve"
      />
      <template v-if="controller.bootstrap">
        <FieldsEditField
          label="They ask at port"
          type="number"
          style="max-width: 160px"
          :value="controller.bootstrap.port"
          :save="serveOn"
          mono
        />
        <FieldsEditField
          label="And are passed on to"
          style="max-width: 240px"
          :value="passedTo"
          :save="passOn"
          mono
        />
      </template>
    </template>
  </div>
  <Refusal :says="refused" />
</template>

<style scoped>
.place {
  margin-top: 12px;
}
</style>
