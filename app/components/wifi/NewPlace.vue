<script setup lang="ts">
/** A further plan of the place: how large it is, and whether it is outdoors. */
import { newId } from '@mast/core/plan'

const emit = defineEmits<{ added: [id: string] }>()
const site = useSite()
/** Distance coefficients where nobody measured (ITU-R P.1238 of an office; common practice). */
const OUTDOORS_N = 23
const INDOORS_N = 30
const blank = reactive({ name: '', widthM: 30, depthM: 20, isOutdoors: false })
const refused = ref<string | undefined>()
function add(): void {
  const id = newId(site.opened.plan, blank.name)
  refused.value = site.edit('addFloor', {
    id,
    ...blank,
    coefficient: blank.isOutdoors ? OUTDOORS_N : INDOORS_N,
  })
  if (refused.value) return
  blank.name = ''
  emit('added', id)
}
</script>

<template>
  <form class="row no-print" aria-label="A new plan" @submit.prevent="add">
    <v-text-field v-model="blank.name" label="New plan of the place" style="max-width: 240px" />
    <v-text-field
      v-model.number="blank.widthM"
      type="number"
      label="Width"
      suffix="m"
      style="max-width: 110px"
    />
    <v-text-field
      v-model.number="blank.depthM"
      type="number"
      label="Depth"
      suffix="m"
      style="max-width: 110px"
    />
    <v-checkbox v-model="blank.isOutdoors" label="outdoors" />
    <v-btn type="submit">Add it</v-btn>
    <Refusal :says="refused" />
  </form>
</template>

<style scoped>
.row {
  margin-top: 20px;
}
</style>
