<script setup lang="ts">
/** Which step of modulation stands for how much of the year, in each direction. */
import { linesOver, throughputOf, yearWords } from '@mast/core/bridges'
import { useBridge } from './useBridge'

const site = useSite()
const { reckoned } = useBridge()
const lines = computed(() => (reckoned.value ? linesOver(site.opened.model, reckoned.value) : []))
const rows = computed(() => {
  const r = reckoned.value
  if (!r) return []
  const { unit } = r.budget.facts.a
  return r.timesToB.map((t, n) => {
    const data = throughputOf(unit, t.step.mbps, r.socketMbps)
    return {
      t,
      back: r.timesToA[n],
      data,
      isHeld: r.heldToB?.step === t.step,
      isNow: r.budget.toB.step === t.step,
    }
  })
})
</script>

<template>
  <section v-if="rows.length" aria-label="Over the year">
    <h2>Over the year</h2>
    <div class="scroll-x">
      <table class="plain" aria-label="Steps of modulation over the year">
        <thead>
          <tr>
            <th>Step</th>
            <th>On the air</th>
            <th>Data, one way quiet</th>
            <th>Data, both busy</th>
            <th>Needs</th>
            <th>Over it, to B</th>
            <th>Not held, to B</th>
            <th>Not held, to A</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.t.step.name" :class="{ selected: r.isNow }">
            <td>{{ r.t.step.name }}</td>
            <td class="mono">{{ r.t.step.mbps }} Mbit/s</td>
            <td class="mono">{{ r.data.aloneMbps.toFixed(0) }}</td>
            <td class="mono">{{ r.data.bothMbps.toFixed(0) }} each</td>
            <td class="mono">{{ r.t.step.leastDbm }} dBm</td>
            <td class="mono">{{ r.t.marginDb.toFixed(1) }} dB</td>
            <td
              class="mono"
              :title="
                `rain ${r.t.rainPercent.toPrecision(3)} %, fading ` +
                `${r.t.fadingPercent.toPrecision(3)} % of the year`
              "
            >
              {{ yearWords(r.t.belowMinutes) }}
            </td>
            <td class="mono">{{ r.back ? yearWords(r.back.belowMinutes) : '' }}</td>
            <td>{{ r.isNow ? 'clear weather' : r.isHeld ? 'held as asked' : '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="faint">
      Rain after ITU-R P.838-3 and P.530, {{ reckoned?.budget.losses.rainMmH }} mm/h for 0.01 % of
      the year; layers of air after P.530, from 1 km on.
    </p>
    <p v-for="l in lines" :key="l.line.id">
      {{ l.line.name }} comes over this bridge and is missed {{ yearWords(l.minutes) }} a year for
      it;
      {{
        l.standby
          ? `${l.standby.name} carries what is needed in that time, with ` +
            `${l.standby.handOff.downMbps ?? '?'} Mbit/s down.`
          : 'no other line stands by.'
      }}
    </p>
  </section>
</template>
