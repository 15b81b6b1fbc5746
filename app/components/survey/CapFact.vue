<script setup lang="ts">
/** What of data is included a month, and what each GB beyond costs. */
import type { HandOff } from '@mast/core/plan'

const props = defineProps<{
  handOff: HandOff
  record: (facts: Partial<HandOff>) => string | undefined
}>()
const site = useSite()
const cap = computed(() => (props.handOff.cap === 'none' ? null : props.handOff.cap))
const { kind, await: wait } = useChosenKind<'none' | 'capped'>(() =>
  props.handOff.cap === null ? null : props.handOff.cap === 'none' ? 'none' : 'capped',
)
const price = ref<number | null>(null)
function choose(chosen: 'none' | 'capped' | null): void {
  wait(chosen === 'capped' ? chosen : null)
  props.record({ cap: chosen === 'none' ? chosen : null })
}
function saveIncluded(text: string): string | undefined {
  return props.record({
    cap: text
      ? { gigabytes: Number(text), pricePerGb: cap.value?.pricePerGb ?? price.value ?? 0 }
      : null,
  })
}
function savePrice(text: string): string | undefined {
  price.value = text === '' ? null : Number(text)
  return cap.value
    ? props.record({ cap: { ...cap.value, pricePerGb: price.value ?? 0 } })
    : undefined
}
</script>

<template>
  <v-select
    label="Data"
    :model-value="kind"
    :items="[
      NOT_KNOWN,
      { title: 'not limited', value: 'none' },
      { title: 'so much a month', value: 'capped' },
    ]"
    @update:model-value="choose"
  />
  <template v-if="kind === 'capped'">
    <FieldsEditField
      label="Included a month"
      type="number"
      suffix="GB"
      :value="cap?.gigabytes ?? null"
      :save="saveIncluded"
      mono
    />
    <FieldsEditField
      label="Each GB beyond"
      type="number"
      :suffix="site.opened.plan.site.electricity?.currency ?? ''"
      :value="cap?.pricePerGb ?? price"
      hint="0 where nothing is charged"
      :save="savePrice"
      mono
    />
  </template>
</template>
