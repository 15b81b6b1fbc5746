<script setup lang="ts">
/** What a device asks now and then, and how often nobody may answer before it starts anew. */
import type { Device } from '@mast/core/plan'

const props = defineProps<{ device: Device }>()
const site = useSite()
const refused = ref<string | undefined>()
type Watchdog = NonNullable<Device['watchdog']>
/** Common practice: a minute, and no start before five of them. */
const usual = { everySeconds: 60, failures: 5 }
/** The gateway of its segment is there whenever anything is. */
const nearest = computed(() => {
  const { segmentId } = props.device.addressing
  return segmentId ? site.opened.model.segment(segmentId).gateway : null
})
const set = (watchdog: Watchdog | null): string | undefined =>
  site.edit('changeDevice', { id: props.device.id, changes: { watchdog } })
const change = (changes: Partial<Watchdog>): string | undefined =>
  set({ ...props.device.watchdog!, ...changes })
function turn(on: boolean): void {
  refused.value = on
    ? nearest.value
      ? set({ ...usual, address: nearest.value })
      : 'it needs an address to ask: give its segment a gateway first'
    : set(null)
}
</script>

<template>
  <v-checkbox
    label="Starts itself anew when nobody answers"
    :model-value="device.watchdog !== null"
    @update:model-value="(on) => turn(!!on)"
  />
  <template v-if="device.watchdog">
    <FieldsEditField
      label="Asks"
      :value="device.watchdog.address"
      :save="(address) => change({ address })"
      mono
    />
    <FieldsEditField
      label="Every"
      type="number"
      suffix="s"
      :value="device.watchdog.everySeconds"
      :save="(t) => change({ everySeconds: Number(t) })"
    />
    <FieldsEditField
      label="Unanswered in a row"
      type="number"
      :value="device.watchdog.failures"
      :save="(t) => change({ failures: Number(t) })"
    />
  </template>
  <Refusal :says="refused" class="wide" />
</template>
