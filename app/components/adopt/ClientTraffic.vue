<script setup lang="ts">
/** How much moved to and from one client, in spans of five minutes of the last hours. */
import {
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  Tooltip,
  type TooltipItem,
} from 'chart.js'
import { octetsText } from '@mast/core/adoption'
import { Bar } from 'vue-chartjs'
import type { ClientSpan } from '@mast/api'

Chart.register(BarElement, CategoryScale, Legend, LinearScale, Tooltip)

/** `until` is when it was heard last: what is shown is read again when that changes. */
const props = defineProps<{ client: string; until: string | null }>()
const field = useField()
const SPAN_MS = 5 * 60_000
const HOURS = 3
const spans = shallowRef<readonly ClientSpan[]>([])
watch(
  () => [props.client, props.until],
  async () => {
    spans.value = await field.clientTraffic(props.client).catch(() => spans.value)
  },
  { immediate: true },
)
/** All spans of the hours shown, those in which nothing moved too. */
const shown = computed(() => {
  const last = Math.floor(Date.now() / SPAN_MS) * SPAN_MS
  const at = new Map(spans.value.map((s) => [new Date(s.at).getTime(), s]))
  return Array.from({ length: (HOURS * 3_600_000) / SPAN_MS }, (_, i) => {
    const begins = last - ((HOURS * 3_600_000) / SPAN_MS - 1 - i) * SPAN_MS
    const { downOctets = 0, upOctets = 0 } = at.get(begins) ?? {}
    return { begins, downOctets, upOctets }
  })
})
const colours = useChartColours()
const data = computed(() => ({
  labels: shown.value.map((s) => timeText(new Date(s.begins).toISOString())),
  datasets: [
    {
      label: 'to it',
      data: shown.value.map((s) => s.downOctets),
      backgroundColor: colours.value.primary,
      stack: 'moved',
    },
    {
      label: 'from it',
      data: shown.value.map((s) => s.upOctets),
      backgroundColor: colours.value.faint,
      stack: 'moved',
    },
  ],
}))
const options = computed(() => ({
  responsive: true,
  maintainAspectRatio: false,
  animation: false as const,
  plugins: {
    legend: {
      position: 'top' as const,
      align: 'end' as const,
      labels: { boxWidth: 12, color: colours.value.faint },
    },
    tooltip: {
      callbacks: {
        label: (item: TooltipItem<'bar'>): string =>
          `${octetsText(item.parsed.y ?? 0)} ${item.dataset.label}`,
      },
    },
  },
  scales: {
    x: {
      stacked: true,
      ticks: { color: colours.value.faint, maxTicksLimit: 7, maxRotation: 0 },
      grid: { display: false },
    },
    y: {
      stacked: true,
      beginAtZero: true,
      ticks: {
        color: colours.value.faint,
        maxTicksLimit: 5,
        callback: (value: number | string): string => octetsText(Number(value)),
      },
      grid: { color: `${colours.value.hairline}66` },
    },
  },
}))
const total = computed(() => shown.value.reduce((n, s) => n + s.downOctets + s.upOctets, 0))
</script>

<template>
  <figure class="traffic">
    <div class="canvas">
      <Bar
        :data="data"
        :options="options"
        role="img"
        :aria-label="`Moved in the last ${HOURS} hours: ${octetsText(total)}`"
      />
    </div>
    <figcaption class="faint">
      {{ octetsText(total) }} in the last {{ HOURS }} hours, by spans of five minutes.
    </figcaption>
  </figure>
</template>

<style scoped>
.traffic {
  margin: 0 0 8px;
  max-width: 720px;
}
.canvas {
  height: 170px;
}
</style>
