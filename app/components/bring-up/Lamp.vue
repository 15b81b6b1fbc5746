<script setup lang="ts">
/** A lamp as a person sees it: colour and rhythm, also in words. */
import { isGroup, lightWords, type Light } from '@mast/core/plan'

const props = defineProps<{ light: Pick<Light, 'colour' | 'rhythm'> }>()
const words = computed(() => lightWords(props.light))
/** Signals of a group, each with where it begins and how long it is, in px. */
const group = computed(() => {
  let x = 1
  return [...(isGroup(props.light.rhythm) ? props.light.rhythm : '')].map((s) => {
    const at = { x, width: s === '.' ? 3 : 9 }
    x += at.width + 3
    return at
  })
})
const width = computed(() => Math.max(30, (group.value.at(-1)?.x ?? 0) + 10))
</script>

<template>
  <span class="lamp" :title="words"
    ><svg :width="width" height="12" :viewBox="`0 0 ${width} 12`" aria-hidden="true">
      <g :class="light.colour">
        <template v-if="group.length">
          <rect v-for="s in group" :key="s.x" :x="s.x" y="3" :width="s.width" height="6" />
        </template>
        <rect v-else-if="light.rhythm === 'steady'" x="1" y="3" width="28" height="6" />
        <template v-else-if="light.rhythm === 'slow'">
          <rect x="1" y="3" width="10" height="6" />
          <rect x="18" y="3" width="10" height="6" />
        </template>
        <template v-else-if="light.rhythm === 'fast'">
          <rect v-for="i in 6" :key="i" :x="1 + (i - 1) * 5" y="3" width="3" height="6" />
        </template>
        <template v-else-if="light.rhythm === 'double'">
          <rect v-for="x in [1, 6, 17, 22]" :key="x" :x="x" y="3" width="3" height="6" />
        </template>
        <path v-else d="M1 6 H29" />
      </g></svg
    >{{ words }}</span
  >
</template>

<style scoped>
.lamp {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
rect {
  stroke: var(--ink);
  stroke-width: 0.8;
}
.white rect {
  fill: #fff;
}
.teal rect {
  fill: var(--proven);
}
.amber rect {
  fill: var(--caution);
}
path {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}
</style>
