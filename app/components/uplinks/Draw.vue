<script setup lang="ts">
/**
 * Faults drawn onto the time axis of a line, by mouse, by keyboard or typed, and what the
 * gateway makes of them.
 */
import { chanceOf } from '@mast/core/generator'
import { turnDrawn, turnOf, type Drawn } from '@mast/core/uplinks'
import { exactDuration, explainSeconds } from '@mast/core/words'

const site = useSite()
const model = useLater(() => site.opened.model)
const lineId = ref<string>()
const turn = computed(() => turnOf(model.value, lineId.value) ?? turnOf(model.value))
const UNTIL_SECONDS = 1800
const STEP_SECONDS = 5
const names: Record<Drawn['kind'], string> = {
  outage: 'dead',
  loss: 'loses tests',
  flapping: 'comes and goes',
  'brown-out': 'modem without power',
}
const kinds = (Object.keys(names) as Drawn['kind'][]).map((value) => ({
  title: names[value],
  value,
}))
const kind = ref<Drawn['kind']>('loss')
const percent = ref(80)
const every = ref(30)
const drawn = ref<Drawn[]>([{ kind: 'loss', from: 120, seconds: 240, percent: 80 }])
const played = computed(() =>
  turn.value
    ? turnDrawn(model.value, turn.value, drawn.value, UNTIL_SECONDS, chanceOf(1).next)
    : null,
)

const WIDTH = 860
const LEFT = 110
const RIGHT = 12
const x = (at: number): number => LEFT + (at / UNTIL_SECONDS) * (WIDTH - LEFT - RIGHT)
const svg = ref<SVGSVGElement>()
const atPointer = (e: PointerEvent): number => {
  const box = svg.value!.getBoundingClientRect()
  const onDrawing = ((e.clientX - box.left) / box.width) * WIDTH
  const at = ((onDrawing - LEFT) / (WIDTH - LEFT - RIGHT)) * UNTIL_SECONDS
  return Math.round(Math.min(UNTIL_SECONDS, Math.max(0, at)))
}
const made = (from: number, seconds: number): Drawn => ({
  kind: kind.value,
  from,
  seconds,
  percent: percent.value,
  everySeconds: every.value,
})
/** Where a pointer went down, and where it is. */
const pulled = ref<{ from: number; to: number } | null>(null)
function down(e: PointerEvent): void {
  const at = atPointer(e)
  pulled.value = { from: at, to: at }
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
}
function move(e: PointerEvent): void {
  if (pulled.value) pulled.value = { ...pulled.value, to: atPointer(e) }
}
function up(): void {
  const p = pulled.value
  pulled.value = null
  if (!p) return
  const [from, to] = [Math.min(p.from, p.to), Math.max(p.from, p.to)]
  if (to - from >= 1) drawn.value = [...drawn.value, made(from, to - from)]
}
const change = (n: number, changes: Partial<Drawn>): void => {
  drawn.value = drawn.value.map((d, i) => (i === n ? { ...d, ...changes } : d))
}
const remove = (n: number): void => {
  drawn.value = drawn.value.filter((_, i) => i !== n)
}
/** Arrows move it, with Shift its end alone; Delete takes it away. */
function key(e: KeyboardEvent, n: number): void {
  const d = drawn.value[n]!
  const step = e.key === 'ArrowLeft' ? -STEP_SECONDS : e.key === 'ArrowRight' ? STEP_SECONDS : 0
  if (step !== 0) {
    e.preventDefault()
    if (e.shiftKey)
      change(n, {
        seconds: Math.max(1, Math.min(UNTIL_SECONDS - d.from, d.seconds + step)),
      })
    else change(n, { from: Math.max(0, Math.min(UNTIL_SECONDS - d.seconds, d.from + step)) })
  } else if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault()
    remove(n)
  }
}
const typed = reactive({ from: '', seconds: '' })
const refused = ref<string | undefined>()
function add(): void {
  const [begins, lasts] = [explainSeconds(typed.from), explainSeconds(typed.seconds)]
  if (!begins.ok || !lasts.ok) {
    refused.value = !begins.ok ? begins.reason : !lasts.ok ? lasts.reason : undefined
    return
  }
  const [from, seconds] = [begins.value, lasts.value]
  if (seconds < 1 || from + seconds > UNTIL_SECONDS)
    refused.value = `between 0 and ${exactDuration(UNTIL_SECONDS)} is drawn`
  else {
    refused.value = undefined
    drawn.value = [...drawn.value, made(from, seconds)]
    typed.from = typed.seconds = ''
  }
}
const wordsOf = (d: Drawn): string =>
  `${turn.value?.line.name} ${names[d.kind]}` +
  (d.kind === 'loss' ? `, ${d.percent} % of them` : '') +
  (d.kind === 'flapping' ? `, ${d.everySeconds} s each` : '') +
  `, from ${exactDuration(d.from)} for ${exactDuration(d.seconds)}`
const answer = computed(() => {
  const p = played.value
  return p
    ? `Down ${exactDuration(Math.round(p.downSeconds))} in all, over ${p.switches} ` +
        `${p.switches === 1 ? 'time' : 'times'}, back ${p.returns}.`
    : ''
})
const marks = [0, 300, 600, 900, 1200, 1500, 1800]
</script>

<template>
  <section v-if="turn && played" aria-label="Drawn in">
    <h2>What if</h2>
    <p role="status" class="answer">{{ answer }}</p>
    <div class="row no-print">
      <UplinksWhichLine v-model="lineId" />
      <v-select v-model="kind" label="The line" :items="kinds" style="max-width: 220px" />
      <v-text-field
        v-if="kind === 'loss'"
        v-model.number="percent"
        type="number"
        min="0"
        max="100"
        label="Lost"
        suffix="%"
        style="max-width: 110px"
      />
      <v-text-field
        v-if="kind === 'flapping'"
        v-model.number="every"
        type="number"
        min="1"
        label="Each"
        suffix="s"
        style="max-width: 110px"
      />
      <form class="row" aria-label="Type it in" @submit.prevent="add">
        <v-text-field v-model="typed.from" label="From" placeholder="2 min" class="time" />
        <v-text-field v-model="typed.seconds" label="For" placeholder="90 s" class="time" />
        <v-btn type="submit">Draw it</v-btn>
      </form>
    </div>
    <Refusal :says="refused" />
    <div class="scroll-x">
      <svg ref="svg" :viewBox="`0 0 ${WIDTH} 128`" class="draw" role="group" :aria-label="answer">
        <text x="0" y="28" class="name">Drawn</text>
        <text x="0" y="64" class="name">Tests</text>
        <text x="0" y="98" class="name">The site</text>
        <rect
          :x="LEFT"
          y="10"
          :width="WIDTH - LEFT - RIGHT"
          height="28"
          class="lane"
          data-lane
          @pointerdown="down"
          @pointermove="move"
          @pointerup="up"
        />
        <rect
          v-if="pulled"
          :x="x(Math.min(pulled.from, pulled.to))"
          y="12"
          :width="Math.abs(x(pulled.to) - x(pulled.from))"
          height="24"
          class="pulled"
        />
        <g
          v-for="(d, n) in drawn"
          :key="n"
          tabindex="0"
          role="slider"
          :aria-label="wordsOf(d)"
          :aria-valuenow="d.from"
          aria-valuemin="0"
          :aria-valuemax="UNTIL_SECONDS"
          class="fault"
          @keydown="(e) => key(e, n)"
        >
          <rect :x="x(d.from)" y="12" :width="x(d.from + d.seconds) - x(d.from)" height="24" />
          <title>{{ wordsOf(d) }}</title>
        </g>
        <path
          v-for="(r, i) in played.rounds"
          :key="i"
          :d="`M${x(r.at)} ${r.isGood ? 56 : 50} V68`"
          :class="r.isGood ? 'good' : 'bad'"
        />
        <path
          v-for="s in played.spans"
          :key="s.from"
          :d="`M${x(s.from)} 93 H${x(s.to)}`"
          :class="`by-${s.by}`"
        />
        <g v-for="m in marks" :key="m">
          <text
            :x="x(m)"
            y="122"
            :text-anchor="m === UNTIL_SECONDS ? 'end' : 'middle'"
            class="small"
          >
            {{ m / 60 }} min
          </text>
        </g>
      </svg>
    </div>
    <p class="faint">
      Drag on the upper lane, or type. With the keyboard: arrows move what is drawn, Shift and
      arrows its end, Delete takes it away. Thick: by {{ turn.line.name }}; thin: by
      {{ turn.next.name }}; red: no way out.
    </p>
    <ul v-if="drawn.length" class="list" aria-label="What is drawn">
      <li v-for="(d, n) in drawn" :key="n">
        {{ wordsOf(d) }}
        <v-btn
          class="no-print"
          size="small"
          variant="text"
          :aria-label="`Remove: ${wordsOf(d)}`"
          @click="remove(n)"
          >Remove</v-btn
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.answer {
  font-size: 17px;
}
.time {
  max-width: 110px;
  min-width: 90px;
}
.draw {
  width: 100%;
  min-width: 720px;
  max-width: 980px;
  touch-action: pan-y;
}
.lane {
  fill: var(--paper);
  stroke: var(--hair);
  cursor: crosshair;
}
.pulled,
.fault rect {
  fill: var(--action);
  fill-opacity: 0.35;
  stroke: var(--action);
}
.fault:focus-visible rect {
  stroke: var(--ink);
  stroke-width: 3;
}
path {
  fill: none;
  stroke: var(--ink);
}
.good {
  stroke-width: 1;
}
.bad {
  stroke: var(--blocker);
  stroke-width: 1.5;
}
.by-first {
  stroke-width: 7;
}
.by-second {
  stroke-width: 2.5;
}
.by-none {
  stroke: var(--blocker);
  stroke-width: 11;
}
.name {
  font-size: 13px;
  font-weight: 600;
  fill: var(--ink);
}
.small {
  font-size: 11.5px;
  fill: var(--faint);
}
.list {
  list-style: none;
  padding: 0;
  margin: 4px 0 12px;
}
</style>
