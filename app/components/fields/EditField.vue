<script setup lang="ts" generic="T extends string | number | null">
/**
 * A text field that saves when left or on Enter, and shows the reason where it was refused, keeping
 * what was typed.
 */
const props = defineProps<{
  label: string
  value: T
  save: (text: string) => string | undefined
  type?: 'text' | 'number'
  hint?: string
  suffix?: string
  mono?: boolean
  disabled?: boolean
}>()
const text = ref(props.value === null ? '' : String(props.value))
const refused = ref<string | undefined>()
/** The same list as long as it says the same: a new one would have the field drawn anew. */
const complaints = computed(() => (refused.value ? [refused.value] : undefined))
watch(
  () => props.value,
  (value) => {
    text.value = value === null ? '' : String(value)
    refused.value = undefined
  },
)
function commit(): void {
  const now = text.value.trim()
  if (now === (props.value === null ? '' : String(props.value))) {
    refused.value = undefined
    return
  }
  refused.value = props.save(now)
}
</script>

<template>
  <v-text-field
    v-model="text"
    :label="label"
    :type="type ?? 'text'"
    :hint="hint"
    persistent-hint
    :suffix="suffix"
    :class="{ 'mono-field': mono }"
    :disabled="disabled"
    :error-messages="complaints"
    @blur="commit"
    @keydown.enter="commit"
  />
</template>

<style scoped>
.mono-field :deep(input) {
  font-family: var(--mono);
  font-size: 13px;
}
</style>
