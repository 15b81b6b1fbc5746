<script setup lang="ts">
/** Power over the cables: what each socket gives, reserves and has left. */
import { inPlan } from '@mast/core/plan'
import { powerOf } from '@mast/core/topology'
import { columnText, type Column } from '../rows/column'

const site = useSite()
const budgets = computed(() =>
  powerOf(site.opened.model).budgets.map((b) => ({ ...b, id: b.deviceId })),
)
type Budget = (typeof budgets.value)[number]
const name = (deviceId: string): string => inPlan(site.opened.plan.devices, deviceId).name
const columns: readonly Column<Budget>[] = [
  { key: 'switch', title: 'Switch', value: (b) => name(b.deviceId) },
  {
    key: 'reserved',
    title: 'Reserved of budget',
    value: (b) => b.reservedW / b.budgetW,
    text: (b) => `${Number(b.reservedW.toFixed(1))} W of ${b.budgetW} W`,
    mono: true,
  },
  { key: 'bar', title: '', value: () => '', isUnsorted: true },
  {
    key: 'sockets',
    title: 'Powered sockets',
    value: (b) => b.powered.length,
    text: (b) => `${b.powered.length} of ${b.sockets}`,
    mono: true,
  },
]
const devicesOf = (b: Budget): string =>
  b.powered.map((p) => `${name(p.deviceId)}: class ${p.poeClass}, ${p.reservedW} W`).join('\n')
</script>

<template>
  <section v-if="budgets.length" aria-label="Power">
    <h2>Power over the cables</h2>
    <LazyRowsDataTable :rows="budgets" :columns="columns" what="switches" :hot="site.pointed">
      <template #cell-reserved="{ row: b }"
        ><span :title="devicesOf(b)">{{ columnText(columns[1]!, b) }}</span></template
      >
      <template #cell-bar="{ row: b }">
        <svg viewBox="0 0 200 12" preserveAspectRatio="none" aria-hidden="true">
          <rect x="0.5" y="1" width="160" height="10" class="frame" />
          <rect
            x="0.5"
            y="1"
            :width="Math.min(199, (b.reservedW / b.budgetW) * 160)"
            height="10"
            :class="{ over: b.reservedW > b.budgetW }"
            class="fill"
          />
          <line x1="160.5" x2="160.5" y1="0" y2="12" class="frame" />
        </svg>
      </template>
    </LazyRowsDataTable>
  </section>
</template>

<style scoped>
svg {
  width: 200px;
  height: 12px;
  display: block;
}
.frame {
  fill: none;
  stroke: var(--ink);
}
.fill {
  fill: var(--action);
  opacity: 0.6;
}
.fill.over {
  fill: var(--blocker);
  opacity: 0.9;
}
</style>
