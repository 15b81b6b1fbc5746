<script setup lang="ts">
/** Draws walls and areas: corner by corner with the pointer, or all of them typed. */
import { newId, type Floor } from '@mast/core/plan'
import { materialIds, materials, type MaterialId } from '@mast/core/radio'
import { cornersOn } from '@mast/core/wifi/drawing'

const { floor } = defineProps<{ floor: Floor }>()
/** Corners of what is being drawn; null while nothing is. */
const drawing = defineModel<{ x: number; y: number }[] | null>('drawing', { required: true })
const site = useSite()
const refused = ref<string | undefined>()
const material = ref<MaterialId>('plasterboard')
const materialItems = materialIds.map((value) => ({ title: materials[value].name, value }))
function finish(): void {
  if (!drawing.value) return
  // The two clicks of a double one are one corner.
  const list = drawing.value.filter(
    (p, n, all) => n === 0 || p.x !== all[n - 1]!.x || p.y !== all[n - 1]!.y,
  )
  drawing.value = null
  draw(list)
}
/** What is drawn next: a wall of a material, or an area. */
const kind = ref<'wall' | 'people' | 'keep-out' | 'boundary'>('wall')
const kindItems = [
  { title: 'a wall', value: 'wall' },
  { title: 'an area with people', value: 'people' },
  { title: 'where nothing may hang', value: 'keep-out' },
  { title: 'the boundary', value: 'boundary' },
]
const areaNames = { people: 'People', 'keep-out': 'Nothing hangs here', boundary: 'Boundary' }
const least = computed(() => (kind.value === 'wall' ? 2 : 3))
function draw(points: readonly { x: number; y: number }[]): void {
  const floorId = floor.id
  if (points.length < least.value) {
    refused.value = `it takes ${least.value} corners`
    return
  }
  refused.value =
    kind.value === 'wall'
      ? site.edit('addWall', {
          id: newId(site.opened.plan, 'wall'),
          ...{ floorId, material: material.value, points: [...points] },
        })
      : site.edit('addArea', {
          id: newId(site.opened.plan, kind.value),
          ...{ name: areaNames[kind.value], floorId, kind: kind.value, points: [...points] },
          heads: kind.value === 'people' ? 10 : 0,
        })
}
/** Corners typed, for who draws without a pointer: `1,1 5,1 5,4`. */
const typed = ref('')
function drawTyped(): void {
  const read = cornersOn(floor, typed.value)
  if ('refused' in read) {
    refused.value = read.refused
    return
  }
  draw(read.points)
  if (!refused.value) typed.value = ''
}
defineExpose({ finish })
</script>

<template>
  <div class="no-print">
    <div class="row">
      <slot />
      <v-select v-model="kind" label="Draw" :items="kindItems" style="max-width: 230px" />
      <v-btn v-if="!drawing" @click="drawing = []">{{
        kind === 'wall' ? 'Draw a wall' : 'Draw it'
      }}</v-btn>
      <template v-else>
        <v-btn color="primary" variant="flat" :disabled="drawing.length < least" @click="finish">{{
          kind === 'wall' ? 'Keep the wall' : 'Keep it'
        }}</v-btn>
        <v-btn variant="text" @click="drawing = null">Leave it</v-btn>
      </template>
      <v-select
        v-if="kind === 'wall'"
        v-model="material"
        label="Wall of"
        :items="materialItems"
        style="max-width: 260px"
      />
      <slot name="after" />
    </div>
    <form class="row" @submit.prevent="drawTyped">
      <v-text-field
        v-model="typed"
        label="Or type its corners, m"
        placeholder="1,1 5,1 5,4"
        style="max-width: 320px"
      />
      <v-btn type="submit" :disabled="!typed.trim()">Draw it so</v-btn>
    </form>
    <Refusal :says="refused" />
  </div>
</template>
