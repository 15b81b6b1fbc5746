<script setup lang="ts">
/** From the power of one end to the margin at the other, each step with its formula. */
import { useBridge } from './useBridge'

const { reckoned } = useBridge()
const towards = ref<'toB' | 'toA'>('toB')
const direction = computed(() => reckoned.value?.budget[towards.value])
const WIDTH = 880
const HEIGHT = 250
const top = 22
const bottom = 42

interface Column {
  readonly key: string
  readonly label: string
  readonly value: string
  readonly how: string
  readonly from: number
  readonly to: number
  readonly kind: 'level' | 'up' | 'down' | 'rain' | 'margin'
}
const dB = (n: number): string => `${n > 0 ? '+' : ''}${n.toFixed(1)} dB`
const columns = computed<Column[]>(() => {
  const r = reckoned.value
  const d = direction.value
  if (!r || !d) return []
  const out: Column[] = d.stairs.map((s, n) => ({
    key: `${s.id}`,
    label: s.label,
    value: n === 0 ? `${s.db.toFixed(1)} dBm` : dB(s.db),
    how: s.how,
    from: n === 0 ? 0 : d.stairs[n - 1]!.levelDbm,
    to: s.levelDbm,
    kind: n === 0 ? 'level' : s.db >= 0 ? 'up' : 'down',
  }))
  out.push({
    key: 'level',
    label: 'Arrives',
    value: `${d.levelDbm.toFixed(1)} dBm`,
    how: 'in clear weather: the sum of all steps; this is what the unit is to read',
    from: d.levelDbm,
    to: d.levelDbm,
    kind: 'level',
  })
  if (r.budget.losses.rainDb >= 0.1)
    out.push({
      key: 'rain',
      label: 'Rain',
      value: dB(-r.budget.losses.rainDb),
      how: `${r.budget.losses.rainMmH} mm/h, which fall for 0.01 % of the year, 53 min (ITU-R P.838-3, P.530)`,
      from: d.levelDbm,
      to: d.levelDbm - r.budget.losses.rainDb,
      kind: 'rain',
    })
  const [least] = d.steps
  if (least && d.marginDb !== null)
    out.push({
      key: 'margin',
      label: 'Margin',
      value: `${d.marginDb.toFixed(1)} dB`,
      how: `${d.levelDbm.toFixed(1)} dBm over ${least.leastDbm} dBm, which ${least.name} needs`,
      from: d.levelDbm,
      to: least.leastDbm,
      kind: 'margin',
    })
  return out
})
const scale = computed(() => {
  const all = columns.value
    .flatMap((c) => [c.from, c.to])
    .concat(direction.value?.steps.map((s) => s.leastDbm) ?? [])
  const [low, high] = [Math.min(0, ...all) - 6, Math.max(10, ...all) + 8]
  return (dbm: number): number => top + ((high - dbm) / (high - low)) * (HEIGHT - top - bottom)
})
const step = computed(() => (WIDTH - 40) / Math.max(1, columns.value.length))
const x = (n: number): number => 36 + n * step.value
/** Lines at what a few steps of modulation need: the most modest, the one that is held, the fastest. */
const needs = computed(() => {
  const d = direction.value
  if (!d || d.steps.length === 0) return []
  return [...new Set([d.steps[0]!, ...(d.step ? [d.step] : []), d.steps.at(-1)!])]
})
const pointed = ref<string | null>(null)
const told = computed(() => columns.value.find((c) => c.key === pointed.value))
const leftOut = computed(() => reckoned.value?.budget.losses.leftOut ?? [])
</script>

<template>
  <section v-if="reckoned && direction" aria-label="Staircase">
    <div class="row spread">
      <h2>Staircase</h2>
      <div class="row" role="tablist" aria-label="Direction">
        <button
          v-for="t in ['toB', 'toA'] as const"
          :key="t"
          type="button"
          role="tab"
          class="tab"
          :class="{ on: t === towards }"
          :aria-selected="t === towards"
          @click="towards = t"
        >
          {{ t === 'toB' ? 'A to B' : 'B to A' }}
        </button>
      </div>
    </div>
    <svg
      class="stairs"
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      role="group"
      :aria-label="`Power and losses towards ${reckoned.budget.facts[direction.to].device.name}`"
      @pointerleave="pointed = null"
    >
      <g v-for="s in needs" :key="s.name" class="need">
        <line x1="30" :x2="WIDTH" :y1="scale(s.leastDbm)" :y2="scale(s.leastDbm)" />
        <text :x="40" :y="scale(s.leastDbm) - 3">
          {{ s.name }} needs {{ s.leastDbm }} dBm, {{ s.mbps }} Mbit/s
        </text>
      </g>
      <g
        v-for="(c, n) in columns"
        :key="c.key"
        class="column"
        :class="[c.kind, { pointed: pointed === c.key }]"
        tabindex="0"
        role="img"
        :aria-label="`${c.label} ${c.value}: ${c.how}`"
        @pointerenter="pointed = c.key"
        @focus="pointed = c.key"
        @blur="pointed = null"
      >
        <rect class="hit" :x="x(n)" :y="0" :width="step" :height="HEIGHT" />
        <rect
          v-if="c.from !== c.to && c.kind !== 'level'"
          class="bar"
          :x="x(n) + step * 0.22"
          :width="step * 0.56"
          :y="scale(Math.max(c.from, c.to))"
          :height="Math.max(1, Math.abs(scale(c.from) - scale(c.to)))"
        />
        <line
          class="tread"
          :x1="x(n) + step * 0.1"
          :x2="x(n) + step * (n === columns.length - 1 ? 0.9 : 1.1)"
          :y1="scale(c.kind === 'margin' ? c.from : c.to)"
          :y2="scale(c.kind === 'margin' ? c.from : c.to)"
        />
        <text
          :x="x(n) + step / 2"
          :y="scale(Math.max(c.from, c.to)) - 6"
          text-anchor="middle"
          class="value"
        >
          {{ c.value }}
        </text>
        <text :x="x(n) + step / 2" :y="HEIGHT - 22" text-anchor="middle" class="name">
          {{ c.label }}
        </text>
        <text
          v-if="c.kind !== 'level' && c.kind !== 'margin'"
          :x="x(n) + step / 2"
          :y="HEIGHT - 7"
          text-anchor="middle"
          class="after"
        >
          {{ c.to.toFixed(1) }}
        </text>
      </g>
    </svg>
    <p class="how" role="status">
      <template v-if="told"
        ><strong>{{ told.label }} {{ told.value }}</strong
        >: {{ told.how }}</template
      >
      <span v-else class="faint">Point at a step: its formula stands here.</span>
    </p>
    <p v-if="leftOut.length" class="faint">
      Left out, as no formula holds there: {{ leftOut.join('; ') }}.
    </p>
    <details>
      <summary>The same as a table</summary>
      <table class="plain" aria-label="Steps of the staircase">
        <thead>
          <tr>
            <th>Step</th>
            <th>Value</th>
            <th>How</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in columns" :key="c.key">
            <td>{{ c.label }}</td>
            <td class="mono">{{ c.value }}</td>
            <td>{{ c.how }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </section>
</template>

<style scoped>
.stairs {
  width: 100%;
  height: auto;
  display: block;
}
.hit {
  fill: transparent;
}
.column:focus-visible {
  outline: none;
}
.column:is(.pointed, :focus-visible) .hit {
  fill: var(--selection);
  fill-opacity: 0.5;
}
.bar {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}
.up .bar {
  fill: var(--action);
  fill-opacity: 0.2;
}
.rain .bar {
  stroke-dasharray: 3 2;
}
.margin .bar {
  fill: var(--proven);
  fill-opacity: 0.18;
  stroke: var(--proven);
}
.tread {
  stroke: var(--ink);
  stroke-width: 2;
}
.need line {
  stroke: var(--caution);
  stroke-width: 0.8;
  stroke-dasharray: 5 3;
}
.need text {
  font-size: 11px;
  fill: var(--caution);
}
.value,
.after {
  font-family: var(--mono);
  font-size: 12px;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.after {
  fill: var(--faint);
  font-size: 11px;
}
.name {
  font-size: 12px;
  fill: var(--ink);
}
.how {
  min-height: 2.8em;
  margin: 2px 0;
}
</style>
