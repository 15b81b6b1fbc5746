/** C-42: too little margin for the availability asked. */
import { defineRule } from '../../findings/rule'
import { YEAR_MINUTES, yearWords } from '../budget/availability'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'
import { improvements } from './improvements'

const TITLE = 'The margin is too small for the availability asked'

export default defineRule({
  id: 'bridges/thin-margin',
  severity: 'caution',
  catches: ['C-42'],
  title: TITLE,
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model)) {
      const { toB, toA, losses } = r.budget
      if (toB.marginDb === null || toA.marginDb === null || (r.heldToB && r.heldToA)) continue
      const worse = toB.marginDb <= toA.marginDb ? toB : toA
      const times = worse === toB ? r.timesToB : r.timesToA
      const allowed = ((100 - r.bridge.availabilityPercent) / 100) * YEAR_MINUTES
      const isDead = worse.step === null
      const [lowest] = times
      yield {
        key: r.bridge.id,
        severity: isDead ? 'blocker' : 'caution',
        title: isDead ? 'Nothing passes, even in clear weather' : TITLE,
        subjects: [r.bridge.id],
        text: isDead
          ? `${r.bridge.name}: ${worse.levelDbm.toFixed(1)} dBm arrive and ` +
            `${worse.steps[0]!.leastDbm} dBm are needed for anything to pass.`
          : `${r.bridge.name} is down ${yearWords(lowest!.belowMinutes)} a year; ` +
            `${r.bridge.availabilityPercent} % allow ${yearWords(allowed)}.`,
        why: isDead
          ? 'Larger antennas, a narrower channel, higher masts, or another way.'
          : 'Rain and layers of air take more than what is left over what the most modest step needs.',
        numbers: [
          {
            label: 'margin',
            value: `${worse.marginDb!.toFixed(1)} dB`,
            how: `${worse.levelDbm.toFixed(1)} dBm over ${worse.steps[0]!.leastDbm} dBm`,
          },
          {
            label: 'rain',
            value: `${losses.rainDb.toFixed(1)} dB`,
            how: `for 0.01 % of the year at ${losses.rainMmH} mm/h (ITU-R P.838, P.530)`,
          },
          ...(lowest
            ? [
                {
                  label: 'down',
                  value: yearWords(lowest.belowMinutes),
                  how:
                    `rain ${lowest.rainPercent.toFixed(4)} %, fading ` +
                    `${lowest.fadingPercent.toFixed(4)} % of the year`,
                },
              ]
            : []),
        ],
        fixes: improvements(model, r, (n) => n.heldToB !== null && n.heldToA !== null),
      }
    }
  },
})
