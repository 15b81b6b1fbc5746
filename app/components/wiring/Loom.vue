<script setup lang="ts">
/**
 * The loom: a strand for every VLAN through every cable; where one stops, it is drawn as stopping.
 */
import { strandOf } from '~/components/drawing/strands'
import {
  curve,
  STRAND,
  type Loom,
  type LoomCable,
  type LoomDevice,
  type LoomLine,
  type LoomStrand,
} from './loomLayout'
import { useLoom } from './useLoom'

const site = useSite()
const nothing: Loom = { devices: [], cables: [], loose: [], width: 0, height: 0, lines: [] }
const { drawn, mine } = useLoom()
const loom = computed(() => drawn.value?.loom ?? nothing)
const model = computed(() => drawn.value?.model ?? site.opened.model)
/** Strands that a change of ours in conflict would add, on cables that are drawn. */
const ours = computed(() => {
  if (!mine.value) return []
  const drawn = new Map(loom.value.cables.map((c) => [c.id, c]))
  return mine.value.cables.flatMap((m) => {
    const c = drawn.get(m.id)
    return c
      ? m.strands
          .filter(
            (s) =>
              s.state === 'whole' &&
              !c.strands.some((t) => t.segmentId === s.segmentId && t.state === 'whole'),
          )
          .map((s, i) => ({
            id: `${c.id}-${s.segmentId}`,
            c,
            s,
            at: (c.strands.length / 2 + i + 1) * STRAND,
          }))
      : []
  })
})
/**
 * Beyond so many strands in all, those of one cable that all arrive are drawn as one band with
 * their number, but for the cable that is looked at.
 */
const CROWDED = 400
const crowded = computed(
  () => loom.value.cables.reduce((n, c) => n + c.strands.length, 0) > CROWDED,
)
const banded = (c: LoomCable): boolean => crowded.value && c.strands.length > 2 && !cableHot(c)
const strandsOf = (c: LoomCable) =>
  banded(c)
    ? c.strands.flatMap((s, i) => (s.state === 'whole' ? [] : [{ s, i }]))
    : c.strands.map((s, i) => ({ s, i }))
const wholes = (c: LoomCable): number => c.strands.filter((s) => s.state === 'whole').length
const cables = useCatchUp(
  () => loom.value.cables,
  (c) => c.id,
  16,
)
const cableRows = useShownRows(
  () => cables.value,
  () => 8,
)
const deviceRows = useShownRows(
  () => loom.value.devices,
  () => 8,
)
// The rest of a large drawing comes a frame at a time.
useTheRest(cableRows)
useTheRest(deviceRows)
const contested = (d: LoomDevice): boolean =>
  site.inDispute.has(d.device.id) || d.ports.some((p) => site.inDispute.has(p.id))
const shift = (c: LoomCable, i: number): number => (i - (c.strands.length - 1) / 2) * STRAND
const hot = (d: LoomDevice): boolean => lit.value.has(d.device.id)
const lit = computed(() => new Set([...site.pointed, ...(site.selected ? [site.selected] : [])]))
const portHot = (id: string): boolean => lit.value.has(id)
const cableHot = (c: LoomCable): boolean =>
  portHot(c.from.portId) || portHot(c.to.portId) || (c.link !== null && site.selected === c.link.id)
const segments = useStable(() => model.value.segments)
const colour = (id: string): string => strandOf(segments.value, id).colour
const dash = (id: string): string => strandOf(segments.value, id).dash
const length = (c: LoomCable): string =>
  c.link
    ? model.value.plan.site.units === 'metric'
      ? `${c.link.lengthM} m`
      : `${Math.round(c.link.lengthM * 3.28084)} ft`
    : ''
const kindOf = (d: LoomDevice): string =>
  `${model.value.profileOf(d.device.id).name}` +
  `${d.device.power === 'poe' ? `, PoE ${model.value.profileOf(d.device.id).drawW} W` : ''}`
const broken = (c: LoomCable): LoomStrand[] => c.strands.filter((s) => s.state !== 'whole')
function breakAt(c: LoomCable, s: LoomStrand): { x: number; y: number } {
  const [across, down] = s.state === 'stops' ? [0.55, 0.57] : [0.24, 0.15]
  return {
    x: c.from.x + (c.to.x - c.from.x) * across + 5,
    y: c.from.y + (c.to.y - c.from.y) * down + shift(c, c.strands.indexOf(s)),
  }
}
/** What stops in a cable, said once, below the last of its crosses. */
function stops(c: LoomCable): string {
  const ids = broken(c).map((s) => model.value.plan.segments[s.segmentId]?.vlanId)
  return ids.length > 4
    ? `${ids.length} VLANs stop`
    : `${ids.join(', ')} ${ids.length === 1 ? 'stops' : 'stop'}`
}
/** Of its own size, below which the loom is scrolled rather than made smaller. */
const LEGIBLE = 0.76
const tagWords = (tag: LoomLine['tag']): string =>
  tag === null ? 'tag not known' : tag === 'untagged' ? 'no tag' : `tag ${tag}`
const cut = (text: string, n: number): string =>
  text.length > n ? `${text.slice(0, n - 1)}…` : text
</script>

<template>
  <figure class="loom">
    <p v-if="!drawn" class="faint">Following the VLANs ...</p>
    <p v-else-if="loom.devices.length === 0" class="lead">
      No gateway yet, so there is nothing to draw from. Add one in Survey, then its cables below.
    </p>
    <svg
      v-else
      data-drawing
      :viewBox="`0 0 ${loom.width} ${loom.height}`"
      :style="{ minWidth: `${loom.width * LEGIBLE}px`, maxWidth: `${loom.width * 1.25}px` }"
      role="group"
      aria-label="The loom: where every VLAN travels. The same facts are in the table of ports below."
    >
      <g v-for="l in loom.lines" :key="l.id" class="line-in" :class="{ loose: !l.isPlugged }">
        <path :d="`M6 ${l.y} H${l.isPlugged ? l.x : l.x - 26}`" />
        <title>{{ l.name }}</title>
        <text x="6" :y="l.y - 6">{{ cut(l.name, 13) }}</text>
        <text x="6" :y="l.y + 14" class="small">
          {{ l.isPlugged ? tagWords(l.tag) : 'in no socket' }}
        </text>
      </g>
      <g
        v-for="c in cableRows.shown.value"
        :key="c.id"
        v-memo="[c, cableHot(c), crowded, segments]"
        class="cable"
        :class="{ hot: cableHot(c) }"
      >
        <g v-if="banded(c)">
          <path :d="curve(c.from, c.to, 0)" class="band" />
          <text
            :x="(c.from.x + c.to.x) / 2"
            :y="(c.from.y + c.to.y) / 2 - 6"
            text-anchor="middle"
            class="small length"
          >
            {{ wholes(c) }}
          </text>
        </g>
        <path v-if="c.strands.length === 0" :d="curve(c.from, c.to, 0)" class="bare" />
        <template v-for="{ s, i } in strandsOf(c)" :key="s.segmentId">
          <path
            v-if="s.state === 'whole'"
            :d="curve(c.from, c.to, shift(c, i))"
            class="strand"
            :class="{ radio: c.radio }"
            :style="{
              stroke: colour(s.segmentId),
              strokeDasharray: c.radio ? '1 5' : dash(s.segmentId),
            }"
          >
            <title>
              {{ model.vlanName(s.segmentId) }} {{ s.form === 'untagged' ? 'untagged' : 'tagged' }}
            </title>
          </path>
          <path
            v-else
            :d="curve(c.from, c.to, shift(c, i), s.state === 'stops' ? 0.55 : 0.24)"
            class="strand"
            :style="{ stroke: colour(s.segmentId), strokeDasharray: dash(s.segmentId) }"
          />
        </template>
      </g>
      <g v-for="o in ours" :key="`mine-${o.id}`" class="mine">
        <path :d="curve(o.c.from, o.c.to, o.at)" />
        <text
          :x="(o.c.from.x + o.c.to.x) / 2"
          :y="(o.c.from.y + o.c.to.y) / 2 + o.at + 11"
          text-anchor="middle"
        >
          mine: {{ site.mineModel!.plan.segments[o.s.segmentId]?.vlanId }}
        </text>
      </g>
      <text
        v-for="c in cableRows.shown.value.filter((x) => x.link)"
        :key="`length-${c.id}`"
        v-memo="[c, cableHot(c), loom.cables.length > 24, length(c)]"
        :x="c.to.x - 7"
        :y="c.to.y - (c.strands.length * STRAND) / 2 - 4"
        text-anchor="end"
        class="small length"
        :class="{ hidden: !cableHot(c) && loom.cables.length > 24 }"
      >
        {{ length(c) }}
      </text>
      <g
        v-for="d in deviceRows.shown.value"
        :key="d.device.id"
        v-memo="[d, lit, site.inDispute, kindOf(d)]"
        class="device"
        :class="{ hot: hot(d), contested: contested(d) }"
        tabindex="0"
        role="button"
        :aria-label="`${d.device.name}, ${model.profileOf(d.device.id).name}`"
        @click="site.selected = d.device.id"
        @keydown.enter="site.selected = d.device.id"
      >
        <rect :x="d.x" :y="d.y" :width="d.width" :height="d.height" />
        <text :x="d.x + 8" :y="d.y + 15" class="name">{{ cut(d.device.name, 19) }}</text>
        <text
          v-if="contested(d)"
          :x="d.x + d.width - 6"
          :y="d.y - 4"
          text-anchor="end"
          class="contest"
        >
          mine and theirs differ
        </text>
        <text :x="d.x + 8" :y="d.y + 27" class="small">{{ cut(kindOf(d), 23) }}</text>
        <g v-for="p in d.ports" :key="p.id">
          <circle
            :cx="p.side === 'in' ? d.x : d.x + d.width"
            :cy="p.y"
            :r="portHot(p.id) ? 5 : 3"
            class="socket"
            :class="{ hot: portHot(p.id) }"
          />
          <text
            :x="p.side === 'in' ? d.x + 8 : d.x + d.width - 8"
            :y="p.y + 4"
            :text-anchor="p.side === 'in' ? 'start' : 'end'"
            class="small"
          >
            {{ p.name }}
          </text>
        </g>
      </g>
      <!-- Above everything: a break is what one looks for. -->
      <g v-for="c in cableRows.shown.value.filter((x) => broken(x).length)" :key="`breaks-${c.id}`">
        <g
          v-for="s in broken(c)"
          :key="s.segmentId"
          :transform="`translate(${breakAt(c, s).x} ${breakAt(c, s).y})`"
        >
          <path d="M-4 -4 L4 4 M-4 4 L4 -4" class="break" />
          <text v-if="s === broken(c).at(-1)" y="15" text-anchor="middle" class="break-text">
            {{ stops(c) }}
          </text>
        </g>
      </g>
    </svg>
    <ul v-memo="[segments]" class="key">
      <li v-for="s in segments" :key="s.id">
        <svg width="30" height="8" aria-hidden="true">
          <line
            x1="0"
            x2="30"
            y1="4"
            y2="4"
            stroke-width="3"
            :stroke="colour(s.id)"
            :stroke-dasharray="dash(s.id)"
          /></svg
        >{{ ' ' }} <span class="mono">{{ s.vlanId }}</span> {{ s.name }}
      </li>
    </ul>
    <p v-if="loom.loose.length && loom.devices.length" class="faint">
      Not cabled: {{ loom.loose.map((d) => d.name).join(', ') }}
    </p>
  </figure>
</template>

<style scoped>
.loom {
  margin: 0 0 8px;
  overflow-x: auto;
}
svg {
  width: 100%;
  font-family: var(--text);
}
.device rect {
  fill: var(--paper);
  stroke: var(--ink);
}
.device {
  cursor: pointer;
  outline: none;
}
.device.hot rect {
  fill: var(--selection);
  stroke-width: 2;
}
.device:focus-visible rect {
  stroke: var(--action);
  stroke-width: 2.5;
}
.device.contested rect {
  stroke: var(--blocker);
  stroke-dasharray: 6 3;
  stroke-width: 2;
}
.contest,
.mine text {
  font-size: 10.5px;
  fill: var(--blocker);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.mine path {
  fill: none;
  stroke: var(--blocker);
  stroke-width: 2;
  stroke-dasharray: 6 3;
}
.name {
  font-size: 13px;
  font-weight: 600;
  fill: var(--ink);
}
.small {
  font-size: 11px;
  fill: var(--faint);
}
.length {
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.hidden {
  display: none;
}
.strand {
  fill: none;
  stroke-width: 2.6;
}
.radio {
  stroke-linecap: round;
}
.bare {
  fill: none;
  stroke: var(--hair);
  stroke-width: 1.5;
}
.cable.hot .strand {
  stroke-width: 4;
}
.band {
  fill: none;
  stroke: var(--ink);
  stroke-width: 7;
  opacity: 0.35;
}
.break {
  stroke: var(--blocker);
  stroke-width: 2;
}
.break-text {
  font-size: 10.5px;
  fill: var(--blocker);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.socket {
  fill: var(--ink);
}
.socket.hot {
  fill: var(--blocker);
}
.line-in path {
  stroke: var(--ink);
  stroke-width: 2;
}
.line-in.loose path {
  stroke-dasharray: 5 4;
}
.line-in text {
  font-size: 11.5px;
  fill: var(--ink);
}
.key {
  list-style: none;
  display: flex;
  gap: 18px;
  padding: 0;
  margin: 8px 0 0;
  flex-wrap: wrap;
  font-size: 13px;
}
.key svg {
  width: 30px;
  display: inline;
}
</style>
