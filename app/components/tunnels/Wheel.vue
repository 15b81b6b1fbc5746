<script setup lang="ts">
/**
 * The wheel: all other ends on its left, what is here on its right, and a chord for each that reaches
 * another. The table under it says the same.
 */
import { activeTunnels, peersOf, placeName, type Place } from '@mast/core/plan'
import { reachedFrom } from '@mast/core/tunnels'
import { strandOf } from '../drawing/strands'
import { useTunnels } from './useTunnels'

const site = useSite()
const { peer, tunnel, choosePeer, chooseTunnel } = useTunnels()
const isNarrow = useMediaQuery('(max-width: 600px)')
/** On a phone it stands between shorter names. */
const size = computed(() =>
  isNarrow.value
    ? { width: 390, height: 300, radius: 92, letters: 14 }
    : { width: 760, height: 350, radius: 155, letters: 26 },
)
const cx = computed(() => size.value.width / 2)
const cy = computed(() => size.value.height / 2)
/** More chords are a thicket; the table has them all. */
const MOST_ENDS = 40
interface End {
  readonly id: string
  readonly name: string
  readonly x: number
  readonly y: number
  readonly isLeft: boolean
  readonly isPeer: boolean
}
const colour = (id: string): string =>
  site.opened.plan.segments[id] ? strandOf(site.opened.model.segments, id).colour : 'var(--ink)'
const outer = computed(() =>
  activeTunnels(site.opened.plan).flatMap((t) =>
    t.kind === 'provider'
      ? [{ id: t.id, name: t.name, isPeer: false }]
      : peersOf(site.opened.plan, t.id).map((p) => ({ id: p.id, name: p.name, isPeer: true })),
  ),
)
const reach = computed(() => {
  const { plan } = site.opened
  return new Map(
    outer.value
      .slice(0, MOST_ENDS)
      .map(({ id, isPeer }) => [
        id,
        isPeer ? reachedFrom(plan, id).map((r) => r.place) : (plan.tunnels[id]?.throughIds ?? []),
      ]),
  )
})
const inner = computed<Place[]>(() => {
  const reached = new Set([...reach.value.values()].flat())
  const segments = site.opened.model.segments.map((s) => s.id)
  return [...segments, ...[...reached].filter((p) => !segments.includes(p))]
})
function around<T>(list: readonly T[], isLeft: boolean): { it: T; x: number; y: number }[] {
  return list.map((it, n) => {
    const turn = ((n + 0.5) / list.length) * Math.PI * 0.94 + Math.PI * 0.03
    return {
      it,
      x: cx.value + (isLeft ? -1 : 1) * Math.sin(turn) * size.value.radius,
      y: cy.value - Math.cos(turn) * size.value.radius,
    }
  })
}
const ends = computed<End[]>(() => [
  ...around(outer.value.slice(0, MOST_ENDS), true).map(({ it, x, y }) => ({
    ...{ x, y, isLeft: true },
    ...it,
  })),
  ...around(inner.value, false).map(({ it, x, y }) => ({
    ...{ x, y, isLeft: false, isPeer: false, id: it },
    name: placeName(site.opened.plan, it),
  })),
])
const chosen = computed(() =>
  tunnel.value?.kind === 'provider' ? tunnel.value.id : (peer.value?.peer.id ?? null),
)
const chords = computed(() => {
  const at = new Map(ends.value.map((e) => [`${e.isLeft}${e.id}`, e]))
  return [...reach.value].flatMap(([from, places]) =>
    places.flatMap((to) => {
      const [a, b] = [at.get(`true${from}`), at.get(`false${to}`)]
      return a && b
        ? [
            {
              key: `${from}>${to}`,
              d: `M${a.x} ${a.y}Q${cx.value} ${cy.value} ${b.x} ${b.y}`,
              isOn: from === chosen.value,
              colour: colour(to),
              title: `${a.name} reaches ${b.name}`,
            },
          ]
        : []
    }),
  )
})
function choose(e: End): void {
  if (!e.isLeft) return
  if (e.isPeer) choosePeer(e.id)
  else chooseTunnel(e.id)
}
const short = (text: string): string =>
  text.length > size.value.letters ? `${text.slice(0, size.value.letters - 1)}…` : text
</script>

<template>
  <section v-if="outer.length" aria-label="Wheel">
    <h2>Who reaches what</h2>
    <div>
      <svg
        class="wheel"
        :viewBox="`0 0 ${size.width} ${size.height}`"
        role="group"
        aria-label="Other ends on the left, what they reach on the right"
      >
        <circle :cx="cx" :cy="cy" :r="size.radius" class="rim" />
        <path
          v-for="c in chords"
          :key="c.key"
          :d="c.d"
          class="chord"
          :class="{ on: c.isOn }"
          :style="{ stroke: c.colour }"
        >
          <title>{{ c.title }}</title>
        </path>
        <g
          v-for="e in ends"
          :key="`${e.isLeft}${e.id}`"
          :class="['end', { on: e.isLeft && e.id === chosen, out: e.isLeft }]"
          :role="e.isLeft ? 'button' : undefined"
          :tabindex="e.isLeft ? 0 : undefined"
          :aria-pressed="e.isLeft ? e.id === chosen : undefined"
          :aria-label="e.isLeft ? e.name : undefined"
          @click="choose(e)"
          @keydown.enter="choose(e)"
          @keydown.space.prevent="choose(e)"
        >
          <circle
            :cx="e.x"
            :cy="e.y"
            r="5"
            :style="e.isLeft ? undefined : { stroke: colour(e.id) }"
          />
          <text
            :x="e.x + (e.isLeft ? -12 : 12)"
            :y="e.y + 4"
            :text-anchor="e.isLeft ? 'end' : 'start'"
          >
            {{ short(e.name) }}
          </text>
          <title>{{ e.name }}</title>
        </g>
      </svg>
    </div>
    <p v-if="outer.length > MOST_ENDS" class="faint">
      {{ MOST_ENDS }} of {{ outer.length }} ends are drawn; the table has all of them.
    </p>
  </section>
</template>

<style scoped>
.wheel {
  width: 100%;
  max-height: 440px;
}
.rim {
  fill: none;
  stroke: var(--hair);
}
.chord {
  fill: none;
  stroke-width: 1.4;
  opacity: 0.35;
}
.chord.on {
  stroke-width: 3;
  opacity: 1;
}
.end circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.end text {
  font-size: 13px;
  fill: var(--ink);
}
.end.out {
  cursor: pointer;
}
.end.on circle {
  fill: var(--ink);
}
.end.on text {
  font-weight: 700;
}
</style>
