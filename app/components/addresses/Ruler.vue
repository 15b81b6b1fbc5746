<script setup lang="ts">
/**
 * The ruler: the address space to scale, subnets as spans, gaps as gaps; below it one subnet
 * enlarged with its pools and fixed addresses.
 */
import {
  address,
  containsPrefix,
  formatAddress,
  formatPrefix,
  freeBlocks,
  freeCount,
  lastOf,
  parsePrefix,
  prefix,
  prefixSize,
  usableRange,
  type Prefix,
} from '@mast/core/addressing'
import { inPlan, foreignPrefixes, type Segment } from '@mast/core/plan'
import { strandOf } from '~/components/drawing/strands'
import { resized, rulerScale, ticks as ticksOf, type View } from './rulerScale'

const WIDTH = 900
const EDGE = 14
const site = useSite()
const family = ref<4 | 6>(4)
const zoomed = ref<Prefix | null>(null)
const gap = ref<Prefix | null>(null)
const refused = ref<string | undefined>()
const spaces = computed(() =>
  (family.value === 4
    ? site.opened.plan.site.addressSpace
    : site.opened.plan.site.addressSpace6
  ).flatMap((t) => parsePrefix(t) ?? []),
)
const placed = computed(() =>
  site.opened.model.segments.flatMap((s) => {
    const t = family.value === 4 ? s.subnet : s.subnet6
    const p = t ? parsePrefix(t) : undefined
    return p ? [{ s, p }] : []
  }),
)
watch([() => site.opened.plan.site.addressSpace.join(), family], () => {
  zoomed.value = null
  gap.value = null
})

/**
 * What is drawn: the zoomed span, or a run of addresses around what is placed, so that small
 * subnets in a large space can be seen.
 */
const view = computed<View>(() => {
  if (zoomed.value)
    return { family: family.value, first: zoomed.value.network, last: lastOf(zoomed.value) }
  const space = spaces.value[0] ?? prefix(family.value === 4 ? '10.0.0.0/8' : 'fd00::/8')
  const inside = placed.value.filter(
    ({ p }) => p.network >= space.network && p.network <= lastOf(space),
  )
  if (inside.length === 0)
    return { family: family.value, first: space.network, last: lastOf(space) }
  const first = inside.reduce((m, { p }) => (p.network < m ? p.network : m), lastOf(space))
  const last = inside.reduce((m, { p }) => (lastOf(p) > m ? lastOf(p) : m), space.network)
  const pad = (last - first) / 10n + (family.value === 4 ? 256n : 1n << 64n)
  return {
    family: family.value,
    first: first - pad > space.network ? first - pad : space.network,
    last: last + pad < lastOf(space) ? last + pad : lastOf(space),
  }
})
const scale = computed(() => rulerScale(view.value, EDGE, WIDTH - EDGE))
const at = (value: bigint): number => scale.value.at(value)
const text = (value: bigint): string => formatAddress({ family: family.value, value })
const isIn = (p: Prefix): boolean => lastOf(p) >= view.value.first && p.network <= view.value.last
const left = (p: Prefix): number => Math.max(EDGE, at(p.network))
const width = (p: Prefix): number =>
  Math.max(3, Math.min(WIDTH - EDGE, at(lastOf(p) + 1n)) - left(p))

/** A span that is being pulled at, until it is let go. */
const pulled = ref<{ segmentId: string; to: Prefix } | null>(null)
const spans = computed(() => {
  const shown = placed.value.filter(({ p }) => isIn(p))
  const named = shown.length <= 24
  return shown.map(({ s, p: own }, i, all) => {
    const p = pulled.value?.segmentId === s.id ? pulled.value.to : own
    return {
      s,
      p,
      left: left(p),
      width: width(p),
      clash: all.some((o) => o.s !== s && o.p.network <= lastOf(p) && p.network <= lastOf(o.p)),
      row: i % 2,
      named: named || hot(s.id),
    }
  })
})
/** Where a change of ours that is in conflict would put a subnet. */
const mine = computed(() =>
  Object.values(site.minePlan?.segments ?? {}).flatMap((s) => {
    const p =
      family.value === 4 &&
      site.inDispute.has(s.id) &&
      s.subnet &&
      s.subnet !== site.opened.plan.segments[s.id]?.subnet
        ? parsePrefix(s.subnet)
        : undefined
    return p && isIn(p) ? [{ s, left: left(p), width: width(p) }] : []
  }),
)
const foreign = computed(() =>
  foreignPrefixes(site.opened.plan).filter((p) => p.family === family.value && isIn(p)),
)
const free = computed(() =>
  freeBlocks(spaces.value, [...placed.value.map((o) => o.p), ...foreignPrefixes(site.opened.plan)]),
)
/** Free blocks that can be seen at this scale. */
const gaps = computed(() => free.value.filter((b) => isIn(b) && width(b) >= 5).slice(0, 200))
const freeText = computed(
  () =>
    `${countText(freeCount(free.value))} addresses free of ` +
    `${countText(spaces.value.reduce((n, s) => n + prefixSize(s), 0n))}`,
)
const percent = computed(() => {
  const all = spaces.value.reduce((n, s) => n + prefixSize(s), 0n)
  return all === 0n ? 0 : Number((freeCount(free.value) * 1000n) / all) / 10
})
const sixCount = computed(() =>
  family.value === 6 ? `${countText(freeCount(free.value) >> 64n)} /64s free` : '',
)
const hot = (id: string): boolean => site.selected === id || site.pointed.includes(id)
const chosen = computed<Segment | undefined>(
  () =>
    site.opened.model.segments.find((s) => s.id === site.selected && s.subnet) ??
    site.opened.model.segments.find((s) => s.subnet),
)

/** A pool whose edge is being pulled. */
const pulledPool = ref<{ index: number; first: string; last: string } | null>(null)
const inner = computed(() => {
  const s = chosen.value
  const p = s?.subnet ? parsePrefix(s.subnet) : undefined
  if (!s || !p) return null
  const own = rulerScale({ family: 4, first: p.network, last: lastOf(p) }, EDGE, WIDTH - EDGE)
  const span = (a: string, b: string): { x: number; w: number } => ({
    x: own.at(address(a).value),
    w: Math.max(2, own.at(address(b).value + 1n) - own.at(address(a).value)),
  })
  const middle = (a: string): number =>
    (own.at(address(a).value) + own.at(address(a).value + 1n)) / 2
  const fixed = site
    .model!.membersOf(s.id)
    .filter((d) => d.addressing.mode !== 'automatic' && d.addressing.address)
    .map((d) => ({ d, x: middle(d.addressing.address!) }))
  const theirs = site.inDispute.has(s.id) ? site.minePlan?.segments[s.id]?.pools : undefined
  const minePools =
    theirs && JSON.stringify(theirs) !== JSON.stringify(s.pools)
      ? theirs.map((o) => ({ ...span(o.first, o.last), text: `${o.first} to ${o.last}` }))
      : []
  const pools = s.pools.map((o, index) => {
    const now = pulledPool.value?.index === index ? pulledPool.value : o
    return { index, first: now.first, last: now.last, ...span(now.first, now.last) }
  })
  return {
    s,
    p,
    scale: own,
    minePools,
    pools,
    block: s.fixedBlock ? span(s.fixedBlock.first, s.fixedBlock.last) : null,
    gateway: s.gateway ? middle(s.gateway) : null,
    fixed,
    colour: strandOf(site.opened.model.segments, s.id).colour,
  }
})

/** Where in the drawing a pointer is. */
function pointAt(event: PointerEvent): number {
  const box = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect()
  return ((event.clientX - box.left) / box.width) * WIDTH
}
const grab = (event: PointerEvent): void =>
  (event.currentTarget as SVGElement).setPointerCapture(event.pointerId)
const holds = (event: PointerEvent): boolean =>
  (event.currentTarget as SVGElement).hasPointerCapture(event.pointerId)

function pullSpan(event: PointerEvent, s: Segment): void {
  if (!holds(event) || family.value === 6) return
  pulled.value = {
    segmentId: s.id,
    to: resized(parsePrefix(s.subnet!)!, scale.value.from(pointAt(event))),
  }
}
function dropSpan(s: Segment): void {
  const to = pulled.value?.to
  pulled.value = null
  if (to && formatPrefix(to) !== s.subnet)
    refused.value = site.edit('setSubnet', { segmentId: s.id, subnet: formatPrefix(to) })
}
/** The edge of a pool may go as far as hosts may have addresses, and not past the other edge. */
function edgeTo(
  index: number,
  which: 'first' | 'last',
  value: bigint,
): { index: number; first: string; last: string } {
  const pool = inner.value!.s.pools[index]!
  const usable = usableRange(inner.value!.p)
  const limit = address(which === 'first' ? pool.last : pool.first).value
  const low = which === 'first' ? usable.first : limit
  const high = which === 'first' ? limit : usable.last
  const held = value < low ? low : value > high ? high : value
  return {
    index,
    first: which === 'first' ? formatAddress({ family: 4, value: held }) : pool.first,
    last: which === 'last' ? formatAddress({ family: 4, value: held }) : pool.last,
  }
}
function pullEdge(event: PointerEvent, index: number, which: 'first' | 'last'): void {
  if (!holds(event)) return
  const value = inner.value!.scale.from(pointAt(event))
  pulledPool.value = edgeTo(index, which, which === 'last' ? value - 1n : value)
}
function dropEdge(): void {
  const to = pulledPool.value
  pulledPool.value = null
  if (to) save(to)
}
const save = (to: { index: number; first: string; last: string }): void => {
  refused.value = site.edit('setPool', {
    segmentId: inner.value!.s.id,
    first: to.first,
    last: to.last,
    index: to.index,
  })
}
function nudge(event: KeyboardEvent, index: number, which: 'first' | 'last'): void {
  const step = { ArrowLeft: -1n, ArrowRight: 1n, PageDown: -16n, PageUp: 16n }[event.key]
  if (step === undefined) return
  event.preventDefault()
  save(edgeTo(index, which, address(inner.value!.s.pools[index]![which]).value + step))
}
const unplaced = computed(() =>
  site.opened.model.segments.map((s) => ({
    title:
      `${s.vlanId} ` +
      (`${s.name}` +
        `${(family.value === 4 ? s.subnet : s.subnet6) ? ` (now ${family.value === 4 ? s.subnet : s.subnet6})` : ''}`),
    value: s.id,
  })),
)
function put(segmentId: string): void {
  if (!gap.value) return
  const need = inPlan(site.opened.plan.segments, segmentId)
  const wanted =
    family.value === 6
      ? 64
      : Math.max(
          gap.value.length,
          Math.min(
            29,
            32 - Math.ceil(Math.log2(need.expectedHosts * (1 + need.growthPercent / 100) + 11)),
          ),
        )
  const subnet = formatPrefix({ ...gap.value, length: family.value === 6 ? 64 : wanted })
  refused.value =
    family.value === 6
      ? site.edit('changeSegment', { id: segmentId, changes: { subnet6: subnet } })
      : site.edit('setSubnet', { segmentId, subnet })
  if (!refused.value) {
    gap.value = null
    site.selected = segmentId
  }
}
const outOf = computed(() =>
  zoomed.value
    ? spaces.value.find((s) => containsPrefix(s, zoomed.value!) && s.length < zoomed.value!.length)
    : undefined,
)
</script>

<template>
  <figure class="ruler">
    <svg
      data-drawing
      :viewBox="`0 0 ${WIDTH} 132`"
      role="group"
      :aria-label="
        `Address space ${spaces.map(formatPrefix).join(', ') || 'none'} ` +
        `with ${placed.length} subnets; ${percent} % free`
      "
    >
      <line :x1="EDGE" :x2="WIDTH - EDGE" y1="78" y2="78" class="axis" />
      <g v-for="t in ticksOf(view)" :key="String(t.value)">
        <line :x1="at(t.value)" :x2="at(t.value)" y1="78" y2="86" class="axis" />
        <text :x="at(t.value)" y="100" text-anchor="middle" class="tick">{{ t.text }}</text>
      </g>
      <rect
        v-for="f in foreign"
        :key="`f${f.network}/${f.length}`"
        :x="left(f)"
        :width="width(f)"
        y="30"
        height="48"
        class="foreign"
      />
      <rect
        v-for="b in gaps"
        :key="`g${b.network}/${b.length}`"
        :x="left(b) + 0.5"
        :width="width(b) - 1"
        y="48"
        height="26"
        class="gap"
        :class="{ hot: gap && gap.network === b.network && gap.length === b.length }"
        role="button"
        tabindex="0"
        :aria-label="`Free: a /${b.length} fits at ${text(b.network)}`"
        @click="gap = b"
        @keydown.enter="gap = b"
      >
        <title>A /{{ b.length }} fits here, {{ formatPrefix(b) }}</title>
      </rect>
      <g
        v-for="span in spans"
        :key="span.s.id"
        class="span"
        :class="{ hot: hot(span.s.id), clash: span.clash }"
      >
        <g
          tabindex="0"
          role="button"
          :aria-label="`${span.s.name} ${formatPrefix(span.p)}`"
          @click="site.selected = span.s.id"
          @dblclick="zoomed = span.p"
          @keydown.enter="site.selected = span.s.id"
        >
          <rect
            :x="span.left"
            :width="span.width"
            y="44"
            height="34"
            :style="{ fill: strandOf(site.opened.model.segments, span.s.id).colour }"
          />
          <template v-if="span.named">
            <line
              :x1="span.left + span.width / 2"
              :x2="span.left + span.width / 2"
              y1="44"
              :y2="span.row ? 16 : 32"
              class="leader"
            />
            <text
              :x="Math.min(WIDTH - 60, Math.max(50, span.left + span.width / 2))"
              :y="span.row ? 13 : 29"
              text-anchor="middle"
              class="name"
            >
              {{ span.s.vlanId }} {{ span.s.name }}
            </text>
          </template>
        </g>
        <rect
          v-if="family === 4 && !span.s.locked && hot(span.s.id)"
          :x="span.left + span.width - 4"
          y="40"
          width="8"
          height="42"
          class="handle"
          @pointerdown="grab"
          @pointermove="(e) => pullSpan(e, span.s)"
          @pointerup="dropSpan(span.s)"
        >
          <title>Pull to make {{ span.s.name }} larger or smaller</title>
        </rect>
        <text
          v-if="pulled && pulled.segmentId === span.s.id"
          :x="span.left + 4"
          y="66"
          class="name"
        >
          /{{ span.p.length }}
        </text>
      </g>
      <g v-for="m in mine" :key="`mine-${m.s.id}`" class="mine">
        <rect :x="m.left" :width="m.width" y="40" height="42" />
        <text :x="m.left + m.width / 2" y="66" text-anchor="middle" class="name">
          mine: {{ m.s.name }}
        </text>
      </g>
      <text :x="WIDTH - EDGE" y="124" text-anchor="end" class="tick">
        {{
          family === 4
            ? `${freeText} in ${spaces.map(formatPrefix).join(', ')} (${percent} %)`
            : `${sixCount} in ${spaces.map(formatPrefix).join(', ') || 'no IPv6 space'}`
        }}
      </text>
      <text :x="EDGE" y="124" class="tick">
        drawn {{ text(view.first) }} to {{ text(view.last) }}
      </text>
    </svg>
    <div v-if="gap" class="in-place row no-print" aria-label="The gap">
      <span
        >A <b class="mono">/{{ gap.length }}</b> fits at
        <b class="mono">{{ formatPrefix(gap) }}</b>.</span
      >
      <v-select
        label="Put a segment here"
        :items="unplaced"
        :model-value="null"
        style="max-width: 340px"
        @update:model-value="(id) => id && put(id)"
      />
      <v-btn size="small" variant="text" @click="zoomed = gap">Zoom in</v-btn
      ><v-btn size="small" variant="text" @click="gap = null">Leave it</v-btn>
    </div>
    <svg
      v-if="inner && family === 4"
      :viewBox="`0 0 ${WIDTH} 96`"
      role="group"
      :aria-label="`${inner.s.name} enlarged`"
    >
      <text :x="EDGE" y="14" class="name">
        {{ inner.s.name }} {{ inner.s.subnet }}{{ inner.s.locked ? ', locked in place' : '' }}
      </text>
      <rect :x="EDGE" :width="WIDTH - 2 * EDGE" y="34" height="26" class="frame" />
      <rect
        v-if="inner.block"
        :x="inner.block.x"
        :width="inner.block.w"
        y="34"
        height="26"
        class="block"
      />
      <g v-for="p in inner.pools" :key="p.index">
        <rect
          :x="p.x"
          :width="p.w"
          y="34"
          height="26"
          :style="{ fill: inner.colour }"
          class="pool"
        />
        <rect
          v-for="which in ['first', 'last'] as const"
          :key="which"
          :x="(which === 'first' ? p.x : p.x + p.w) - 4"
          y="31"
          width="8"
          height="32"
          class="handle no-print"
          role="slider"
          tabindex="0"
          :aria-label="`${which === 'first' ? 'Start' : 'End'} of the pool of ${inner.s.name}`"
          :aria-valuetext="p[which]"
          :aria-valuenow="Number(address(p[which]).value - inner.p.network)"
          :aria-valuemin="0"
          :aria-valuemax="Number(prefixSize(inner.p))"
          @pointerdown="grab"
          @pointermove="(e) => pullEdge(e, p.index, which)"
          @pointerup="dropEdge"
          @keydown="(e) => nudge(e, p.index, which)"
        />
        <text :x="p.x + p.w / 2" y="28" text-anchor="middle" class="tick">
          pool {{ p.first }} to {{ p.last }}
        </text>
      </g>
      <g v-for="(m, i) in inner.minePools" :key="`m${i}`" class="mine">
        <rect :x="m.x" :width="m.w" y="38" height="18" />
        <text :x="m.x + 6" y="51" class="tick">mine: {{ m.text }}</text>
      </g>
      <g v-for="f in inner.fixed" :key="f.d.id">
        <line :x1="f.x" :x2="f.x" y1="30" y2="64" class="pin" />
        <title>{{ f.d.name }} {{ f.d.addressing.address }}</title>
      </g>
      <path v-if="inner.gateway !== null" :d="`M${inner.gateway} 66 l-5 9 h10 z`" class="gateway" />
      <text
        v-if="inner.gateway !== null"
        :x="Math.min(WIDTH - 130, Math.max(EDGE, inner.gateway - 4))"
        y="89"
        class="tick"
      >
        gateway {{ inner.s.gateway }}
      </text>
      <text v-if="inner.fixed.length" :x="WIDTH / 2" y="89" text-anchor="middle" class="tick">
        {{ inner.fixed.length }} fixed or reserved, drawn as pins
      </text>
    </svg>
    <figcaption class="row no-print">
      <span role="group" aria-label="Family of addresses"
        ><button
          v-for="f in [4, 6] as const"
          :key="f"
          type="button"
          class="tab"
          :class="{ on: family === f }"
          :aria-pressed="family === f"
          @click="family = f"
        >
          IPv{{ f }}
        </button></span
      >
      <v-btn v-if="zoomed" size="small" variant="text" @click="zoomed = null">What is placed</v-btn>
      <v-btn
        v-if="outOf"
        size="small"
        variant="text"
        @click="
          zoomed = {
            ...zoomed!,
            length: zoomed!.length - 1,
            network:
              (zoomed!.network >> BigInt((family === 4 ? 32 : 128) - zoomed!.length + 1)) <<
              BigInt((family === 4 ? 32 : 128) - zoomed!.length + 1),
          }
        "
        >Twice as wide</v-btn
      >
      <v-btn
        v-for="s in spaces"
        :key="formatPrefix(s)"
        size="small"
        variant="text"
        @click="zoomed = s"
        >Whole {{ formatPrefix(s) }}</v-btn
      >
      <v-btn
        v-if="chosen?.subnet && family === 4"
        size="small"
        variant="text"
        @click="zoomed = parsePrefix(chosen.subnet)!"
        >Zoom to {{ chosen.name }}</v-btn
      >
      <span v-if="family === 6 && !spaces.length" class="faint"
        >No IPv6 space yet: record the delegated prefix above, or take one of your own under
        fd00::/8.</span
      >
    </figcaption>
    <p v-if="refused" class="mark blockers" style="white-space: normal" role="alert">
      {{ refused }}
    </p>
  </figure>
</template>

<style scoped>
.ruler {
  margin: 0 0 12px;
  overflow-x: auto;
}
svg {
  width: 100%;
  min-width: 640px;
  display: block;
  font-family: var(--text);
}
.axis {
  stroke: var(--ink);
}
.leader {
  stroke: var(--hair);
}
.tick {
  font: 11px var(--mono);
  fill: var(--faint);
}
.name {
  font-size: 12.5px;
  fill: var(--ink);
}
.span rect {
  opacity: 0.85;
  stroke: var(--paper);
}
.span > g {
  cursor: pointer;
  outline: none;
}
.span.hot rect,
.span > g:focus-visible rect {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.span.hot .name {
  font-weight: 700;
}
.span.clash rect {
  stroke: var(--blocker);
  stroke-width: 3;
  stroke-dasharray: 5 3;
}
.gap {
  fill: transparent;
  stroke: var(--hair);
  stroke-dasharray: 2 3;
  cursor: pointer;
  outline: none;
}
.gap:hover,
.gap:focus-visible,
.gap.hot {
  fill: var(--selection);
  stroke: var(--ink);
}
.handle {
  fill: var(--ink);
  opacity: 0.001;
  cursor: ew-resize;
  touch-action: none;
}
.handle:hover,
.handle:focus-visible {
  opacity: 0.75;
  outline: none;
}
.span.hot .handle {
  opacity: 0.5;
  stroke: none;
}
.mine rect {
  fill: none;
  stroke: var(--blocker);
  stroke-width: 2;
  stroke-dasharray: 6 3;
}
.mine text {
  fill: var(--blocker);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.foreign {
  fill: none;
  stroke: var(--caution);
  stroke-dasharray: 3 3;
}
.frame {
  fill: none;
  stroke: var(--ink);
}
.block {
  fill: var(--selection);
  stroke: var(--hair);
}
.pool {
  opacity: 0.35;
}
.pin {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.gateway {
  fill: var(--ink);
}
figcaption {
  margin-top: 4px;
}
</style>
