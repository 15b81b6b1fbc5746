<script setup lang="ts">
/** Ten years of the site, played event by event beside the reckoning: how far apart years lie. */
import { proxy, wrap, type Remote } from 'comlink'
import { linesInUse, siteOutlook, watchedLines, type YearsPlayed } from '@mast/core/uplinks'
import type { YearsWorker } from '~/workers/years.worker'

const YEARS = 10
/** So many histories of ten years are played: their mean is what the reckoning is held against. */
const HISTORIES = 100

const site = useSite()
const model = useLater(() => site.opened.model)
const lines = computed(() => linesInUse(model.value))
const outlook = computed(() => siteOutlook(model.value))
const minutes = shallowRef<readonly number[]>([])
const events = ref(0)
const isRunning = ref(false)
let thread: Worker | undefined
let isStopped = false

async function play(): Promise<void> {
  minutes.value = []
  events.value = 0
  isStopped = false
  isRunning.value = true
  thread = new Worker(new URL('../../workers/years.worker.ts', import.meta.url), { type: 'module' })
  const remote: Remote<YearsWorker> = wrap<YearsWorker>(thread)
  const { switchSeconds, back } = model.value.plan.site.failover
  const seen: number[] = []
  let told = 0
  await remote
    .play(
      watchedLines(model.value),
      back ?? { kind: 'at-once' },
      switchSeconds,
      YEARS,
      HISTORIES,
      proxy((played: YearsPlayed) => {
        seen.push(...played.minutes)
        events.value += played.events
        // Drawn now and then: ten years are played in less than a frame.
        if (performance.now() - told > 100) {
          told = performance.now()
          minutes.value = [...seen]
        }
        return Promise.resolve(!isStopped)
      }),
    )
    .catch(() => {})
  minutes.value = [...seen]
  stop()
}
function stop(): void {
  isStopped = true
  isRunning.value = false
  thread?.terminate()
  thread = undefined
}
onBeforeUnmount(stop)
watch(() => [model.value.plan.uplinks, model.value.plan.site.failover], stop)

const mean = computed(
  () => minutes.value.reduce((a, b) => a + b, 0) / Math.max(1, minutes.value.length),
)
/** Half of the span in which the mean lies in 95 of 100 such plays. */
const give = computed(() => {
  const n = minutes.value.length
  if (n < 2) return Infinity
  const variance = minutes.value.reduce((s, m) => s + (m - mean.value) ** 2, 0) / (n - 1)
  return 1.96 * Math.sqrt(variance / n)
})
const sorted = computed(() => [...minutes.value].sort((a, b) => a - b))
const share = (p: number): number =>
  sorted.value[Math.min(sorted.value.length - 1, Math.floor(p * sorted.value.length))] ?? 0
const text = (n: number): string =>
  n < 10 ? n.toFixed(1) : n > 1e6 ? '?' : countText(Math.round(n))
/** The mean as the years go by, on a strip of 60. */
const converging = computed(() => {
  const list = minutes.value
  let sum = 0
  const means = list.map((m, i) => (sum += m) / (i + 1))
  const most = Math.max(...means.slice(9), outlook.value?.totalMinutes ?? 0, 1e-9) * 1.1
  const y = (m: number): number => 58 - (Math.min(m, most) / most) * 56
  const every = Math.max(1, Math.floor(means.length / 400))
  return {
    path: means
      .flatMap((m, i) =>
        i >= 9 && i % every === 0
          ? [`${((i / means.length) * 860).toFixed(1)} ${y(m).toFixed(1)}`]
          : [],
      )
      .join(' L'),
    reckoned: y(outlook.value?.totalMinutes ?? 0),
  }
})
const BARS = 24
const bars = computed(() => {
  const most = Math.max(1, share(0.99))
  const counts = new Array<number>(BARS).fill(0)
  for (const m of minutes.value) counts[Math.min(BARS - 1, Math.floor((m / most) * BARS))]!++
  const highest = Math.max(1, ...counts)
  return { most, counts: counts.map((c) => (c / highest) * 84) }
})
</script>

<template>
  <section v-if="lines.length && outlook" aria-label="Years played">
    <h2>A thousand years, played</h2>
    <p class="faint">
      Things fail and are mended, tests are lost, the gateway counts: event by event, sharing
      nothing with the reckoning above.
    </p>
    <div class="row no-print">
      <v-btn v-if="!isRunning" @click="play">Play {{ countText(YEARS * HISTORIES) }} years</v-btn>
      <v-btn v-else @click="stop">Stop</v-btn>
      <v-progress-linear
        v-if="isRunning"
        :model-value="(100 * minutes.length) / (YEARS * HISTORIES)"
        aria-label="Years played"
        style="max-width: 260px"
      />
    </div>
    <template v-if="minutes.length > 1">
      <p role="status">
        {{ countText(minutes.length) }} years, {{ countText(events) }} events:
        <b class="mono">{{ text(mean) }} min</b> a year in the mean, give or take
        <b class="mono">{{ text(give) }}</b>; reckoned were
        <b class="mono">{{ text(outlook.totalMinutes) }}</b>. Half of the years have no more than
        <b class="mono">{{ text(share(0.5)) }}</b>, one in twenty more than
        <b class="mono">{{ text(share(0.95)) }}</b>.
      </p>
      <svg
        viewBox="0 0 860 116"
        class="years"
        role="img"
        aria-label="How many years have so many minutes; the same stands above"
      >
        <rect
          v-for="(h, i) in bars.counts"
          :key="i"
          :x="(i * 860) / BARS + 1"
          :y="90 - h"
          :width="860 / BARS - 2"
          :height="h"
        />
        <path d="M0 90.5 H860" />
        <text x="0" y="108">0 min</text>
        <text x="860" y="108" text-anchor="end">{{ text(bars.most) }} min and more</text>
      </svg>
      <svg
        v-if="converging.path"
        viewBox="0 0 860 78"
        class="years"
        role="img"
        aria-label="How the mean comes to rest beside what was reckoned"
      >
        <path :d="`M0 ${converging.reckoned} H860`" class="reckoned" />
        <path :d="`M${converging.path}`" />
        <text x="0" y="74">the mean, year by year; dashed: reckoned</text>
      </svg>
    </template>
  </section>
</template>

<style scoped>
.reckoned {
  stroke-dasharray: 6 4;
  stroke: var(--action);
}
.years {
  width: 100%;
  max-width: 860px;
}
rect {
  fill: var(--action);
}
path {
  stroke: var(--ink);
  fill: none;
}
text {
  font-size: 12px;
  fill: var(--faint);
}
</style>
