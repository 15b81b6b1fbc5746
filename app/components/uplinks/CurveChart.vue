<script setup lang="ts">
import {
  Chart,
  LinearScale,
  LineElement,
  LogarithmicScale,
  PointElement,
  Tooltip,
  type TooltipItem,
} from 'chart.js'
import type { Tuned } from '@mast/core/uplinks'
import { Scatter } from 'vue-chartjs'

Chart.register(LinearScale, LogarithmicScale, LineElement, PointElement, Tooltip)

const props = defineProps<{
  curve: readonly Tuned[]
  present: { readonly x: number; readonly y: number } | null
  best: Tuned | null
}>()
const colours = useChartColours()
/** Fewer than one in a thousand years is drawn as that: the scale has no nought. */
const LEAST = 1e-3
const drawnY = (falseSwitches: number): number => Math.max(LEAST, falseSwitches)
/** As far as anything changes, and as what is set lies. */
const curve = computed(() => {
  const flat = props.curve.findIndex((t) => t.falseSwitchesAYear <= LEAST)
  const last = flat < 0 ? Infinity : props.curve[flat]!.worstSeconds
  const seen = props.present && Number.isFinite(props.present.x) ? props.present.x : 0
  const far = Math.min(900, Math.max(last, seen) * 1.2)
  return props.curve.filter((t) => t.worstSeconds <= far)
})
const data = useLater(() => ({
  datasets: [
    {
      label: 'settings',
      data: curve.value.map((t) => ({ x: t.worstSeconds, y: drawnY(t.falseSwitchesAYear) })),
      borderColor: colours.value.primary,
      backgroundColor: colours.value.primary,
      borderWidth: 1.5,
      showLine: true,
      stepped: 'after' as const,
      pointRadius: 2,
    },
    {
      label: 'present',
      data:
        props.present && Number.isFinite(props.present.x)
          ? [{ x: props.present.x, y: drawnY(props.present.y) }]
          : [],
      backgroundColor: colours.value.error,
      pointStyle: 'rectRot' as const,
      pointRadius: 7,
    },
    {
      label: 'best',
      data: props.best
        ? [{ x: props.best.worstSeconds, y: drawnY(props.best.falseSwitchesAYear) }]
        : [],
      borderColor: colours.value.primary,
      backgroundColor: 'transparent',
      borderWidth: 2,
      pointRadius: 9,
    },
  ],
}))
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: {
    legend: { display: false },
    tooltip: {
      callbacks: {
        label: (item: TooltipItem<'scatter'>): string => {
          const t = item.datasetIndex === 0 ? curve.value[item.dataIndex] : null
          const at = `${item.parsed.x} s at the most, ${Number((item.parsed.y ?? 0).toPrecision(2))} a year`
          return t ? `every ${t.intervalSeconds} s, ${t.failures} failures: ${at}` : at
        },
      },
    },
  },
  scales: {
    x: {
      title: { display: true, text: 'until the other line is used, s, at the most' },
      beginAtZero: true,
      ticks: { color: colours.value.faint },
      grid: { display: false },
    },
    y: {
      type: 'logarithmic' as const,
      title: { display: true, text: 'false switches a year' },
      min: LEAST,
      ticks: {
        color: colours.value.faint,
        maxTicksLimit: 6,
        callback: (value: number | string): string =>
          Number.isInteger(Math.log10(Number(value))) ? countText(Number(value)) : '',
      },
      grid: { color: `${colours.value.hairline}66` },
    },
  },
}))
</script>

<template>
  <figure class="chart">
    <div class="canvas">
      <Scatter
        :data="data"
        :options="options"
        role="img"
        aria-label="Settings of the tests: time until the other line is used, against false switches a year"
      />
    </div>
    <figcaption class="faint">
      Each point is a setting that no other beats in both. The filled diamond is the present one,
      the ring the one that does best.
    </figcaption>
  </figure>
</template>

<style scoped>
.chart {
  margin: 8px 0;
}
.canvas {
  height: 230px;
}
figcaption {
  font-size: 12.5px;
}
</style>
