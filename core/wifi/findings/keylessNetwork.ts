/**
 * C-32: a network that anybody may join, or that has no key yet, on a segment that is not for
 * guests.
 */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wifi/keyless',
  severity: 'blocker',
  catches: ['C-32'],
  title: 'A network without a key leads into the site',
  sheet: 'wifi',
  reads: ['segments', 'wirelessNetworks'],
  *check(model) {
    for (const w of Object.values(model.plan.wirelessNetworks)) {
      const segment = model.segment(w.segmentId)
      const isOpen = w.security === 'open'
      if (isOpen ? segment.purpose === 'guests' : w.keyRef !== null) continue
      const keyRef = `wifi-${w.id}`
      yield {
        subjects: [w.id, segment.id],
        text: isOpen
          ? `'${w.name}' is open, and whoever is in reach lands in ${segment.name}.`
          : `'${w.name}' is to have a key, and none is named for it.`,
        why: isOpen
          ? 'Only guests belong on an open network; of everybody else the traffic can be read ' +
            'and the segment entered from the street.'
          : 'Access points cannot send it: they get no configuration while its key is missing.',
        fixes: [
          {
            label: isOpen
              ? `Give '${w.name}' a key (WPA2 and WPA3)`
              : `Name a key for '${w.name}', to be typed on its card`,
            edits: [
              editCall('changeWirelessNetwork', {
                id: w.id,
                changes: { keyRef, ...(isOpen ? { security: 'wpa2-wpa3' } : {}) },
              }),
            ],
          },
        ],
      }
    }
  },
})
