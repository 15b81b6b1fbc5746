<script setup lang="ts">
/** What the site has while another line is used. */
import { inPlan } from '@mast/core/plan'
import { drillParts, linesInUse, onStandby, PERSON_MBPS, turnOf } from '@mast/core/uplinks'

const site = useSite()
const model = useLater(() => site.opened.model)
const first = computed(() => linesInUse(model.value)[0])
/** An outage of the usual length, or of a working day where nobody recorded any. */
const DAY_HOURS = 8
const hours = computed(() => first.value?.failing?.hours ?? DAY_HOURS)
const standbys = computed(() => onStandby(model.value, hours.value))
const turn = computed(() => turnOf(model.value))
const parts = computed(() => (turn.value ? drillParts(model.value, turn.value) : []))
const going = computed(() => parts.value.filter((p) => p.goesOn))
const stopped = computed(() => parts.value.filter((p) => !p.goesOn).map((p) => p.name))
const least = {
  line: 'the line itself',
  socket: 'the socket that it is in',
  inspection: 'what the gateway can look into',
  gateway: 'what the gateway can carry',
} as const
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
      <li v-if="s.fits">
        <b class="mono">{{ countText(s.fits.mbps) }} Mbit/s</b> fit through, by
        {{ least[s.fits.by] }}: enough for <b class="mono">{{ countText(s.fits.people) }}</b> people
        at {{ PERSON_MBPS }} Mbit/s each<template v-if="s.fits.peopleThere"
          >; {{ countText(s.fits.peopleThere) }} are there</template
        >.
      </li>
      <li v-if="stopped.length">
        Not by it: {{ stopped.join(', ')
        }}<template v-if="going.length">; all the others go on</template>.
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
