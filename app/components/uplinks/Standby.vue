<script setup lang="ts">
/** What the site has while another line is used. */
import { inPlan } from '@mast/core/plan'
import { linesInUse, onStandby } from '@mast/core/uplinks'

const site = useSite()
const model = useLater(() => site.opened.model)
const first = computed(() => linesInUse(model.value)[0])
/** An outage of the usual length, or of a working day where nobody recorded any. */
const DAY_HOURS = 8
const hours = computed(() => first.value?.failing?.hours ?? DAY_HOURS)
const standbys = computed(() => onStandby(model.value, hours.value))
const line = (id: string) => inPlan(model.value.plan.uplinks, id)
const speed = (s: { before: number | null; then: number | null }): string =>
  `${s.then ?? '?'} Mbit/s instead of ${s.before ?? '?'}`
const round = (n: number): string => (n < 10 ? n.toFixed(1) : countText(Math.round(n)))
</script>

<template>
  <section
    v-for="s in standbys"
    :key="s.lineId"
    :aria-label="`While ${line(s.lineId).name} is used`"
  >
    <h2>While {{ line(s.lineId).name }} is used</h2>
    <ul class="facts">
      <li>
        Down <b class="mono">{{ speed(s.down) }}</b>, up <b class="mono">{{ speed(s.up) }}</b>.
      </li>
      <li>
        Everything comes from another address: calls, sessions and tunnels that are open break once
        on the way over and once on the way back.
      </li>
      <li v-if="s.lostForwardIds.length">
        Nobody outside reaches
        {{ s.lostForwardIds.map((id) => inPlan(model.plan.forwards, id).name).join(', ') }}.
      </li>
      <li v-if="s.most">
        An outage of {{ s.most.hours }} h is <b class="mono">{{ round(s.most.gigabytes) }} GB</b> at
        the most<template v-if="s.most.price !== null"
          >; <b class="mono">{{ round(s.most.beyondCap) }} GB</b> of it beyond what is included, for
          <b class="mono">{{ round(s.most.price) }}</b></template
        >.
      </li>
    </ul>
  </section>
</template>

<style scoped>
.facts {
  padding-left: 18px;
  margin: 4px 0 12px;
  max-width: 72ch;
}
</style>
