<script setup lang="ts">
/** The year ahead in one line, what its minutes are made of, and what was assumed for it. */
import { FLAP_SECONDS, linesInUse, probeGbAMonth, siteCuts, siteOutlook } from '@mast/core/uplinks'
import { exactDuration } from '@mast/core/words'

const site = useSite()
const model = useLater(() => site.opened.model)
const lines = computed(() => linesInUse(model.value))
const outlook = computed(() => siteOutlook(model.value))
const round = (n: number): string =>
  n === 0
    ? '0'
    : n < 0.01
      ? 'under 0.01'
      : n < 10
        ? String(Number(n.toPrecision(2)))
        : countText(Math.round(n))
const probes = computed(() => {
  const gb = lines.value.reduce((sum, u) => sum + (u.watch ? probeGbAMonth(u.watch) : 0), 0)
  return gb >= 1 ? `${round(gb)} GB` : `${round(gb * 1000)} MB`
})
const causes = computed(() => {
  const m = outlook.value?.minutes
  return m
    ? [
        { id: 'noticing', words: 'until it is noticed', minutes: m.noticing },
        { id: 'switching', words: 'going over', minutes: m.switching },
        { id: 'false', words: 'switches for nothing', minutes: m.falseSwitches },
        { id: 'shared', words: 'a shared part', minutes: m.sharedParts },
        { id: 'together', words: 'all lines by chance', minutes: m.together },
      ]
    : []
})
/** Lines of one order share what leaves: the death of one is felt by its part of the people. */
const sharing = computed(
  () => lines.value.length > 1 && lines.value[0]!.rank === lines.value[1]!.rank,
)
/** So many are worth a thought. */
const MOST_CUTS = 3
const cuts = computed(() =>
  lines.value.length > 1 ? siteCuts(model.value).slice(0, MOST_CUTS) : [],
)
/** Where each begins on a bar of 860. */
const bars = computed(() => {
  const total = outlook.value?.totalMinutes ?? 0
  let x = 0
  return causes.value.map((c) => {
    const width = total > 0 ? (c.minutes / total) * 860 : 0
    x += width
    return { ...c, x: x - width, width }
  })
})
</script>

<template>
  <section aria-label="The year ahead">
    <p v-if="lines.length === 0" data-drawing class="lead">
      No line is in a socket yet. Record it in Survey and plug it in Wiring.
    </p>
    <p v-else-if="!outlook" data-drawing class="lead">
      The lines share more parts than can be reckoned with.
    </p>
    <template v-else>
      <p v-if="!outlook.over" class="answer">
        One line, no other to go to: <b>{{ round(outlook.totalMinutes) }} min</b> a year without it.
      </p>
      <p v-else-if="outlook.over.worst === Infinity" class="answer">
        Nothing notices when {{ lines[0]!.name }} is dead behind its modem:
        <b>{{ round(outlook.totalMinutes) }} min</b> a year without a line.
      </p>
      <p v-else class="answer">
        Down <b>{{ exactDuration(outlook.over.worst) }}</b> at the most when
        {{ lines[0]!.name }} dies, <b>{{ round(outlook.falseSwitchesAYear) }}</b> false switches a
        year, <b>{{ round(outlook.totalMinutes) }} min</b> a year in all{{
          sharing ? ' for one of the people in the mean' : ''
        }}, <b>{{ probes }}</b> a month for tests.
      </p>
      <p v-if="outlook.falseReturnsAYear >= 0.01 || outlook.flapsAYear >= 0.01">
        Loss alone: <b class="mono">{{ round(outlook.falseReturnsAYear) }}</b> returns a year to a
        line that still loses, <b class="mono">{{ round(outlook.flapsAYear) }}</b> times over again
        within {{ exactDuration(FLAP_SECONDS) }} of coming back.
      </p>
      <svg
        v-if="outlook.totalMinutes > 0"
        viewBox="0 0 860 20"
        class="bar"
        role="img"
        aria-label="What the minutes of a year are made of; the same stands beneath"
      >
        <rect
          v-for="(b, i) in bars"
          :key="b.id"
          :x="b.x"
          y="2"
          :width="b.width"
          height="16"
          :class="`part-${i}`"
        />
      </svg>
      <ul class="causes">
        <li v-for="(c, i) in causes" :key="c.id">
          <svg width="14" height="12" aria-hidden="true">
            <rect x="1" y="1" width="12" height="10" :class="`part-${i}`" /></svg
          >{{ ' ' }}{{ c.words }} <b class="mono">{{ round(c.minutes) }} min</b>
        </li>
      </ul>
      <p v-if="cuts.length">
        What takes every line:
        <template v-for="(c, i) in cuts" :key="c.names.join()"
          >{{ i ? '; ' : '' }}{{ c.names.join(' together with ') }}
          <b class="mono">{{ round(c.minutes) }} min</b></template
        >.
      </p>
      <p v-if="outlook.assumed.length" class="faint">
        Nobody recorded it, so it is assumed: {{ outlook.assumed.join('; ') }}.
      </p>
    </template>
  </section>
</template>

<style scoped>
.answer {
  font-size: 19px;
  max-width: 62ch;
  margin: 4px 0 10px;
}
.bar {
  width: 100%;
  max-width: 860px;
}
.causes {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  padding: 0;
  margin: 2px 0 8px;
  font-size: 13.5px;
}
rect {
  stroke: var(--ink);
  fill: var(--paper);
}
.part-0 {
  fill: var(--blocker);
}
.part-1 {
  fill: var(--action);
}
.part-2 {
  fill: var(--proven);
}
.part-3 {
  fill: var(--ink);
}
</style>
