/** C-20, as devices report it: a cable that came up slower than both of its sockets can. */
import type { FieldRule } from '../../field/fieldRule'
import type { Link } from '../../plan'
import { plannedSpeed, socketSpeed } from './socketSpeed'

export const slowSocket: FieldRule = {
  id: 'field/slow-socket',
  severity: 'caution',
  catches: ['C-20'],
  title: 'A cable came up slower than planned',
  sheet: 'bring-up',
  *check(model, facts) {
    /** The slower of what both ends say. */
    const seen = new Map<Link, number>()
    for (const d of facts.devices) {
      if (!model.plan.devices[d.deviceId] || d.state === 'lost') continue
      for (const port of model.portsOf(d.deviceId)) {
        const said = d.ports.find((p) => p.name === port.name && p.up)?.speedMbps
        const link = model.linkAt(port.id)
        if (said && link) seen.set(link, Math.min(said, seen.get(link) ?? Infinity))
      }
    }
    for (const [link, mbps] of seen) {
      const planned = plannedSpeed(
        model.profilePortOf(link.a).speedMbps,
        model.profilePortOf(link.b).speedMbps,
      )
      if (mbps >= planned) continue
      const { says, causes } = socketSpeed(planned, mbps)
      yield {
        subjects: [link.id],
        text: says.replace(
          /^It/,
          `The cable between ${model.portName(link.a)} and ${model.portName(link.b)}`,
        ),
        why: causes.join(' '),
        numbers: [
          {
            label: 'came up at, of',
            value: `${mbps}, ${planned} Mbit/s`,
            how: 'as the devices report it; planned is the slower of the two sockets (IEEE 802.3 28)',
          },
        ],
      }
    }
  },
}
