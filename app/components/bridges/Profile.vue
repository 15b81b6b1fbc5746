<script setup lang="ts">
/** The path to scale: ground on the bent Earth, obstacles, the Fresnel zone, the beam. Heights are dragged. */
import {
  bulgeM,
  CLEAR_SHARE,
  fresnelRadiusM,
  groundAt,
  tightest,
  topOn,
  USUAL_K,
  type EndName,
} from '@mast/core/bridges'
import type { Bridge, Obstacle } from '@mast/core/plan'
import { useBridge } from './useBridge'

const { reckoned, bridge, shown, drag, change, today } = useBridge()
const WIDTH = 880
const HEIGHT = 300
const box = { left: 56, right: 20, top: 26, bottom: 30 }
/** Points along the drawing. */
const STEPS = 160

interface Drawn {
  readonly metres: number
  readonly x: (m: number) => number
  readonly y: (m: number) => number
  readonly exaggeration: number
  readonly ground: string
  readonly bent: string
  readonly zone: string
  readonly clear: string
  readonly ticksX: readonly number[]
  readonly ticksY: readonly number[]
  readonly obstacles: readonly {
    readonly n: number
    readonly o: Obstacle
    readonly x: number
    readonly w: number
    readonly y: number
    readonly foot: number
  }[]
}
const nice = (span: number, most: number): number => {
  const raw = span / most
  const power = 10 ** Math.floor(Math.log10(raw))
  return power * ([1, 2, 5, 10].find((f) => f * power >= raw) ?? 10)
}
const ticks = (from: number, to: number, most: number): number[] => {
  const step = nice(to - from, most)
  const first = Math.ceil(from / step) * step
  return Array.from({ length: Math.floor((to - first) / step) + 1 }, (_, n) => first + n * step)
}
/** The scale stays while something is dragged, so that it does not run away under the hand. */
const held = shallowRef<{ readonly low: number; readonly high: number } | null>(null)
const bounds = computed(() => {
  const r = reckoned.value
  if (!r) return { low: 0, high: 10 }
  const { a, b, way } = r.budget.facts
  const { points } = r.budget.losses
  const fresnel = fresnelRadiusM(r.budget.facts.mhz, way.metres / 2, way.metres / 2)
  const high = Math.max(
    ...points.map((p) => p.topM + p.bulgeM),
    Math.max(a.topM, b.topM, (a.topM + b.topM) / 2 + fresnel),
  )
  const low = Math.min(a.groundM, b.groundM, ...points.map((p) => p.groundM))
  const room = Math.max(2, (high - low) * 0.08)
  return { low: low - room / 2, high: high + room }
})
const drawn = computed<Drawn | null>(() => {
  const r = reckoned.value
  if (!r) return null
  const { a, b, way, mhz } = r.budget.facts
  const { metres } = way
  const { low, high } = held.value ?? bounds.value
  const xScale = (WIDTH - box.left - box.right) / metres
  const yScale = (HEIGHT - box.top - box.bottom) / (high - low)
  const x = (m: number): number => box.left + m * xScale
  const y = (m: number): number => HEIGHT - box.bottom - (m - low) * yScale
  const at = Array.from({ length: STEPS + 1 }, (_, n) => (metres * n) / STEPS)
  const ends = (m: number): number => a.groundM + ((b.groundM - a.groundM) * m) / metres
  const groundOf = (m: number): number => groundAt(r.bridge.ground, m) ?? ends(m)
  const all = [...at, ...r.bridge.ground.map((g) => g.atM).filter((m) => m < metres)].sort(
    (p, q) => p - q,
  )
  // Of a long list of heights no more than the drawing has room for.
  const thin = all.filter((_, n) => all.length < 800 || n % Math.ceil(all.length / 800) === 0)
  const line = (k: number): string =>
    thin
      .map((m) => `${x(m).toFixed(1)} ${y(groundOf(m) + bulgeM(m, metres - m, k)).toFixed(1)}`)
      .join('L')
  const beam = (m: number): number => a.topM + ((b.topM - a.topM) * m) / metres
  const around = (share: number): string => {
    const up = at.map((m) => [m, beam(m) + share * fresnelRadiusM(mhz, m, metres - m)] as const)
    const down = at.map((m) => [m, beam(m) - share * fresnelRadiusM(mhz, m, metres - m)] as const)
    return `M${[...up, ...down.reverse()].map(([m, h]) => `${x(m).toFixed(1)} ${y(h).toFixed(1)}`).join('L')}Z`
  }
  return {
    metres,
    x,
    y,
    exaggeration: yScale / xScale,
    ground: `M${x(0)} ${HEIGHT - box.bottom}L${line(USUAL_K)}L${x(metres)} ${HEIGHT - box.bottom}Z`,
    bent: `M${line(r.budget.losses.unfavourable.k)}`,
    zone: around(1),
    clear: around(CLEAR_SHARE),
    ticksX: ticks(0, metres, 8),
    ticksY: ticks(low, high, 6),
    obstacles: r.bridge.obstacles.flatMap((o, n) => {
      if (o.atM >= metres) return []
      const middle = Math.min(metres, o.atM + o.lengthM / 2)
      const foot = groundOf(middle) + bulgeM(middle, metres - middle, USUAL_K)
      const w = Math.max(3, Math.min(o.lengthM, metres - o.atM) * xScale)
      return [{ n, o, x: x(o.atM), w, y: y(foot + topOn(o, today)), foot: y(foot) }]
    }),
  }
})
const worst = computed(() =>
  reckoned.value ? tightest(reckoned.value.budget.losses.points) : undefined,
)
/** The half-power beams, as far as the drawing goes. */
const beams = computed(() => {
  const r = reckoned.value
  const d = drawn.value
  if (!r || !d) return []
  const { a, b } = r.budget.facts
  return ([a, b] as const).map((e) => {
    const [from, to] = e.name === 'a' ? [0, d.metres] : [d.metres, 0]
    const other = e.name === 'a' ? b : a
    const half = Math.tan((Math.min(80, e.antenna.heightDegrees / 2) * Math.PI) / 180) * d.metres
    return `M${d.x(from)} ${d.y(e.topM)}L${d.x(to)} ${d.y(other.topM + half)}L${d.x(to)} ${d.y(other.topM - half)}Z`
  })
})

const svg = useTemplateRef<SVGSVGElement>('svg')
type Grip =
  | { readonly kind: 'end'; readonly end: EndName }
  | { readonly kind: 'obstacle'; readonly n: number }
let grip: Grip | null = null
let began = { x: 0, y: 0, bridge: null as Bridge | null }
function take(e: PointerEvent, what: Grip): void {
  grip = what
  held.value = bounds.value
  began = { x: e.clientX, y: e.clientY, bridge: bridge.value }
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
}
const tenth = (m: number): number => Math.round(m * 10) / 10
const heightOf = (end: EndName): number => reckoned.value?.budget.facts[end].heightM ?? 0
let startHeight = 0
function changesBy(
  what: Grip,
  dx: number,
  dy: number,
  from: Bridge,
  height: number,
): Partial<Bridge> {
  if (what.kind === 'end')
    return {
      [what.end]: { ...from[what.end], heightM: Math.min(1000, Math.max(0, tenth(height + dy))) },
    }
  return {
    obstacles: from.obstacles.map((o, n) =>
      n === what.n
        ? {
            ...o,
            topM: Math.min(1000, Math.max(0, tenth(o.topM + dy))),
            atM: Math.min(drawn.value?.metres ?? o.atM, Math.max(0, tenth(o.atM + dx))),
          }
        : o,
    ),
  }
}
let moved: Partial<Bridge> | null = null
function move(e: PointerEvent): void {
  const d = drawn.value
  const frame = svg.value?.getBoundingClientRect()
  if (!grip || !d || !frame || !began.bridge) return
  const perPixel = WIDTH / frame.width
  const { low, high } = held.value ?? bounds.value
  const dy = ((began.y - e.clientY) * perPixel * (high - low)) / (HEIGHT - box.top - box.bottom)
  const dx = ((e.clientX - began.x) * perPixel * d.metres) / (WIDTH - box.left - box.right)
  moved = changesBy(grip, grip.kind === 'obstacle' ? dx : 0, dy, began.bridge, startHeight)
  drag(moved)
}
const refused = ref<string | undefined>()
function drop(): void {
  if (grip && moved) refused.value = change(moved)
  grip = null
  moved = null
  held.value = null
  drag(null)
}
function begin(e: PointerEvent, what: Grip): void {
  if (what.kind === 'end') startHeight = heightOf(what.end)
  take(e, what)
}
function key(e: KeyboardEvent, what: Grip): void {
  const by = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[e.key]
  if (!by || !bridge.value || (what.kind === 'end' && by[0] !== 0)) return
  e.preventDefault()
  const step = e.shiftKey ? 1 : 0.1
  const along = what.kind === 'obstacle' ? by[0]! * step * 10 : 0
  refused.value = change(
    changesBy(
      what,
      along,
      by[1]! * step,
      bridge.value,
      what.kind === 'end' ? heightOf(what.end) : 0,
    ),
  )
}
const metresText = (m: number): string =>
  (drawn.value?.metres ?? 0) >= 3000 ? `${tenth(m / 1000)} km` : `${Math.round(m)} m`
</script>

<template>
  <section v-if="drawn && reckoned && shown" aria-label="Profile of the path">
    <h2>Profile</h2>
    <svg
      ref="svg"
      class="profile"
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      role="group"
      :aria-label="`The path of ${shown.name}, ${metresText(drawn.metres)}`"
      @pointermove="move"
      @pointerup="drop"
      @pointercancel="drop"
    >
      <defs>
        <clipPath id="profile-frame">
          <rect
            :x="box.left"
            :y="box.top"
            :width="WIDTH - box.left - box.right"
            :height="HEIGHT - box.top - box.bottom"
          />
        </clipPath>
        <pattern id="profile-ground" width="6" height="6" patternUnits="userSpaceOnUse">
          <path d="M0 6L6 0" class="hatch" />
        </pattern>
      </defs>
      <g class="axis">
        <template v-for="t in drawn.ticksY" :key="`y${t}`">
          <line :x1="box.left" :x2="WIDTH - box.right" :y1="drawn.y(t)" :y2="drawn.y(t)" />
          <text :x="box.left - 12" :y="drawn.y(t) + 4" text-anchor="end">{{ tenth(t) }}</text>
        </template>
        <text :x="box.left - 12" :y="14" text-anchor="end">m</text>
        <text
          v-for="t in drawn.ticksX"
          :key="`x${t}`"
          :x="drawn.x(t)"
          :y="HEIGHT - 10"
          text-anchor="middle"
        >
          {{ metresText(t) }}
        </text>
      </g>
      <g clip-path="url(#profile-frame)">
        <path v-for="(p, n) in beams" :key="n" :d="p" class="beam-width" />
        <path :d="drawn.zone" class="zone" />
        <path :d="drawn.clear" class="zone inner" />
        <path :d="drawn.ground" class="ground" fill="url(#profile-ground)" />
        <path :d="drawn.bent" class="bent" />
        <g v-for="o in drawn.obstacles" :key="o.n">
          <rect
            :x="o.x"
            :y="o.y"
            :width="o.w"
            :height="Math.max(0, o.foot - o.y)"
            class="obstacle"
            :class="o.o.kind"
          />
        </g>
        <line
          class="beam"
          :x1="drawn.x(0)"
          :x2="drawn.x(drawn.metres)"
          :y1="drawn.y(reckoned.budget.facts.a.topM)"
          :y2="drawn.y(reckoned.budget.facts.b.topM)"
        />
        <g v-if="worst" :class="worst.share < CLEAR_SHARE ? 'tight' : 'free'">
          <line
            :x1="drawn.x(worst.atM)"
            :x2="drawn.x(worst.atM)"
            :y1="drawn.y(worst.beamM)"
            :y2="drawn.y(worst.topM + worst.bulgeM)"
          />
        </g>
      </g>
      <text
        v-if="worst"
        class="note"
        :class="{ bad: worst.share < CLEAR_SHARE }"
        :x="Math.min(WIDTH - 150, Math.max(box.left + 4, drawn.x(worst.atM) + 6))"
        :y="Math.max(box.top + 12, drawn.y(worst.beamM) - 8)"
      >
        {{ Math.round(worst.share * 100) }} % free, {{ worst.clearM.toFixed(1) }} m
      </text>
      <g v-for="end in ['a', 'b'] as const" :key="end" class="end">
        <line
          class="mast"
          :x1="drawn.x(end === 'a' ? 0 : drawn.metres)"
          :x2="drawn.x(end === 'a' ? 0 : drawn.metres)"
          :y1="drawn.y(reckoned.budget.facts[end].groundM)"
          :y2="drawn.y(reckoned.budget.facts[end].topM)"
        />
        <circle
          class="grip"
          tabindex="0"
          role="slider"
          :aria-label="`Height of ${reckoned.budget.facts[end].device.name}`"
          :aria-valuenow="reckoned.budget.facts[end].heightM"
          aria-valuemin="0"
          aria-valuemax="1000"
          :aria-valuetext="`${reckoned.budget.facts[end].heightM} m above the ground`"
          :cx="drawn.x(end === 'a' ? 0 : drawn.metres)"
          :cy="drawn.y(reckoned.budget.facts[end].topM)"
          r="7"
          @pointerdown.prevent="(e) => begin(e, { kind: 'end', end })"
          @keydown="(e) => key(e, { kind: 'end', end })"
        />
        <text
          class="note"
          :text-anchor="end === 'a' ? 'start' : 'end'"
          :x="end === 'a' ? box.left + 10 : WIDTH - box.right - 10"
          :y="16"
        >
          {{ end === 'a' ? 'A' : 'B' }} {{ reckoned.budget.facts[end].device.name }},
          {{ reckoned.budget.facts[end].heightM }} m
        </text>
      </g>
      <g v-for="o in drawn.obstacles" :key="`g${o.n}`">
        <rect
          class="grip"
          tabindex="0"
          role="slider"
          :aria-label="`Top of ${o.o.name}`"
          :aria-valuenow="o.o.topM"
          aria-valuemin="0"
          aria-valuemax="1000"
          :aria-valuetext="`${o.o.topM} m above the ground, at ${o.o.atM} m`"
          :x="o.x + o.w / 2 - 6"
          :y="o.y - 6"
          width="12"
          height="12"
          @pointerdown.prevent="(e) => begin(e, { kind: 'obstacle', n: o.n })"
          @keydown="(e) => key(e, { kind: 'obstacle', n: o.n })"
        />
        <text
          class="note"
          :x="o.x + o.w / 2"
          :y="Math.min(HEIGHT - 34, o.foot - 6)"
          text-anchor="middle"
        >
          {{ o.o.name }}
        </text>
      </g>
    </svg>
    <p class="faint legend">
      Heights are drawn {{ drawn.exaggeration.toFixed(0) }} times as large as lengths. Shaded: the
      first Fresnel zone, and 60 % of it, which is to be free. Dashed: the ground in unfavourable
      air, k = {{ reckoned.budget.losses.unfavourable.k.toFixed(2) }}. Squares and circles are
      dragged, or moved with the arrows.
    </p>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.profile {
  width: 100%;
  height: auto;
  display: block;
  touch-action: none;
}
.axis line {
  stroke: var(--hair);
  stroke-width: 0.5;
}
.axis text {
  font-family: var(--mono);
  font-size: 11px;
  fill: var(--faint);
}
.hatch {
  stroke: var(--hair);
  stroke-width: 1;
}
.ground {
  stroke: var(--ink);
  stroke-width: 1;
}
.bent {
  fill: none;
  stroke: var(--faint);
  stroke-width: 0.8;
  stroke-dasharray: 4 3;
}
.zone {
  fill: var(--action);
  fill-opacity: 0.08;
  stroke: var(--action);
  stroke-width: 0.6;
}
.zone.inner {
  fill-opacity: 0.12;
  stroke-dasharray: 3 2;
}
.beam-width {
  fill: none;
  stroke: var(--hair);
  stroke-width: 0.8;
  stroke-dasharray: 1 3;
}
.beam {
  stroke: var(--action);
  stroke-width: 1.4;
}
.obstacle {
  fill: var(--paper);
  fill-opacity: 0.85;
  stroke: var(--ink);
  stroke-width: 1;
}
.obstacle.trees {
  stroke-dasharray: 2 2;
}
.obstacle.masts,
.obstacle.crane {
  stroke-dasharray: 6 2;
}
.mast {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.grip {
  fill: var(--paper);
  stroke: var(--action);
  stroke-width: 2;
  cursor: ns-resize;
}
.grip:focus-visible {
  fill: var(--action);
  outline: none;
}
.tight line {
  stroke: var(--blocker);
  stroke-width: 2;
}
.free line {
  stroke: var(--proven);
  stroke-width: 1.5;
}
.note {
  font-size: 12px;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.note.bad {
  fill: var(--blocker);
}
.legend {
  font-size: 12.5px;
  margin: 4px 0 0;
}
</style>
