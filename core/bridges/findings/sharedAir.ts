/** Bridges on one mast, and others that an end hears, on the same or overlapping channels. */
import { editCall } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { quietestChannel, disturbances } from '../channels/quietest'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

/** Under what it hears itself a disturbance this far counts for nothing, dB (common practice). */
const APART_DB = 25

export default defineRule({
  id: 'bridges/shared-air',
  severity: 'caution',
  catches: ['C-36'],
  title: 'A bridge shares its channel with somebody',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    const all = knownBridges(model)
    for (const r of all) {
      const { facts } = r.budget
      if (!facts.isChannelSet) continue
      const worst = disturbances(r, all, facts.mhz)
        .filter((d) => d.dbm > d.ownDbm - APART_DB)
        .sort((x, y) => y.dbm - x.dbm)[0]
      if (!worst) continue
      const quiet = quietestChannel(r, all, model.plan.site.country)
      const fixes: Fix[] =
        quiet && quiet.worstDb <= -APART_DB
          ? [
              {
                label: `Set both ends to channel ${quiet.number}, ${quiet.mhz} MHz`,
                edits: [
                  editCall('changeBridge', {
                    id: r.bridge.id,
                    changes: {
                      a: { ...r.bridge.a, channel: quiet.number },
                      b: { ...r.bridge.b, channel: quiet.number },
                    },
                  }),
                ],
              },
            ]
          : []
      yield {
        key: r.bridge.id,
        subjects: [r.bridge.id],
        text:
          `${r.bridge.name}: ${facts[worst.end].device.name} hears ${worst.name} on its channel ` +
          `with ${worst.dbm.toFixed(0)} dBm, and its own other end with ` +
          `${worst.ownDbm.toFixed(0)} dBm.`,
        why: 'What overlaps and is not 25 dB weaker takes steps of modulation away, whatever the margin is.',
        numbers: [
          {
            label: 'weaker by',
            value: `${(worst.ownDbm - worst.dbm).toFixed(0)} dB`,
            how: `${APART_DB} dB are wanted`,
          },
        ],
        fixes,
      }
    }
  },
})
