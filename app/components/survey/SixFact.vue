<script setup lang="ts">
/** IPv6 on the line: none, or a prefix for the site. */
import type { HandOff } from '@mast/core/plan'

const props = defineProps<{
  handOff: HandOff
  record: (facts: Partial<HandOff>) => string | undefined
}>()
type Mode = 'delegated' | 'fixed'
const site = useSite()
const six = computed(() => (props.handOff.ipv6 === 'none' ? null : props.handOff.ipv6))
const { kind, await: wait } = useChosenKind<'none' | Mode>(() =>
  props.handOff.ipv6 === 'none' ? 'none' : (six.value?.mode ?? null),
)
function choose(chosen: 'none' | Mode | null): void {
  if (chosen === null || chosen === 'none') {
    wait(null)
    props.record({ ipv6: chosen })
  } else if (six.value) props.record({ ipv6: { ...six.value, mode: chosen } })
  else {
    wait(chosen)
    props.record({ ipv6: null })
  }
}
const mode = computed<Mode>(() => (kind.value === 'fixed' ? 'fixed' : 'delegated'))
/** A prefix says its own length. */
function saveLength(text: string): string | undefined {
  return text === ''
    ? props.record({ ipv6: null })
    : props.record({
        ipv6: { mode: mode.value, prefix: six.value?.prefix ?? null, length: Number(text) },
      })
}
function savePrefix(text: string): string | undefined {
  const length = text ? Number(text.split('/')[1] ?? Number.NaN) : six.value?.length
  if (length === undefined) return undefined
  if (Number.isNaN(length)) return 'say its length as well, for example 2001:db8:4400::/56'
  const refused = props.record({ ipv6: { mode: mode.value, length, prefix: text || null } })
  // The prefix is the site's IPv6 space where it has none of its own yet.
  if (!refused && text && site.opened.plan.site.addressSpace6.length === 0)
    site.edit('setAddressSpace6', { addressSpace6: [text] })
  return refused
}
</script>

<template>
  <v-select
    label="IPv6"
    :model-value="kind"
    :items="[
      NOT_KNOWN,
      { title: 'none', value: 'none' },
      { title: 'a delegated prefix', value: 'delegated' },
      { title: 'a fixed prefix', value: 'fixed' },
    ]"
    @update:model-value="choose"
  />
  <template v-if="kind !== null && kind !== 'none'">
    <FieldsEditField
      label="Length of the prefix"
      type="number"
      :value="six?.length ?? null"
      :hint="six ? undefined : 'often 48, 56 or 64'"
      :save="saveLength"
      mono
    />
    <FieldsEditField
      label="The prefix"
      :value="six?.prefix ?? null"
      hint="where it stays the same"
      :save="savePrefix"
      mono
    />
  </template>
</template>
