/** C-84: a network on the air before its segment is there. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wifi/air-before-segment',
  severity: 'blocker',
  catches: ['C-84'],
  title: 'A network is on the air before its segment is there',
  sheet: 'wifi',
  reads: ['wirelessNetworks', 'segments'],
  *check(model) {
    for (const w of Object.values(model.plan.wirelessNetworks)) {
      const s = model.segment(w.segmentId)
      if (w.accessPointIds.length === 0) continue
      const missing =
        s.subnet === null
          ? 'no subnet yet'
          : s.gateway === null
            ? 'no gateway yet'
            : s.dhcp.mode === 'off'
              ? 'nobody who hands out addresses'
              : null
      if (missing === null) continue
      yield {
        // Addresses may be typed into all who join, or come from a server that the plan does not know.
        severity: s.subnet === null || s.gateway === null ? 'blocker' : 'caution',
        subjects: [w.id, s.id],
        text: `'${w.name}' is to go on the air, and ${s.name} has ${missing}.`,
        why: 'Who joins gets nowhere, tries other networks, and remembers this one as broken.',
        fixes: [
          {
            label: 'Keep it off the air until then',
            edits: [
              editCall('changeWirelessNetwork', { id: w.id, changes: { accessPointIds: [] } }),
            ],
          },
        ],
      }
    }
  },
})
