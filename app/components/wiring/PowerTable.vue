<script setup lang="ts">
/** Power over the cables: what each socket gives, reserves and has left. */
import { inPlan } from '@mast/core/plan'
import { powerOf } from '@mast/core/topology'

const site = useSite()
const budgets = computed(() => powerOf(site.opened.model).budgets)
const { shown, rest, more } = useShownRows(() => budgets.value)
</script>

<template>
  <section v-if="budgets.length" aria-label="Power">
    <h2>Power over the cables</h2>
    <table class="plain">
      <thead>
        <tr>
          <th>Switch</th>
          <th>Reserved of budget</th>
          <th />
          <th>Powered sockets</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in shown" :key="b.deviceId">
          <td>{{ inPlan(site.opened.plan.devices, b.deviceId).name }}</td>
          <td
            class="mono"
            :title="
              b.powered
                .map(
                  (p) =>
                    `${inPlan(site.opened.plan.devices, p.deviceId).name}: class ${p.poeClass}, ${p.reservedW} W`,
                )
                .join('\n')
            "
          >
            {{ Number(b.reservedW.toFixed(1)) }} W of {{ b.budgetW }} W
          </td>
          <td class="bar">
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
          </td>
          <td class="mono">{{ b.powered.length }} of {{ b.sockets }}</td>
        </tr>
      </tbody>
    </table>
    <RowsMore :rest="rest" what="switches" @more="more" />
  </section>
</template>

<style scoped>
.bar {
  width: 220px;
}
.bar svg {
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
