/** A network that nothing sends, or that is to be sent by what has no radio for clients. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

export default defineRule({
  id: 'wifi/access-points',
  severity: 'blocker',
  catches: [],
  title: 'A network without access points, or with others',
  sheet: 'wifi',
  reads: ['wirelessNetworks', 'devices', 'profiles'],
  *check(model) {
    const sends = (id: string): boolean =>
      ['access-point', 'range-extender'].includes(model.profileOf(id).kind) ||
      (model.profileOf(id).kind === 'gateway' && model.profileOf(id).air.length > 0)
    const senders = model.devices.filter((d) => sends(d.id)).map((d) => d.id)
    for (const w of Object.values(model.plan.wirelessNetworks)) {
      const strange = w.accessPointIds.filter((id) => !sends(id))
      const rest = w.accessPointIds.filter(sends)
      if (strange.length > 0)
        yield {
          key: `strange:${w.id}`,
          subjects: [w.id, ...strange],
          text:
            `'${w.name}' is to be sent by ${listWords(strange.map((id) => model.device(id).name))}, ` +
            `which ${strange.length === 1 ? 'is no access point' : 'are no access points'}.`,
          why: 'Nothing goes on the air there.',
          fixes: [
            {
              label: `Leave ${strange.length === 1 ? 'it' : 'them'} out`,
              edits: [
                editCall('changeWirelessNetwork', { id: w.id, changes: { accessPointIds: rest } }),
              ],
            },
          ],
        }
      else if (w.accessPointIds.length === 0)
        yield {
          key: `none:${w.id}`,
          severity: 'caution',
          subjects: [w.id],
          text: `'${w.name}' is sent by no access point.`,
          why: 'Nobody can join it.',
          fixes:
            senders.length > 0
              ? [
                  {
                    label:
                      senders.length === 1 ? 'Send it there' : `Send it from all ${senders.length}`,
                    edits: [
                      editCall('changeWirelessNetwork', {
                        id: w.id,
                        changes: { accessPointIds: senders },
                      }),
                    ],
                  },
                ]
              : [],
        }
    }
  },
})
