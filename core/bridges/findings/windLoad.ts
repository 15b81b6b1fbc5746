/** Wind against a mount that only its weight holds. */
import { defineRule } from '../../findings/rule'
import { windOn } from '../mount/load'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

export default defineRule({
  id: 'bridges/wind-load',
  severity: 'caution',
  catches: [],
  title: 'A weighted mount against the wind',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model))
      for (const end of ['a', 'b'] as const) {
        const { set, device } = r.budget.facts[end]
        if (set.mount !== 'weighted') continue
        const gust = r.bridge.gustMs
        const wind = windOn(r.budget.facts[end], r.budget.facts.mhz, gust)
        const needed = wind.ballastKg
        if (needed !== null && set.ballastKg >= needed) continue
        yield {
          key: `${r.bridge.id}:${end}`,
          subjects: [r.bridge.id, device.id],
          text:
            needed === null
              ? `${device.name} stands on a mount that only its weight holds, and no gust is entered.`
              : `${device.name} stands on a mount with ${set.ballastKg} kg; a gust of ${gust} m/s ` +
                `asks for about ${Math.ceil(needed)} kg.`,
          why: 'A rough figure for whoever is licensed to judge mount and roof, not a permission.',
          numbers:
            wind.forceN === null
              ? []
              : [
                  {
                    label: 'wind',
                    value: `${Math.round(wind.forceN)} N`,
                    how: wind.how,
                  },
                ],
          fixes: [],
        }
      }
  },
})
