/** C-83: guests who come in by another band, or under the same name elsewhere, never see the page. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wifi/portal-on-one-band',
  severity: 'caution',
  catches: ['C-83'],
  title: 'A page for guests that not all of them see',
  sheet: 'wifi',
  reads: ['wirelessNetworks'],
  *check(model) {
    const all = Object.values(model.plan.wirelessNetworks)
    for (const w of all) {
      if (w.portal === null) continue
      for (const other of all) {
        if (other.id === w.id || other.name !== w.name || other.portal !== null) continue
        const only = (n: typeof w): string => n.bands.join(' and ')
        yield {
          key: `${w.id}:${other.id}`,
          subjects: [w.id, other.id],
          text:
            `'${w.name}' shows its page in ${only(w)} GHz, and is there without one in ` +
            `${only(other)} GHz.`,
          why: 'A device that is led from one band to the other is asked for nothing.',
          fixes: [
            {
              label: 'Show the same page there',
              edits: [
                editCall('changeWirelessNetwork', { id: other.id, changes: { portal: w.portal } }),
              ],
            },
          ],
        }
      }
    }
  },
})
