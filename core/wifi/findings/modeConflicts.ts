/** What a mode on the air needs and has not, or cannot and is asked for. */
import { editCall } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { isRepeater } from '../extenders/isRepeater'

export default defineRule({
  id: 'wifi/modes',
  severity: 'caution',
  catches: [],
  title: 'A mode on the air that does not fit',
  sheet: 'wifi',
  reads: ['devices', 'profiles', 'wirelessNetworks'],
  *check(model) {
    const networks = Object.values(model.plan.wirelessNetworks)
    for (const d of model.devices) {
      const mode = d.mode
      const profile = model.profileOf(d.id)
      const change = (label: string, changes: object): Fix => ({
        label,
        edits: [editCall('changeDevice', { id: d.id, changes })],
      })
      if (mode !== null && profile.air.length === 0)
        yield {
          key: `no-radio:${d.id}`,
          subjects: [d.id],
          text: `${d.name} is to be on the air and has no radio.`,
          why: 'Nothing it sends is heard.',
          fixes: [change('Leave it to its cables', { mode: null, listensToId: null })],
        }
      if (isRepeater(model, d) || mode === 'client') {
        const listens = d.listensToId ? model.plan.devices[d.listensToId] : undefined
        if (!listens)
          yield {
            key: `nobody:${d.id}`,
            severity: 'note',
            subjects: [d.id],
            text: `${d.name} ${mode === 'client' ? 'joins' : 'repeats'} an access point, and nobody said which.`,
            why: 'Where it may stand, and what comes through, follows from what it hears.',
            fixes: [],
          }
        else if (!networks.some((w) => w.accessPointIds.includes(listens.id)))
          yield {
            key: `silent:${d.id}`,
            subjects: [d.id, listens.id],
            text: `${d.name} listens to ${listens.name}, which sends no network.`,
            why: 'There is nothing to join.',
            fixes: [],
          }
      }
      if (mode === 'client' || mode === 'bridge') {
        const sends = networks.filter((w) => w.accessPointIds.includes(d.id))
        if (sends.length > 0)
          yield {
            key: `sends:${d.id}`,
            subjects: [d.id, ...sends.map((w) => w.id)],
            text:
              `${d.name} is ${mode === 'client' ? "somebody's client" : 'one end of a bridge'} on the air, ` +
              `and is to send '${sends[0]!.name}'.`,
            why: 'In that mode it sends no network of its own.',
            fixes: [
              {
                label: 'Send it from the others',
                edits: sends.map((w) =>
                  editCall('changeWirelessNetwork', {
                    id: w.id,
                    changes: { accessPointIds: w.accessPointIds.filter((id) => id !== d.id) },
                  }),
                ),
              },
            ],
          }
      }
    }
  },
})
