<script setup lang="ts">
/** One profile of the plan's own, all of it. */
import {
  abilities,
  deviceKinds,
  radiosInWords,
  readRadios,
  type Ability,
  type Profile,
} from '@mast/core/plan'

const props = defineProps<{
  profile: Profile
  /** Devices of it; while there are some, its kind and the names of its sockets stay. */ used: number
}>()
const site = useSite()
const refused = ref<string | undefined>()
const change = (changes: Partial<Profile>): string | undefined =>
  site.edit('changeProfile', { id: props.profile.id, changes })
/** For controls that have no place of their own for a reason. */
const set = (changes: Partial<Profile>): void => {
  refused.value = change(changes)
}
const setRadios = (text: string): string | undefined => {
  const read = readRadios(text)
  return read.ok ? change({ air: read.value }) : read.reason
}
const number = (t: string): number | null => (t === '' ? null : Number(t))
const limits = (changes: Partial<Profile['limits']>): string | undefined =>
  change({ limits: { ...props.profile.limits, ...changes } })
const capacities = ['gateway', 'switch', 'access-point', 'bridge-radio'] as const
const holds = (kind: (typeof capacities)[number], t: string): string | undefined =>
  limits({ controllerCapacity: { ...props.profile.limits.controllerCapacity!, [kind]: Number(t) } })
const vlans = [
  { title: 'assigns them by socket', value: 'managed' },
  { title: 'passes tags on', value: 'transparent' },
  { title: 'drops tagged frames', value: 'unaware' },
  { title: 'is a host', value: 'none' },
]
const allocations = [
  { title: 'by class', value: 'class' },
  { title: 'as asked over LLDP', value: 'lldp' },
  { title: 'as measured', value: 'measured' },
]
const abilityWords: Readonly<Record<Ability, string>> = {
  'spanning-tree': 'runs a spanning tree',
  'lease-guard': 'refuses stray lease servers',
  'router-guard': 'refuses stray routers',
  'edge-guard': 'closes to bridges',
  'storm-limit': 'limits broadcasts',
  neighbours: 'tells its neighbours',
  monitoring: 'can be watched',
  'remote-log': 'sends its log',
}
const able = abilities.map((value) => ({ value, title: abilityWords[value] }))
const systems = [
  { title: 'Linux', value: 'linux' },
  { title: 'its own', value: 'own' },
]
const leases = [
  { title: 'hands out leases', value: 'server' },
  { title: 'asks for a lease', value: 'client' },
  { title: 'neither', value: 'none' },
]
</script>

<template>
  <div class="fields">
    <InTurns>
      <FieldsEditField
        label="Name of the profile"
        :value="profile.name"
        :save="(name) => change({ name })"
      />
      <v-select
        label="Kind of device"
        :disabled="used > 0"
        :model-value="profile.kind"
        :items="[...deviceKinds]"
        @update:model-value="(kind) => set({ kind })"
      />
      <v-select
        label="VLANs"
        :model-value="profile.vlan"
        :items="vlans"
        @update:model-value="(vlan) => set({ vlan })"
      />
      <v-checkbox
        label="A controller adopts it"
        :model-value="profile.adoptable"
        @update:model-value="(adoptable) => set({ adoptable: !!adoptable })"
      />
      <FieldsEditField
        label="Radios"
        placeholder="5: ax 2x2 23 dBm 4 dBi"
        :value="radiosInWords(profile.air)"
        :save="setRadios"
        mono
      />
      <FieldsEditField
        label="Draws at the most"
        type="number"
        suffix="W"
        :value="profile.drawW"
        :save="(t) => change({ drawW: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Gives over cables in all"
        type="number"
        suffix="W"
        :value="profile.poeBudgetW"
        :save="(t) => change({ poeBudgetW: number(t) })"
        mono
      />
      <v-select
        v-if="profile.poeBudgetW !== null"
        label="Sets power aside"
        :model-value="profile.poeAllocation"
        :items="allocations"
        @update:model-value="(poeAllocation) => set({ poeAllocation })"
      />
      <v-select
        v-if="profile.kind === 'host' || profile.kind === 'controller'"
        label="Runs"
        :model-value="profile.system"
        :items="systems"
        @update:model-value="(system) => set({ system })"
      />
      <v-select
        v-if="profile.adoptable"
        label="Its settings know"
        multiple
        :model-value="profile.abilities"
        :items="able"
        @update:model-value="(abilities) => set({ abilities })"
      />
      <FieldsEditField
        label="Power class"
        type="number"
        hint="IEEE 802.3, 0 to 8; empty where it takes none"
        :value="profile.poeClass"
        :save="(t) => change({ poeClass: number(t) })"
        mono
      />
      <FieldsEditField
        label="Power lead"
        type="number"
        suffix="m"
        hint="empty where it has none"
        :value="profile.leadM"
        :save="(t) => change({ leadM: number(t) })"
        mono
      />
      <v-select
        label="Hangs or stands on"
        :model-value="profile.mount"
        :items="['rack', 'shelf', 'wall', 'ceiling', 'pole', 'none']"
        @update:model-value="(mount) => set({ mount })"
      />
      <FieldsEditField
        label="Shape of serials"
        :value="profile.serialShape"
        hint="? a letter, # a digit"
        :save="(t) => change({ serialShape: t ? t.toUpperCase() : null })"
        mono
      />
      <FieldsEditField
        label="Factory address"
        :value="profile.factory.address"
        hint="with its length"
        :save="(t) => change({ factory: { ...profile.factory, address: t || null } })"
        mono
      />
      <v-select
        label="When new it"
        :model-value="profile.factory.dhcp"
        :items="leases"
        @update:model-value="(dhcp) => set({ factory: { ...profile.factory, dhcp } })"
      />
      <FieldsEditField
        label="Factory account"
        :value="profile.factory.account"
        :save="(t) => change({ factory: { ...profile.factory, account: t || null } })"
      />
      <FieldsEditField
        label="Firmware it comes with"
        :value="profile.firmware.shipped"
        :save="(t) => change({ firmware: { ...profile.firmware, shipped: t } })"
        mono
      />
      <FieldsEditField
        label="Firmware wanted"
        :value="profile.firmware.wanted"
        :save="(t) => change({ firmware: { ...profile.firmware, wanted: t } })"
        mono
      />
      <FieldsEditField
        label="Firmware at the least"
        :value="profile.firmware.minimum"
        :save="(t) => change({ firmware: { ...profile.firmware, minimum: t } })"
        mono
      />
      <FieldsEditField
        label="Starts in"
        type="number"
        suffix="s"
        :value="profile.waits.bootSeconds"
        :save="(t) => change({ waits: { ...profile.waits, bootSeconds: Number(t) } })"
        mono
      />
      <FieldsEditField
        label="Writes firmware in"
        type="number"
        suffix="s"
        :value="profile.waits.firmwareSeconds"
        :save="(t) => change({ waits: { ...profile.waits, firmwareSeconds: Number(t) } })"
        mono
      />
      <FieldsEditField
        label="Applies settings in"
        type="number"
        suffix="s"
        :value="profile.waits.applySeconds"
        :save="(t) => change({ waits: { ...profile.waits, applySeconds: Number(t) } })"
        mono
      />
      <FieldsEditField
        label="Throughput, plain"
        type="number"
        suffix="Mbit/s"
        :value="profile.limits.plainMbps"
        :save="(t) => limits({ plainMbps: number(t) })"
        mono
      />
      <FieldsEditField
        label="Throughput, inspected"
        type="number"
        suffix="Mbit/s"
        :value="profile.limits.inspectedMbps"
        :save="(t) => limits({ inspectedMbps: number(t) })"
        mono
      />
      <FieldsEditField
        label="Throughput, tunnelled"
        type="number"
        suffix="Mbit/s"
        :value="profile.limits.tunnelledMbps"
        :save="(t) => limits({ tunnelledMbps: number(t) })"
        mono
      />
      <FieldsEditField
        label="Tunnels at once"
        type="number"
        :value="profile.limits.tunnels"
        :save="(t) => limits({ tunnels: number(t) })"
        mono
      />
      <v-checkbox
        label="Can be the controller"
        :model-value="profile.limits.controllerCapacity !== null"
        @update:model-value="
          (can) => {
            refused = limits({
              controllerCapacity: can
                ? { gateway: 10, switch: 50, 'access-point': 100, 'bridge-radio': 20 }
                : null,
            })
          }
        "
      />
      <template v-if="profile.limits.controllerCapacity">
        <FieldsEditField
          v-for="kind in capacities"
          :key="kind"
          :label="`Holds, ${kind}`"
          type="number"
          :value="profile.limits.controllerCapacity[kind]"
          :save="(t) => holds(kind, t)"
          mono
        />
      </template>
    </InTurns>
  </div>
  <Refusal :says="refused" />
  <SurveyProfileSockets :profile="profile" :fixed="used > 0" :change="change" />
  <LazySurveyProfileBridge
    v-if="profile.kind === 'bridge-radio'"
    :profile="profile"
    :change="change"
  />
  <SurveyProfileLicences :profile="profile" :change="change" />
  <SurveyProfileLights :profile="profile" :change="change" />
</template>
