<script setup lang="ts">
/**
 * One subnet enlarged: its pools, whose edges can be pulled or moved by arrow keys, its fixed
 * addresses as pins, and its gateway.
 */
import {
  address,
  formatAddress,
  lastOf,
  parsePrefix,
  prefixSize,
  usableRange,
} from '@mast/core/addressing'
import type { Segment } from '@mast/core/plan'
import { strandOf } from '~/components/drawing/strands'
import { EDGE, grab, holds, pointAt, rulerScale, WIDTH } from './rulerScale'

/** With a subnet. */
const props = defineProps<{ s: Segment }>()
const site = useSite()
const refused = ref<string | undefined>()

/** A pool whose edge is being pulled. */
const pulledPool = ref<{ index: number; first: string; last: string } | null>(null)
const inner = computed(() => {
  const s = props.s
  const p = parsePrefix(s.subnet!)!
  const own = rulerScale({ family: 4, first: p.network, last: lastOf(p) }, EDGE, WIDTH - EDGE)
  const span = (a: string, b: string): { x: number; w: number } => ({
    x: own.at(address(a).value),
    w: Math.max(2, own.at(address(b).value + 1n) - own.at(address(a).value)),
  })
  const middle = (a: string): number =>
    (own.at(address(a).value) + own.at(address(a).value + 1n)) / 2
  const fixed = site.opened.model
    .membersOf(s.id)
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

/** The edge of a pool may go as far as hosts may have addresses, and not past the other edge. */
function edgeTo(
  index: number,
  which: 'first' | 'last',
  value: bigint,
): { index: number; first: string; last: string } {
  const pool = inner.value.s.pools[index]!
  const usable = usableRange(inner.value.p)
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
  const value = inner.value.scale.from(pointAt(event))
  pulledPool.value = edgeTo(index, which, which === 'last' ? value - 1n : value)
}
function dropEdge(): void {
  const to = pulledPool.value
  pulledPool.value = null
  if (to) save(to)
}
const save = (to: { index: number; first: string; last: string }): void => {
  refused.value = site.edit('setPool', {
    segmentId: inner.value.s.id,
    first: to.first,
    last: to.last,
    index: to.index,
  })
}
function nudge(event: KeyboardEvent, index: number, which: 'first' | 'last'): void {
  const step = { ArrowLeft: -1n, ArrowRight: 1n, PageDown: -16n, PageUp: 16n }[event.key]
  if (step === undefined) return
  event.preventDefault()
  save(edgeTo(index, which, address(inner.value.s.pools[index]![which]).value + step))
}
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} 96`" role="group" :aria-label="`${s.name} enlarged`">
    <text :x="EDGE" y="14" class="name">
      {{ s.name }} {{ s.subnet }}{{ s.locked ? ', locked in place' : '' }}
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
      <rect :x="p.x" :width="p.w" y="34" height="26" :style="{ fill: inner.colour }" class="pool" />
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
        :aria-label="`${which === 'first' ? 'Start' : 'End'} of the pool of ${s.name}`"
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
      gateway {{ s.gateway }}
    </text>
    <text v-if="inner.fixed.length" :x="WIDTH / 2" y="89" text-anchor="middle" class="tick">
      {{ inner.fixed.length }} fixed or reserved, drawn as pins
    </text>
  </svg>
  <Refusal :says="refused" />
</template>

<style scoped src="./ruler.css"></style>
<style scoped>
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
</style>
