<script setup lang="ts">
/** Where a plan of the place lies on the Earth, so that it can be seen on the map of a bridge. */
import { COORDINATES_EXPECTED, readCoordinates, type Floor } from '@mast/core/plan'

const { floor } = defineProps<{ floor: Floor }>()
const site = useSite()
const change = (lies: Floor['lies']): string | undefined =>
  site.edit('changeFloor', { id: floor.id, changes: { lies } })
function saveCorner(text: string): string | undefined {
  if (text.trim() === '') return change(null)
  const at = readCoordinates(text)
  return at ? change({ upDegrees: 0, ...floor.lies, ...at }) : COORDINATES_EXPECTED
}
</script>

<template>
  <details class="no-print">
    <summary>Where it lies, for the map of bridges</summary>
    <div class="row lies">
      <FieldsEditField
        label="Its upper left corner is at"
        :value="floor.lies ? `${floor.lies.latitude}, ${floor.lies.longitude}` : ''"
        :save="saveCorner"
        hint="57.9031, -6.6984"
        mono
      />
      <FieldsEditField
        v-if="floor.lies"
        label="Its top looks to, degrees"
        :value="floor.lies.upDegrees"
        type="number"
        :save="(t) => change({ ...floor.lies!, upDegrees: Number(t) })"
        mono
      />
    </div>
  </details>
</template>

<style scoped>
.lies > * {
  max-width: 230px;
}
</style>
