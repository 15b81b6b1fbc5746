/** C-40: a distance setting that turns power, set far beyond the path. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { knownBridges } from '../reckoned'
import { CARRIES } from './reads'

/** So much more than the path is far beyond it. */
const FAR = 1.5

export default defineRule({
  id: 'bridges/far-reaching',
  severity: 'caution',
  catches: ['C-40'],
  title: 'The distance setting reaches far beyond the other end',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model))
      for (const end of ['a', 'b'] as const) {
        const { unit, set, device } = r.budget.facts[end]
        const { metres } = r.budget.facts.way
        if (unit.distance.kind !== 'power-m' || set.distance === null) continue
        if (set.distance <= metres * FAR) continue
        const wanted = Math.ceil(metres * 1.1)
        yield {
          key: `${r.bridge.id}:${end}`,
          subjects: [r.bridge.id, device.id],
          text: `${device.name} is set to ${set.distance} m, and the other end is ${Math.round(metres)} m away.`,
          why: 'Its distance setting turns the power: so far out it disturbs others and can be heard by them.',
          numbers: [],
          fixes: [
            {
              label: `Set it to ${wanted} m`,
              edits: [
                editCall('changeBridge', {
                  id: r.bridge.id,
                  changes: { [end]: { ...set, distance: wanted } },
                }),
              ],
            },
          ],
        }
      }
  },
})
