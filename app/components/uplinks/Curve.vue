<script setup lang="ts">
/** What every setting of the tests costs in time and in false alarms, and which does best. */
import { editCall } from '@mast/core/plan'
import { linesInUse, siteOutlook, siteTuning, withSetting } from '@mast/core/uplinks'
import { exactDuration } from '@mast/core/words'

const site = useSite()
const model = useLater(() => site.opened.model)
const tuning = computed(() => siteTuning(model.value))
const outlook = computed(() => siteOutlook(model.value))
const line = computed(() => linesInUse(model.value)[0])
const present = computed(() => {
  const o = outlook.value
  return o?.over ? { x: o.over.worst, y: o.falseSwitchesAYear } : null
})
const isBest = computed(() => {
  const [b, w] = [tuning.value?.best, line.value?.watch]
  return !!b && !!w && b.intervalSeconds === w.intervalSeconds && b.failures === w.failures
})
const refused = ref<string | undefined>()
function take(): void {
  const [best, u] = [tuning.value?.best, line.value]
  if (!best || !u?.watch) return
  refused.value = site.mend(`Test ${u.name} as suits the site best`, [
    editCall('changeUplink', { id: u.id, changes: { watch: withSetting(u.watch, best) } }),
  ])
}
const rate = (n: number): string =>
  n === 0 ? '0' : n < 0.01 ? 'under 0.01' : String(Number(n.toPrecision(2)))
</script>

<template>
  <section v-if="tuning && tuning.curve.length && line" aria-label="Settings of the tests">
    <h2>Which setting</h2>
    <p v-if="tuning.best">
      <b
        >Every {{ exactDuration(tuning.best.intervalSeconds) }}, {{ tuning.best.failures }} failures
        to go</b
      >
      keeps what the site lives with and does best: over after
      {{ exactDuration(tuning.best.worstSeconds) }} at the most,
      {{ rate(tuning.best.falseSwitchesAYear) }} false switches a year.
      <span v-if="isBest" class="mark clear"><ShellStateShape kind="clear" />It is so set.</span>
      <v-btn v-else size="small" class="no-print" @click="take">Set it so</v-btn>
    </p>
    <p v-else class="mark cautions wrap">
      <ShellStateShape kind="cautions" />No setting keeps both what the site lives with and the
      false switches that are accepted; another target, or less loss, would help.
    </p>
    <Refusal :says="refused" />
    <LazyUplinksCurveChart :curve="tuning.curve" :present="present" :best="tuning.best" />
  </section>
</template>
