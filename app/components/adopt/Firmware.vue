<script setup lang="ts">
/** The version that one device, or several of one kind, is to run: newer, or back to an older one. */
import { isOlder } from '@mast/core/field'
import { editCall } from '@mast/core/plan'

const props = defineProps<{ ids: readonly string[] }>()
const site = useSite()
const profiles = computed(() => [
  ...new Set(props.ids.map((id) => site.opened.plan.devices[id]?.profileId ?? '')),
])
const profile = computed(() =>
  profiles.value.length === 1 ? site.opened.plan.profiles[profiles.value[0]!] : undefined,
)
/** Where they differ, nothing is said for all. */
const wanted = computed(() => {
  const all = new Set(props.ids.map((id) => site.opened.model.firmwareWanted(id)))
  return all.size === 1 ? [...all][0]! : null
})
const usual = computed(() => profile.value?.firmware.wanted ?? '')
const says = computed(() => {
  if (!profile.value) return ''
  if (wanted.value === null) return 'they are to run different versions'
  if (wanted.value === usual.value) return 'as all of its kind'
  return isOlder(wanted.value, usual.value)
    ? `back from ${usual.value}: settings that the newer one wrote may not be read; the backup helps`
    : `the others of its kind run ${usual.value}`
})
function save(text: string): string | undefined {
  const version = text === '' || text === usual.value ? null : text
  const { minimum } = profile.value!.firmware
  if (version && minimum && isOlder(version, minimum))
    return `${minimum} is the least that the controller takes`
  const names = props.ids.map((id) => site.opened.model.device(id).name)
  return site.mend(
    `Firmware ${version ?? usual.value} on ${names.length === 1 ? names[0] : `${names.length} devices`}`,
    props.ids.map((id) => editCall('changeDevice', { id, changes: { firmwareWanted: version } })),
  )
}
</script>

<template>
  <FieldsEditField
    v-if="profile && usual"
    label="Firmware to run"
    style="max-width: 360px; margin: 12px 0 4px"
    :value="wanted"
    :hint="`${says}; goes out with what is sent next`"
    :save="save"
    mono
  />
  <span v-else-if="ids.length > 1 && !profile" class="faint"
    >Firmware: choose devices of one kind.</span
  >
</template>
