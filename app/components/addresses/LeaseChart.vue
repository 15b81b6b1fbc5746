<script setup lang="ts">
import { CategoryScale, Chart, Filler, LinearScale, LineElement, PointElement } from 'chart.js'
import type { DayPoint } from '@mast/core/addressing'
import { Line } from 'vue-chartjs'

Chart.register(CategoryScale, LinearScale, LineElement, PointElement, Filler)

const props = defineProps<{ day: readonly DayPoint[]; pool: number; title: string }>()
const colours = useChartColours()
const data = computed(() => ({
  labels: props.day.map((p) => p.hour),
  datasets: [
    {
      label: 'held on average',
      data: props.day.map((p) => p.mean),
      borderColor: colours.value.primary,
      backgroundColor: `${colours.value.primary}22`,
      borderWidth: 2,
      pointRadius: 0,
      fill: 'origin',
    },
    {
      label: 'one day in a thousand',
      data: props.day.map((p) => p.high),
      borderColor: colours.value.primary,
      borderWidth: 1,
      borderDash: [4, 3],
      pointRadius: 0,
    },
    {
      label: 'pool',
      data: props.day.map(() => props.pool),
      borderColor: colours.value.error,
      borderWidth: 1.5,
      borderDash: [8, 3],
      pointRadius: 0,
    },
  ],
}))
/** Drawn in a turn of its own: a chart measures all its labels again. */
const drawn = useLater(() => data.value)
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: { legend: { display: false } },
  scales: {
    x: {
      ticks: {
        color: colours.value.faint,
        autoSkip: false,
        maxRotation: 0,
        callback: (_: unknown, i: number): string => (i % 12 === 0 ? `${i / 4}:00` : ''),
      },
      grid: { display: false },
    },
    y: {
      beginAtZero: true,
      ticks: { color: colours.value.faint, maxTicksLimit: 5 },
      grid: { color: `${colours.value.hairline}66` },
    },
  },
}))
</script>

<template>
  <figure class="chart">
    <div class="canvas">
      <Line :data="drawn" :options="options" role="img" :aria-label="title" />
    </div>
    <figcaption class="faint">
      <svg width="26" height="8" aria-hidden="true">
        <line x1="0" x2="26" y1="4" y2="4" stroke="rgb(var(--v-theme-primary))" stroke-width="2" />
      </svg>
      held on average
      <svg width="26" height="8" aria-hidden="true">
        <line
          x1="0"
          x2="26"
          y1="4"
          y2="4"
          stroke="rgb(var(--v-theme-primary))"
          stroke-dasharray="4 3"
        />
      </svg>
      one day in a thousand more
      <svg width="26" height="8" aria-hidden="true">
        <line
          x1="0"
          x2="26"
          y1="4"
          y2="4"
          stroke="rgb(var(--v-theme-error))"
          stroke-width="1.5"
          stroke-dasharray="8 3"
        />
      </svg>
      pool, {{ pool }} addresses
    </figcaption>
  </figure>
</template>

<style scoped>
.chart {
  margin: 8px 0;
}
.canvas {
  height: 170px;
}
figcaption {
  font-size: 12.5px;
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
