<script setup lang="ts">
/**
 * Lanes, one a person, on one time axis: work as bars, waits hatched, the critical path underlined.
 */
import { type Schedule, type Step } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'
import type { StepDone } from '@mast/api'

const props = defineProps<{
  steps: readonly Step[]
  schedule: Schedule
  done: ReadonlyMap<string, StepDone>
  current: string | null
}>()
const emit = defineEmits<{ choose: [id: string] }>()
const WIDTH = 900
const LANE = 46
const WORK = 18
const lanes = computed(() => Math.max(1, ...props.schedule.steps.map((s) => s.person + 1)))
const x = (seconds: number): number =>
  4 + (seconds / Math.max(1, props.schedule.totalSeconds)) * (WIDTH - 8)
/** As many labels as stand side by side. */
const MOST_TICKS = 10
const STEPS = [600, 1200, 3600, 7200, 14_400, 28_800]
const ticks = computed(() => {
  const { totalSeconds } = props.schedule
  const step = STEPS.find((s) => totalSeconds / s <= MOST_TICKS) ?? 86_400
  return Array.from({ length: Math.floor(totalSeconds / step) + 1 }, (_, i) => i * step)
})
const titles = computed(() => new Map(props.steps.map((s) => [s.id, s.title])))
type Planned = Schedule['steps'][number]
const workOf = (s: Planned): { x: number; y: number; width: number } => ({
  x: x(s.startSeconds),
  y: s.person * LANE + 6,
  width: Math.max(2, x(s.handsFreeSeconds) - x(s.startSeconds) - 1),
})
const box = (left: number, top: number, width: number, height: number): string =>
  `M${left.toFixed(1)} ${top}h${width.toFixed(1)}v${height}h${(-width).toFixed(1)}z`
const work = (list: readonly Planned[]): string =>
  list
    .map(workOf)
    .map((w) => box(w.x, w.y, w.width, WORK))
    .join('')
// A long day has thousands of bars: each kind is one path, and the pointer is told apart by where
// it is.
const open = computed(() => work(props.schedule.steps.filter((s) => !props.done.has(s.stepId))))
const finished = computed(() => work(props.schedule.steps.filter((s) => props.done.has(s.stepId))))
const waits = computed(() =>
  props.schedule.steps
    .filter((s) => s.endSeconds > s.handsFreeSeconds)
    .map((s) =>
      box(
        x(s.handsFreeSeconds),
        s.person * LANE + 24,
        Math.max(1, x(s.endSeconds) - x(s.handsFreeSeconds)),
        12,
      ),
    )
    .join(''),
)
const critical = computed(() =>
  props.schedule.steps
    .filter((s) => s.critical)
    .map(
      (s) =>
        `M${x(s.startSeconds).toFixed(1)} ${s.person * LANE + 38}H${x(s.endSeconds).toFixed(1)}`,
    )
    .join(''),
)
const current = computed(() => {
  const s = props.schedule.steps.find((p) => p.stepId === props.current)
  return s && workOf(s)
})
const under = ref<Planned | undefined>()
const drawing = useTemplateRef<SVGSVGElement>('drawing')
/** The step whose hands-on time lies under the pointer. */
function stepAt(event: MouseEvent): Planned | undefined {
  const matrix = drawing.value?.getScreenCTM()
  if (!matrix) return undefined
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  return props.schedule.steps.find((s) => {
    const w = workOf(s)
    return at.x >= w.x && at.x <= w.x + w.width && at.y >= w.y && at.y <= w.y + LANE - 12
  })
}
function choose(event: MouseEvent): void {
  const s = stepAt(event)
  if (s) emit('choose', s.stepId)
}
</script>

<template>
  <div class="scroll-x no-print">
    <svg
      ref="drawing"
      data-drawing
      :viewBox="`0 0 ${WIDTH} ${lanes * LANE + 22}`"
      class="lanes"
      :class="{ pointed: under }"
      role="img"
      aria-label="Steps on a time axis; the list below has the same facts"
      @pointermove="under = stepAt($event)"
      @click="choose"
    >
      <title v-if="under">
        {{ titles.get(under.stepId) ?? under.stepId }}: from
        {{ formatDuration(under.startSeconds) }}, done by {{ formatDuration(under.endSeconds) }}
      </title>
      <defs>
        <pattern
          id="hatch"
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <line x1="0" y1="0" x2="0" y2="5" class="hatch" />
        </pattern>
      </defs>
      <path :d="waits" fill="url(#hatch)" class="wait" />
      <path :d="open" class="work" />
      <path :d="finished" class="work done" />
      <rect v-if="current" v-bind="current" :height="WORK" class="work current" />
      <path :d="critical" class="critical" />
      <g v-for="t in ticks" :key="t">
        <line :x1="x(t)" :x2="x(t)" :y1="lanes * LANE" :y2="lanes * LANE + 5" class="axis" />
        <text :x="x(t)" :y="lanes * LANE + 17" :text-anchor="t === 0 ? 'start' : 'middle'">
          {{ t === 0 ? 'start' : formatDuration(t).replace(/ 0 min$/, '') }}
        </text>
      </g>
    </svg>
    <p class="faint key">Bars: hands on. Hatched: waiting. Underlined: the critical path.</p>
  </div>
</template>

<style scoped>
.lanes {
  width: 100%;
  min-width: 560px;
}
.pointed {
  cursor: pointer;
}
.work {
  fill: var(--paper);
  stroke: var(--ink);
}
.done {
  fill: var(--proven);
}
.current {
  fill: var(--selection);
  stroke-width: 2.5;
}
.wait {
  stroke: var(--hair);
}
.hatch {
  stroke: var(--faint);
  stroke-width: 1;
}
.critical {
  stroke: var(--ink);
  stroke-width: 2;
}
.axis {
  stroke: var(--ink);
}
text {
  font: 11px var(--mono);
  fill: var(--faint);
}
.key {
  margin: 0;
  font-size: 12.5px;
}
</style>
