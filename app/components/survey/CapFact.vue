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
/** What was typed of one that is whole only with the other. */
const typed = reactive<{ gigabytes: number | null; pricePerGb: number | null }>({
  gigabytes: null,
  pricePerGb: null,
})
const included = computed(() => cap.value?.gigabytes ?? typed.gigabytes)
const price = computed(() => cap.value?.pricePerGb ?? typed.pricePerGb)
function choose(chosen: 'none' | 'capped' | null): void {
  wait(chosen === 'capped' ? chosen : null)
  props.record({ cap: chosen === 'none' ? chosen : null })
}
function save(change: Partial<typeof typed>): string | undefined {
  Object.assign(typed, { gigabytes: included.value, pricePerGb: price.value }, change)
  const { gigabytes, pricePerGb } = typed
  if (gigabytes !== null && pricePerGb !== null)
    return props.record({ cap: { gigabytes, pricePerGb } })
  wait('capped')
  return cap.value ? props.record({ cap: null }) : undefined
}
const numberIn = (text: string): number | null => (text === '' ? null : Number(text))
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
      :value="included"
      :save="(t) => save({ gigabytes: numberIn(t) })"
      mono
    />
    <FieldsEditField
      label="Each GB beyond"
      type="number"
      :suffix="site.opened.plan.site.electricity?.currency ?? ''"
      :value="price"
      :hint="price === null ? '0 where nothing is charged' : undefined"
      :save="(t) => save({ pricePerGb: numberIn(t) })"
      mono
    />
  </template>
</template>
