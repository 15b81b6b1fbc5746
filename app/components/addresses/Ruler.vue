<script setup lang="ts">
/**
 * The ruler: the address space to scale, subnets as spans, gaps as gaps; below it one subnet
 * enlarged with its pools and fixed addresses.
 */
import {
  containsPrefix,
  formatAddress,
  formatPrefix,
  freeBlocks,
  freeCount,
  lastOf,
  parsePrefix,
  prefix,
  prefixSize,
  type Prefix,
} from '@mast/core/addressing'
import { foreignPrefixes, type Segment } from '@mast/core/plan'
import { strandOf } from '~/components/drawing/strands'
import {
  EDGE,
  grab,
  holds,
  pointAt,
  resized,
  rulerScale,
  ticks as ticksOf,
  WIDTH,
  type View,
} from './rulerScale'

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
/** A label at an edge grows away from it. */
const anchorAt = (x: number): string =>
  x < LABEL_ROOM ? 'start' : x > WIDTH - LABEL_ROOM ? 'end' : 'middle'
const LABEL_ROOM = 48
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
        <text :x="at(t.value)" y="100" :text-anchor="anchorAt(at(t.value))" class="tick">
          {{ t.text }}
        </text>
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
    <AddressesRulerGap v-if="gap" :gap="gap" @zoom="zoomed = gap" @close="gap = null" />
    <AddressesRulerSubnet v-if="chosen && family === 4" :s="chosen" />
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
    <Refusal :says="refused" />
  </figure>
</template>

<style scoped src="./ruler.css"></style>
<style scoped>
.ruler {
  margin: 0 0 12px;
  overflow-x: auto;
}
.axis {
  stroke: var(--ink);
}
.leader {
  stroke: var(--hair);
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
.span.hot .handle {
  opacity: 0.5;
  stroke: none;
}
.foreign {
  fill: none;
  stroke: var(--caution);
  stroke-dasharray: 3 3;
}
figcaption {
  margin-top: 4px;
}
</style>
