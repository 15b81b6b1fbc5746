/**
 * C-34: a guest network with client isolation but no policy behind it. Isolation keeps clients of
 * one radio apart, not guests out of the LAN.
 */
import { editCall } from '../../plan'
import { matrixOf } from '../../policy'
import { defineRule } from '../../findings/rule'
import { DECIDES_BY } from '../../policy/decidesBy'

export default defineRule({
  id: 'wifi/guest-isolation-alone',
  severity: 'blocker',
  catches: ['C-34'],
  title: 'Client isolation is all that holds the guests',
  sheet: 'wifi',
  reads: DECIDES_BY,
  *check(model) {
    const matrix = matrixOf(model.plan)
    for (const w of Object.values(model.plan.wirelessNetworks)) {
      const segment = model.segment(w.segmentId)
      if (segment.purpose !== 'guests' || !w.clientIsolation) continue
      const open = model.segments.filter(
        (s) => s.id !== segment.id && matrix.cell(segment.id, s.id)?.verdict !== 'none',
      )
      if (open.length === 0) continue
      yield {
        key: w.id,
        subjects: [w.id, segment.id, ...open.map((s) => s.id)],
        text:
          `'${w.name}' isolates its clients from each other, and lets them through to ` +
          `${open.map((s) => s.name).join(', ')}.`,
        why: "Isolation works inside one network; between segments only the gateway's rules do.",
        numbers: [
          {
            label: 'segments open to guests',
            value: `${open.length} of ${model.segments.length - 1}`,
          },
        ],
        fixes: [
          {
            label: `Keep ${segment.name} out of ${open.map((s) => s.name).join(', ')}`,
            edits: [
              editCall('denyPairs', {
                from: segment.id,
                to: open.map((s) => s.id),
                reason: 'guests reach the internet and nothing else',
              }),
            ],
          },
        ],
      }
    }
  },
})
