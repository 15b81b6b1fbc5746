<script setup lang="ts">
/** The LAN on the provider's own router, which must not be ours. */
import type { HandOff } from '@mast/core/plan'

const props = defineProps<{
  handOff: HandOff
  record: (facts: Partial<HandOff>) => string | undefined
}>()
const { kind, await: wait } = useChosenKind<'none' | 'known'>(() =>
  props.handOff.providerLan === null
    ? null
    : props.handOff.providerLan === 'none'
      ? 'none'
      : 'known',
)
function choose(chosen: 'none' | 'known' | null): void {
  wait(chosen === 'known' ? chosen : null)
  props.record({ providerLan: chosen === 'none' ? chosen : null })
}
</script>

<template>
  <v-select
    label="LAN on their router"
    :model-value="kind"
    :items="[
      NOT_KNOWN,
      { title: 'none, a plain modem', value: 'none' },
      { title: 'a subnet', value: 'known' },
    ]"
    @update:model-value="choose"
  />
  <FieldsEditField
    v-if="kind === 'known'"
    label="Their LAN"
    :value="handOff.providerLan === 'none' ? null : handOff.providerLan"
    :hint="handOff.providerLan === null ? 'the subnet on its LAN page' : undefined"
    :save="(t) => record({ providerLan: t || null })"
    mono
  />
</template>
