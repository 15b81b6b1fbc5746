<script setup lang="ts">
/** Types a secret in; it is sent and forgotten here. */
const props = defineProps<{ save: (text: string) => Promise<string | undefined>; label?: string }>()
const text = ref('')
const refused = ref<string | undefined>()
async function commit(): Promise<void> {
  if (!text.value) return
  refused.value = await props.save(text.value)
  if (!refused.value) text.value = ''
}
</script>

<template>
  <v-text-field
    v-model="text"
    :label="label ?? 'Or type one, 14 or more'"
    type="password"
    autocomplete="new-password"
    style="max-width: 230px"
    :error-messages="refused ? [refused] : []"
    @keydown.enter="commit"
    @blur="commit"
  />
</template>
