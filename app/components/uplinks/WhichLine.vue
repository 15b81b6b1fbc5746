<script setup lang="ts">
/** Which line it is about, where more than one has another that takes over from it. */
import { turnsOf } from '@mast/core/uplinks'

const chosen = defineModel<string | undefined>({ required: true })
const site = useSite()
const model = useLater(() => site.opened.model)
const lines = computed(() => turnsOf(model.value).map((t) => t.line))
/** Of a line that is gone the first stands in its place. */
const shown = computed(() => (lines.value.find((u) => u.id === chosen.value) ?? lines.value[0])?.id)
</script>

<template>
  <v-select
    v-if="lines.length > 1"
    :model-value="shown"
    label="Line"
    :items="lines"
    item-title="name"
    item-value="id"
    style="max-width: 260px"
    @update:model-value="(id: string) => (chosen = id)"
  />
</template>
