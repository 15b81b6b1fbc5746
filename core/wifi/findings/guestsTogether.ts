/** C-34: guests who hear each other. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wifi/guests-together',
  severity: 'caution',
  catches: ['C-34'],
  title: 'Guests are not kept apart',
  sheet: 'wifi',
  reads: ['segments', 'wirelessNetworks'],
  *check(model) {
    for (const w of Object.values(model.plan.wirelessNetworks)) {
      const segment = model.segment(w.segmentId)
      if (segment.purpose !== 'guests' || w.clientIsolation) continue
      yield {
        subjects: [w.id, segment.id],
        text: `Clients of '${w.name}' hear each other in ${segment.name}.`,
        why: "A stranger's laptop sees every other guest's; the gateway's rules never see what stays inside a segment.",
        fixes: [
          {
            label: `Keep the clients of '${w.name}' apart`,
            edits: [
              editCall('changeWirelessNetwork', { id: w.id, changes: { clientIsolation: true } }),
            ],
          },
        ],
      }
    }
  },
})
