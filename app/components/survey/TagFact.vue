<script setup lang="ts">
/** The tag on the hand-off, and its priority. */
import type { HandOff } from '@mast/core/plan'

const props = defineProps<{
  handOff: HandOff
  record: (facts: Partial<HandOff>) => string | undefined
}>()
const { kind, await: wait } = useChosenKind<'untagged' | 'tagged'>(() =>
  props.handOff.vlan === null ? null : props.handOff.vlan === 'untagged' ? 'untagged' : 'tagged',
)
function choose(chosen: 'untagged' | 'tagged' | null): void {
  wait(chosen === 'tagged' ? chosen : null)
  props.record({ vlan: chosen === 'untagged' ? chosen : null })
}
</script>

<template>
  <v-select
    label="Tag on the hand-off"
    :model-value="kind"
    :items="[
      NOT_KNOWN,
      { title: 'no tag', value: 'untagged' },
      { title: 'a VLAN tag', value: 'tagged' },
    ]"
    @update:model-value="choose"
  />
  <FieldsEditField
    v-if="kind === 'tagged'"
    label="VLAN tag"
    type="number"
    :value="handOff.vlan === 'untagged' ? null : handOff.vlan"
    :save="(t) => record({ vlan: t === '' ? null : Number(t) })"
    mono
  />
  <FieldsEditField
    v-if="kind !== 'untagged'"
    label="802.1p priority"
    type="number"
    :value="handOff.priority"
    :save="(t) => record({ priority: t === '' ? null : Number(t) })"
    mono
  />
</template>
