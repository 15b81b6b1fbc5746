<script setup lang="ts">
/** How the radios of an access point are set, and where it hangs. */
import { settingsOf, type Device, type RadioSetting } from '@mast/core/plan'
import { modeFacts } from '@mast/core/wifi'
import { bands, numbersOf, takenBy, widthsOf, type Band, type Width } from '@mast/core/radio'

const { device } = defineProps<{ device: Device }>()
const site = useSite()
const refused = ref<string | undefined>()
const profile = computed(() => site.opened.model.profileOf(device.id))
const settings = computed(() => settingsOf(device, profile.value))
function set(n: number, changes: Partial<RadioSetting>): string | undefined {
  const next = settings.value.map((s, i) => (i === n ? { ...s, ...changes } : s))
  const now = next[n]!
  // In another band, or so wide, the channel may be none.
  if (
    now.channel !== null &&
    !takenBy({ band: now.band, primary: now.channel, widthMhz: now.widthMhz })
  )
    next[n] = { ...now, channel: null }
  return (refused.value = site.edit('changeDevice', { id: device.id, changes: { radios: next } }))
}
const channels = (band: Band, widthMhz: Width) => [
  { title: 'by the plan', value: null },
  ...numbersOf[band]
    .filter((primary) => takenBy({ band, primary, widthMhz }))
    .map((value) => ({ title: String(value), value })),
]
function power(n: number, text: string): string | undefined {
  if (text.trim() === '') return set(n, { powerDbm: null })
  return Number.isFinite(Number(text))
    ? set(n, { powerDbm: Number(text) })
    : 'a number of dBm is needed, or nothing for all that is allowed'
}
const bandItems = (n: number) =>
  bands
    .filter((b) => profile.value.air[n]!.bands.includes(b))
    .map((value) => ({ title: `${value} GHz`, value }))
const modes = [
  { title: 'what its kind is for', value: null },
  ...(Object.keys(modeFacts) as (keyof typeof modeFacts)[]).map((value) => ({
    title: modeFacts[value].name,
    value,
  })),
]
const place = (changes: Partial<NonNullable<Device['place']>>): string | undefined =>
  (refused.value = site.edit('changeDevice', {
    id: device.id,
    changes: { place: { ...device.place!, ...changes } },
  }))
</script>

<template>
  <div class="in-place" :aria-label="`Settings of ${device.name}`" role="group">
    <div v-for="(s, n) in settings" :key="n" class="row">
      <v-checkbox
        label="on"
        :model-value="s.isOn"
        @update:model-value="(v) => set(n, { isOn: v === true })"
      />
      <v-select
        label="Band"
        :model-value="s.band"
        :items="bandItems(n)"
        style="max-width: 120px"
        @update:model-value="(band: Band) => set(n, { band })"
      />
      <v-select
        label="Channel"
        :model-value="s.channel"
        :items="channels(s.band, s.widthMhz)"
        style="max-width: 140px"
        @update:model-value="(channel: number | null) => set(n, { channel })"
      />
      <v-select
        label="Width"
        :model-value="s.widthMhz"
        :items="widthsOf[s.band].map((w) => ({ title: `${w} MHz`, value: w }))"
        style="max-width: 130px"
        @update:model-value="(widthMhz: Width) => set(n, { widthMhz })"
      />
      <FieldsEditField
        label="Power, dBm (empty: all that is allowed)"
        :value="s.powerDbm"
        :save="(t) => power(n, t)"
        mono
      />
    </div>
    <div v-if="device.place" class="row">
      <FieldsEditField
        label="Height, m"
        :value="device.place.heightM"
        type="number"
        :save="(t) => place({ heightM: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Points to, degrees"
        :value="device.place.degrees"
        type="number"
        :save="(t) => place({ degrees: Number(t) })"
        mono
      />
      <v-checkbox
        label="hangs where it stays"
        :model-value="device.place.stays"
        @update:model-value="(v) => place({ stays: v === true })"
      />
      <v-btn
        size="small"
        variant="text"
        @click="refused = site.edit('changeDevice', { id: device.id, changes: { place: null } })"
        >Take it off the plan</v-btn
      >
    </div>
    <div class="row">
      <v-select
        label="Mode on the air"
        :model-value="device.mode"
        :items="modes"
        style="max-width: 300px"
        @update:model-value="
          (mode) => (refused = site.edit('changeDevice', { id: device.id, changes: { mode } }))
        "
      />
    </div>
    <p v-if="device.mode" class="faint">
      Leases: {{ modeFacts[device.mode].leases }}. Address: {{ modeFacts[device.mode].address }}.
      Key and name: {{ modeFacts[device.mode].keyAndName }}. It cannot
      {{ modeFacts[device.mode].cannot }}.
    </p>
    <Refusal :says="refused" />
  </div>
</template>

<style scoped>
.row {
  margin-top: 14px;
}
</style>
