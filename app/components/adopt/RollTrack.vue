<script setup lang="ts">
/** How far a device has come, as marks on a rail: what it went through, where it is. */
import type { AdoptionState } from '@mast/core/adoption'
import type { RollDevice } from '@mast/api'

const props = defineProps<{
  device: RollDevice
  name: string
  /** With the words beneath the marks. */
  withWords?: boolean
}>()
const track: readonly AdoptionState[] = [
  'planned',
  'powered',
  'seen',
  'claimed',
  'loading',
  'in-service',
]
const hasDrifted = computed(() => props.device.state === 'drifted')
const here = computed(() =>
  hasDrifted.value ? 5 : props.device.state === 'lost' ? -1 : track.indexOf(props.device.state),
)
/** Whether it came by a state, not only past it: one claimed in its box had no power yet. */
const hasPassed = (i: number): boolean =>
  i < here.value && (props.device.lastHeardAt !== null || !['powered', 'seen'].includes(track[i]!))
const step = computed(() => (props.withWords ? 90 : 18))
const width = computed(() => step.value * 5 + (props.withWords ? 30 : 16))
const edge = computed(() => (props.withWords ? 14 : 8))
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} ${withWords ? 34 : 16}`"
    :style="{ width: withWords ? '100%' : `${width}px`, maxWidth: `${width}px` }"
    role="img"
    :aria-label="`${name} is ${device.state}`"
  >
    <line
      :x1="edge"
      :x2="edge + 5 * step"
      :y1="withWords ? 11 : 8"
      :y2="withWords ? 11 : 8"
      class="rail"
    />
    <g
      v-for="(s, i) in track"
      :key="s"
      :transform="`translate(${edge + i * step} ${withWords ? 11 : 8})`"
      :class="{ passed: hasPassed(i), here: i === here, away: i === here && hasDrifted }"
    >
      <rect
        :x="withWords ? -5 : -3.5"
        :y="withWords ? -5 : -3.5"
        :width="withWords ? 10 : 7"
        :height="withWords ? 10 : 7"
        transform="rotate(45)"
      />
      <text
        v-if="withWords"
        x="0"
        y="21"
        :text-anchor="i === 0 ? 'start' : i === 5 ? 'end' : 'middle'"
        :dx="i === 0 ? -12 : i === 5 ? 14 : 0"
      >
        {{ i === here && hasDrifted ? 'drifted' : s.replace('-', ' ') }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.rail {
  stroke: var(--hair);
  stroke-width: 1.5;
}
rect {
  fill: var(--paper);
  stroke: var(--hair);
}
text {
  font: 11px var(--text);
  fill: var(--faint);
}
.passed rect {
  fill: var(--ink);
  stroke: var(--ink);
}
.here rect {
  fill: var(--proven);
  stroke: var(--ink);
}
.away rect {
  fill: var(--caution);
}
.here text {
  fill: var(--ink);
  font-weight: 700;
}
svg {
  vertical-align: middle;
}
</style>
