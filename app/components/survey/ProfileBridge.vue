<script setup lang="ts">
/** What a radio for bridges can do: typed off its data sheet, or begun from a usual one. */
import {
  addressRuleInWords,
  antennaInWords,
  channelsInWords,
  dishFive,
  readAddressRule,
  readAntenna,
  readChannels,
  readSteps,
  stepsInWords,
  type BridgeUnit,
  type Profile,
} from '@mast/core/plan'

const { profile, change } = defineProps<{
  profile: Profile
  change: (changes: Partial<Profile>) => string | undefined
}>()
const unit = computed(() => profile.bridge)
const refused = ref<string | undefined>()
const set = (changes: Partial<BridgeUnit>): string | undefined =>
  change({ bridge: { ...(unit.value ?? dishFive), ...changes } })
type Read<K extends keyof BridgeUnit> =
  { ok: true; value: BridgeUnit[K] } | { ok: false; reason: string }
const saved = <K extends keyof BridgeUnit>(field: K, read: Read<K>): string | undefined =>
  read.ok ? set({ [field]: read.value }) : read.reason
const steps = ref('')
watch(
  () => unit.value?.steps,
  (list) => {
    steps.value = stepsInWords(list ?? [])
  },
  { immediate: true },
)
function saveSteps(): void {
  if (unit.value && steps.value !== stepsInWords(unit.value.steps))
    refused.value = saved('steps', readSteps(steps.value))
}
const shapes = [
  { title: 'a dish', value: 'dish' },
  { title: 'a sector', value: 'sector' },
  { title: 'all around', value: 'around' },
] as const
const duplexes = [
  { title: 'take turns', value: 'time' },
  { title: 'have a frequency each', value: 'frequency' },
] as const
const settings = [
  { title: 'its buttons', value: 'hand' },
  { title: 'its page', value: 'page' },
  { title: 'a phone', value: 'phone' },
] as const
const distances = [
  { title: 'sets itself', value: 'none' },
  { title: 'a timer, us', value: 'timer-us' },
  { title: 'a timer, m', value: 'timer-m' },
  { title: 'turns power, m', value: 'power-m' },
] as const
</script>

<template>
  <section aria-label="Radio for bridges">
    <h3>Radio for bridges</h3>
    <v-btn v-if="!unit" @click="refused = set({})">Describe it, beginning with a usual dish</v-btn>
    <div v-else class="fields">
      <FieldsEditField
        label="Channels: number and MHz"
        :value="channelsInWords(unit.channels)"
        :save="(t) => saved('channels', readChannels(t))"
        mono
      />
      <FieldsEditField
        label="Widths, MHz"
        :value="unit.widthsMhz.join(' ')"
        :save="(t) => set({ widthsMhz: t.split(/[ ,;]+/).map(Number) })"
        mono
      />
      <FieldsEditField
        label="Least power"
        type="number"
        suffix="dBm"
        :value="unit.leastPowerDbm"
        :save="(t) => set({ leastPowerDbm: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Most power"
        type="number"
        suffix="dBm"
        :value="unit.mostPowerDbm"
        :save="(t) => set({ mostPowerDbm: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Of the rate, data"
        type="number"
        suffix="%"
        :value="Math.round(unit.dataShare * 100)"
        :save="(t) => set({ dataShare: Number(t) / 100 })"
        mono
      />
      <v-select
        label="Both directions"
        :model-value="unit.duplex"
        :items="duplexes"
        @update:model-value="(duplex: BridgeUnit['duplex']) => (refused = set({ duplex }))"
      />
      <v-select
        label="Its antenna is"
        :model-value="unit.antenna.shape"
        :items="shapes"
        @update:model-value="
          (shape: BridgeUnit['antenna']['shape']) =>
            (refused = set({ antenna: { ...unit!.antenna, shape } }))
        "
      />
      <FieldsEditField
        label="Antenna"
        :value="antennaInWords(unit)"
        :save="(t) => saved('antenna', readAntenna(t, unit!.antenna.shape))"
        mono
      />
      <v-select
        label="Distance"
        :model-value="unit.distance.kind"
        :items="distances"
        @update:model-value="
          (kind: BridgeUnit['distance']['kind']) =>
            (refused = set({ distance: { ...unit!.distance, kind } }))
        "
      />
      <v-select
        label="Set by"
        :model-value="unit.setting"
        :items="settings"
        @update:model-value="(setting: BridgeUnit['setting']) => (refused = set({ setting }))"
      />
      <FieldsEditField
        label="Address when set by hand"
        :value="addressRuleInWords(unit)"
        hint="192.168.6.10 + 0 main + 100 far + 1 a channel"
        :save="(t) => saved('address', readAddressRule(t))"
        mono
      />
      <v-checkbox
        label="A display shows role and channel"
        :model-value="unit.hasDisplay"
        @update:model-value="(on: boolean | null) => (refused = set({ hasDisplay: !!on }))"
      />
      <v-textarea
        v-model="steps"
        label="Steps: MHz, name, Mbit/s, dBm needed"
        rows="5"
        class="steps"
        @blur="saveSteps"
      />
    </div>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.steps {
  grid-column: 1 / -1;
}
.steps :deep(textarea) {
  font-family: var(--mono);
  font-size: 13px;
}
</style>
