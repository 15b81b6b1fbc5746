<script setup lang="ts">
/** Lanes, one a person, on one time axis: work as bars, waits hatched, the critical path underlined. */
import { formatDuration, type Schedule, type Step } from '@mast/core/bringup'
import type { StepDone } from '~/stores/field'

const props = defineProps<{ steps: readonly Step[]; schedule: Schedule; done: ReadonlyMap<string, StepDone>; current: string | null }>()
const emit = defineEmits<{ choose: [id: string] }>()
const WIDTH = 900
const LANE = 46
const lanes = computed(() => Math.max(1, ...props.schedule.steps.map((s) => s.person + 1)))
const x = (seconds: number): number => 4 + (seconds / Math.max(1, props.schedule.totalSeconds)) * (WIDTH - 8)
const ticks = computed(() => {
  const step = props.schedule.totalSeconds > 4 * 3600 ? 3600 : props.schedule.totalSeconds > 5400 ? 1200 : 600
  return Array.from({ length: Math.floor(props.schedule.totalSeconds / step) + 1 }, (_, i) => i * step)
})
const titles = computed(() => new Map(props.steps.map((s) => [s.id, s.title])))
const titleOf = (id: string): string => titles.value.get(id) ?? id
const rows = useShownRows(() => props.schedule.steps, () => 40)
const { shown } = rows
// The rest of a long day comes a frame at a time.
useTheRest(rows)
</script>

<template>
  <div class="scroll-x no-print">
    <svg :viewBox="`0 0 ${WIDTH} ${lanes * LANE + 22}`" class="lanes" role="img" aria-label="Steps on a time axis; the list below has the same facts">
      <defs><pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="5" class="hatch" /></pattern></defs>
      <g v-for="s in shown" :key="s.stepId" v-memo="[done.has(s.stepId), current === s.stepId, schedule]" class="step" :class="{ done: done.has(s.stepId), current: current === s.stepId }" @click="emit('choose', s.stepId)">
        <title>{{ titleOf(s.stepId) }}: from {{ formatDuration(s.startSeconds) }}, done by {{ formatDuration(s.endSeconds) }}</title>
        <rect v-if="s.endSeconds > s.handsFreeSeconds" :x="x(s.handsFreeSeconds)" :width="Math.max(1, x(s.endSeconds) - x(s.handsFreeSeconds))" :y="s.person * LANE + 24" height="12" fill="url(#hatch)" class="wait" />
        <rect :x="x(s.startSeconds)" :width="Math.max(2, x(s.handsFreeSeconds) - x(s.startSeconds) - 1)" :y="s.person * LANE + 6" height="18" class="work" />
        <line v-if="s.critical" :x1="x(s.startSeconds)" :x2="x(s.endSeconds)" :y1="s.person * LANE + 38" :y2="s.person * LANE + 38" class="critical" />
      </g>
      <g v-for="t in ticks" :key="t"><line :x1="x(t)" :x2="x(t)" :y1="lanes * LANE" :y2="lanes * LANE + 5" class="axis" /><text :x="x(t)" :y="lanes * LANE + 17" :text-anchor="t === 0 ? 'start' : 'middle'">{{ t === 0 ? 'start' : formatDuration(t) }}</text></g>
    </svg>
    <p class="faint key">Bars: hands on. Hatched: waiting. Underlined: the critical path.</p>
  </div>
</template>

<style scoped>
.lanes { width: 100%; min-width: 560px; } .work { fill: var(--paper); stroke: var(--ink); cursor: pointer; } .done .work { fill: var(--proven); } .current .work { fill: var(--selection); stroke-width: 2.5; } .wait { stroke: var(--hair); } .hatch { stroke: var(--faint); stroke-width: 1; } .critical { stroke: var(--ink); stroke-width: 2; } .axis { stroke: var(--ink); } text { font: 11px var(--mono); fill: var(--faint); } .key { margin: 0; font-size: 12.5px; }
</style>
