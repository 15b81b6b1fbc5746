/** C-34: a network that keeps its clients apart on each access point, and not between them. */
import { isolationOf } from '../../topology'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wifi/isolation-leaks',
  severity: 'caution',
  catches: ['C-34'],
  title: 'Clients that are to be kept apart hear each other between access points',
  sheet: 'wifi',
  reads: ['segments', 'wirelessNetworks', 'devices', 'profiles', 'ports', 'links'],
  *check(model) {
    const all = isolationOf(model).leaks
    for (const segmentId of new Set(all.map((l) => l.segmentId))) {
      const leaks = all.filter((l) => l.segmentId === segmentId)
      const name = (id: string): string => model.device(id).name
      const networks = Object.values(model.plan.wirelessNetworks).filter(
        (w) => w.segmentId === segmentId && w.clientIsolation,
      )
      const places = [...new Set(leaks.map((l) => l.atDeviceId))]
      const [first] = leaks
      const why =
        first!.why === 'cannot'
          ? `${name(first!.atDeviceId)}, where their ways meet, knows no VLANs and cannot keep its sockets apart`
          : `wired hosts of the segment hang behind a socket of ${name(first!.atDeviceId)}, ` +
            'which would be cut off with them'
      yield {
        subjects: [
          ...networks.map((w) => w.id),
          ...places,
          ...new Set(leaks.flatMap((l) => l.between)),
        ],
        text:
          `${networks.map((w) => `'${w.name}'`).join(', ')}: a client at ` +
          `${name(first!.between[0])} and one at ${name(first!.between[1])} hear each other, ` +
          `because ${why}.`,
        why:
          'An access point keeps apart only its own clients. From one to another frames pass ' +
          'through the switch between them, which has to isolate the sockets too.',
        numbers: [
          {
            label: 'pairs of ways open',
            value: String(leaks.length),
            how: `at ${places.map(name).join(', ')}`,
          },
        ],
        fixes: [],
      }
    }
  },
})
