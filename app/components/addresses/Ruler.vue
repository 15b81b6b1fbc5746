<script setup lang="ts">
/** The ruler: the address space to scale, subnets as spans, gaps as gaps; below it one subnet enlarged with its pool and fixed addresses. */
import { address, formatAddress, gaps, lastOf, parsePrefix, prefix, prefixSize, type Prefix } from '@mast/core/addressing'
import { foreignPrefixes, type Segment } from '@mast/core/plan'
import { scaleLinear } from 'd3-scale'
import { strandOf } from '~/components/drawing/strands'

const WIDTH = 900
const EDGE = 14
const site = useSite()
const spaces = computed(() => site.plan!.site.addressSpace.map(prefix))
const placed = computed(() => site.model!.segments.flatMap((s) => { const p = s.subnet ? parsePrefix(s.subnet) : undefined; return p ? [{ s, p }] : [] }))
const zoomed = ref<Prefix | null>(null)
watch(spaces, () => { zoomed.value = null })

/** What is drawn: a run of addresses around what is placed, so that small subnets in a large space can be seen. */
const view = computed(() => {
  if (zoomed.value) return { first: zoomed.value.network, last: lastOf(zoomed.value) }
  const space = spaces.value[0]!
  const inside = placed.value.filter(({ p }) => p.network >= space.network && p.network <= lastOf(space))
  if (inside.length === 0) return { first: space.network, last: lastOf(space) }
  const first = inside.reduce((m, { p }) => (p.network < m ? p.network : m), lastOf(space))
  const last = inside.reduce((m, { p }) => (lastOf(p) > m ? lastOf(p) : m), space.network)
  const pad = (last - first) / 10n + 256n
  return { first: first - pad > space.network ? first - pad : space.network, last: last + pad < lastOf(space) ? last + pad : lastOf(space) }
})
const x = computed(() => scaleLinear().domain([Number(view.value.first), Number(view.value.last) + 1]).range([EDGE, WIDTH - EDGE]))
const at = (value: bigint): number => x.value(Number(value))
const text = (value: bigint): string => formatAddress({ family: 4, value })
/** Ticks at multiples of a power of two, as subnets lie. */
const ticks = computed(() => {
  let step = 16n
  while ((view.value.last - view.value.first) / step > 8n) step *= 2n
  const list: { value: bigint; x: number }[] = []
  for (let value = ((view.value.first + step - 1n) / step) * step; value <= view.value.last; value += step) list.push({ value, x: at(value) })
  return list
})
const spans = computed(() => placed.value.filter(({ p }) => lastOf(p) >= view.value.first && p.network <= view.value.last).map(({ s, p }, i, all) => {
  const left = Math.max(EDGE, at(p.network))
  const right = Math.min(WIDTH - EDGE, at(lastOf(p) + 1n))
  const clash = all.some((o) => o.s !== s && o.p.network <= lastOf(p) && p.network <= lastOf(o.p))
  return { s, p, left, width: Math.max(3, right - left), clash, row: i % 2 }
}))
const foreign = computed(() => foreignPrefixes(site.plan!).filter((p) => lastOf(p) >= view.value.first && p.network <= view.value.last))
const left = computed(() => spaces.value.reduce((n, s) => n + gaps(s, placed.value.map((o) => o.p)).reduce((m, g) => m + (g.last - g.first + 1n), 0n), 0n))
const all = computed(() => spaces.value.reduce((n, s) => n + prefixSize(s), 0n))
const hot = (id: string): boolean => site.selected === id || site.pointed.includes(id)
const chosen = computed<Segment | undefined>(() => site.model!.segments.find((s) => s.id === site.selected && s.subnet) ?? placed.value[0]?.s)

const inner = computed(() => {
  const s = chosen.value
  const p = s?.subnet ? parsePrefix(s.subnet) : undefined
  if (!s || !p) return null
  const scale = scaleLinear().domain([Number(p.network), Number(lastOf(p)) + 1]).range([EDGE, WIDTH - EDGE])
  const span = (a: string, b: string): { x: number; w: number } => ({ x: scale(Number(address(a).value)), w: Math.max(2, scale(Number(address(b).value) + 1) - scale(Number(address(a).value))) })
  const fixed = site.model!.membersOf(s.id).filter((d) => d.addressing.mode !== 'automatic' && d.addressing.address).map((d) => ({ d, x: scale(Number(address(d.addressing.address!).value) + 0.5) }))
  return { s, p, pool: s.pool ? span(s.pool.first, s.pool.last) : null, block: s.fixedBlock ? span(s.fixedBlock.first, s.fixedBlock.last) : null, gateway: s.gateway ? scale(Number(address(s.gateway).value) + 0.5) : null, fixed, colour: strandOf(site.model!.segments, s.id).colour }
})
const percent = computed(() => Number((left.value * 1000n) / all.value) / 10)
</script>

<template>
  <figure class="ruler">
    <svg :viewBox="`0 0 ${WIDTH} 132`" role="group" :aria-label="`Address space ${site.plan!.site.addressSpace.join(', ')} with ${placed.length} subnets; ${percent} % free`">
      <line :x1="EDGE" :x2="WIDTH - EDGE" y1="78" y2="78" class="axis" />
      <g v-for="t in ticks" :key="String(t.value)"><line :x1="t.x" :x2="t.x" y1="78" y2="86" class="axis" /><text :x="t.x" y="100" text-anchor="middle" class="tick">{{ text(t.value) }}</text></g>
      <rect v-for="f in foreign" :key="String(f.network)" :x="at(f.network)" :width="Math.max(3, at(lastOf(f) + 1n) - at(f.network))" y="30" height="48" class="foreign" />
      <g v-for="span in spans" :key="span.s.id" class="span" :class="{ hot: hot(span.s.id), clash: span.clash }" tabindex="0" role="button" :aria-label="`${span.s.name} ${span.s.subnet}`" @click="site.selected = span.s.id" @keydown.enter="site.selected = span.s.id">
        <rect :x="span.left" :width="span.width" y="44" height="34" :style="{ fill: strandOf(site.model!.segments, span.s.id).colour }" />
        <line :x1="span.left + span.width / 2" :x2="span.left + span.width / 2" y1="44" :y2="span.row ? 16 : 32" class="leader" />
        <text :x="Math.min(WIDTH - 60, Math.max(50, span.left + span.width / 2))" :y="span.row ? 13 : 29" text-anchor="middle" class="name">{{ span.s.vlanId }} {{ span.s.name }}</text>
      </g>
      <text :x="WIDTH - EDGE" y="124" text-anchor="end" class="tick">{{ left.toLocaleString('en-GB') }} addresses free of {{ all.toLocaleString('en-GB') }} in {{ site.plan!.site.addressSpace.join(', ') }} ({{ percent }} %)</text>
      <text :x="EDGE" y="124" class="tick">drawn {{ text(view.first) }} to {{ text(view.last) }}</text>
    </svg>
    <svg v-if="inner" :viewBox="`0 0 ${WIDTH} 96`" role="img" :aria-label="`${inner.s.name} enlarged`">
      <text :x="EDGE" y="14" class="name">{{ inner.s.name }} {{ inner.s.subnet }}</text>
      <rect :x="EDGE" :width="WIDTH - 2 * EDGE" y="34" height="26" class="frame" />
      <rect v-if="inner.block" :x="inner.block.x" :width="inner.block.w" y="34" height="26" class="block" />
      <rect v-if="inner.pool" :x="inner.pool.x" :width="inner.pool.w" y="34" height="26" :style="{ fill: inner.colour }" class="pool" />
      <g v-for="f in inner.fixed" :key="f.d.id"><line :x1="f.x" :x2="f.x" y1="30" y2="64" class="pin" /><title>{{ f.d.name }} {{ f.d.addressing.address }}</title></g>
      <path v-if="inner.gateway !== null" :d="`M${inner.gateway} 66 l-5 9 h10 z`" class="gateway" />
      <text v-if="inner.gateway !== null" :x="Math.min(WIDTH - 120, Math.max(EDGE, inner.gateway - 4))" y="89" class="tick">gateway {{ inner.s.gateway }}</text>
      <text v-if="inner.pool" :x="inner.pool.x + inner.pool.w / 2" y="28" text-anchor="middle" class="tick">pool {{ inner.s.pool!.first }} to {{ inner.s.pool!.last }}</text>
      <text v-if="inner.fixed.length" :x="WIDTH - EDGE" y="89" text-anchor="end" class="tick">{{ inner.fixed.length }} fixed or reserved, drawn as pins</text>
    </svg>
    <figcaption class="row no-print">
      <v-btn v-for="s in spaces" :key="String(s.network)" size="x-small" variant="text" @click="zoomed = zoomed ? null : s">{{ zoomed ? 'Zoom to what is placed' : 'Zoom out to the whole space' }}</v-btn>
    </figcaption>
  </figure>
</template>

<style scoped>
.ruler { margin: 0 0 12px; overflow-x: auto; } svg { width: 100%; min-width: 640px; display: block; font-family: var(--text); }
.axis { stroke: var(--ink); } .leader { stroke: var(--hair); } .tick { font: 11px var(--mono); fill: var(--faint); } .name { font-size: 12.5px; fill: var(--ink); }
.span rect { opacity: 0.85; stroke: var(--paper); } .span { cursor: pointer; outline: none; } .span.hot rect, .span:focus-visible rect { stroke: var(--ink); stroke-width: 2.5; } .span.hot .name { font-weight: 700; }
.span.clash rect { stroke: var(--blocker); stroke-width: 3; stroke-dasharray: 5 3; }
.foreign { fill: none; stroke: var(--caution); stroke-dasharray: 3 3; }
.frame { fill: none; stroke: var(--ink); } .block { fill: var(--selection); stroke: var(--hair); } .pool { opacity: 0.35; } .pin { stroke: var(--ink); stroke-width: 1.6; } .gateway { fill: var(--ink); }
</style>
