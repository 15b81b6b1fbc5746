/** C-46: a trial reading far from what is reckoned. */
import { defineRule } from '../../findings/rule'
import { expectedFromTrial } from '../aim/trial'
import { meaningOf } from '../aim/meaning'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

export default defineRule({
  id: 'bridges/trial-reading',
  severity: 'caution',
  catches: ['C-46'],
  title: 'The trial reading is not what is reckoned',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model)) {
      const { trial } = r.bridge
      if (!trial) continue
      const { facts, toA, toB } = r.budget
      const end = facts[trial.end]
      const direction = trial.end === 'a' ? toA : toB
      const expected = expectedFromTrial(trial, end.antenna.gainDbi)
      const meaning = meaningOf(expected, direction.levelDbm, { ...end.antenna }, [
        r.bridge.a.polarisation,
        r.bridge.b.polarisation,
      ])
      if (meaning.meaning === 'as-expected') continue
      yield {
        key: r.bridge.id,
        subjects: [r.bridge.id],
        text:
          `${r.bridge.name}: ${trial.dbm} dBm were read at ${end.device.name} with ${trial.gainDbi} dBi; with its ` +
          `${end.antenna.gainDbi} dBi that would be ${expected.toFixed(1)} dBm, and ` +
          `${direction.levelDbm.toFixed(1)} dBm are reckoned.`,
        why: `${meaning.text} Check in this order: ${meaning.checks.map((c, n) => `${n + 1}. ${c.text}`).join(' ')}`,
        numbers: [
          {
            label: 'expected',
            value: `${expected.toFixed(1)} dBm`,
            how: `${trial.dbm} dBm + ${end.antenna.gainDbi} dBi - ${trial.gainDbi} dBi`,
          },
          {
            label: 'reckoned',
            value: `${direction.levelDbm.toFixed(1)} dBm`,
            how: 'the staircase',
          },
        ],
        fixes: [],
      }
    }
  },
})
