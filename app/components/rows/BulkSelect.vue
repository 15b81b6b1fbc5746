<script setup lang="ts" generic="V extends string | number | null">
/** A value for all rows that are chosen; it stays at nothing, since they may differ. */
defineProps<{ label: string; items: readonly { readonly title: string; readonly value: V }[] }>()
const emit = defineEmits<{ choose: [value: V] }>()
/** Never a value of the plan, of which null may be one: no id has a space. */
const NONE = 'nothing chosen'
</script>

<template>
  <v-select
    :label="label"
    :model-value="NONE"
    :items="[{ title: 'choose', value: NONE }, ...items]"
    class="bulk"
    @update:model-value="(value) => value !== NONE && emit('choose', value as V)"
  />
</template>

<style scoped>
.bulk {
  min-width: 150px;
  max-width: 200px;
}
</style>
