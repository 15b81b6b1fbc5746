<script setup lang="ts">
/** Wind on the antennas and how far people keep away: cautions, not permissions. */
import { exposureM, windOn } from '@mast/core/bridges'
import { useBridge } from './useBridge'

const { reckoned } = useBridge()
const rows = computed(() => {
  const r = reckoned.value
  if (!r) return []
  return (['a', 'b'] as const).map((end) => {
    const facts = r.budget.facts[end]
    const { eirpDbm } = r.budget[end === 'a' ? 'toB' : 'toA'].sending
    return {
      end,
      name: facts.device.name,
      isGuessed: facts.antenna.diameterM === null,
      gust: r.bridge.gustMs,
      wind: windOn(facts, r.budget.facts.mhz, r.bridge.gustMs),
      isWeighted: facts.set.mount === 'weighted',
      kg: facts.set.ballastKg,
      eirpDbm,
      away: exposureM(eirpDbm),
    }
  })
})
</script>

<template>
  <section v-if="rows.length" aria-label="Mounts and people">
    <h2>Mounts and people</h2>
    <div class="scroll-x">
      <table class="plain" aria-label="Wind and exposure">
        <thead>
          <tr>
            <th>End</th>
            <th>Dish</th>
            <th>Wind on it</th>
            <th>Weight, if nothing else holds it</th>
            <th>Sends</th>
            <th>People stay away</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.end">
            <td>{{ r.name }}</td>
            <td class="mono">
              {{ r.wind.diameterM.toFixed(2) }} m{{ r.isGuessed ? ', by its gain' : '' }}
            </td>
            <td class="mono" :title="r.wind.how">
              {{
                r.wind.forceN === null
                  ? 'no gust entered'
                  : `${r.wind.forceN.toFixed(0)} N at ${r.gust} m/s`
              }}
            </td>
            <td class="mono">
              {{ r.wind.ballastKg === null ? '' : `about ${Math.ceil(r.wind.ballastKg)} kg`
              }}{{ r.isWeighted ? `; has ${r.kg} kg` : '' }}
            </td>
            <td class="mono">{{ r.eirpDbm.toFixed(1) }} dBm EIRP</td>
            <td
              class="mono"
              title="S = EIRP / (4 pi d^2), 10 W/m2 for the general public (ICNIRP 2020)"
            >
              {{ r.away.toFixed(2) }} m in front
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="faint">
      Rough figures for whoever is licensed to judge the mount, the roof and the earthing. They
      permit nothing. Local codes go before them.
    </p>
  </section>
</template>
