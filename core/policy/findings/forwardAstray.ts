/**
 * C-53: port forwards that lead nowhere: to a host whose address nobody knows, to a port that
 * nobody listens on, by a port that another has, or by a line that nobody outside can reach.
 */
import {
  activeTunnels,
  inPlan,
  editCall,
  hasKnownAddress,
  holdsPort,
  type Forward,
} from '../../plan'
import { giveKnownAddress } from '../../topology/freeAddress'
import type { SiteModel } from '../../topology'
import { defineRule, type FindingBody } from '../../findings/rule'

const portsOf = (f: Forward): string =>
  `${f.protocol.toUpperCase()} ${f.outside.first}${f.outside.last > f.outside.first ? `-${f.outside.last}` : ''}`

function unreachable(model: SiteModel, f: Forward): FindingBody[] {
  const device = model.device(f.deviceId)
  if (hasKnownAddress(device) && model.segment(device.addressing.segmentId!).subnet) return []
  const give = giveKnownAddress(model.plan, device)
  const why =
    device.addressing.segmentId === null
      ? 'is in no segment'
      : device.addressing.mode === 'automatic'
        ? 'takes any address of its pool'
        : device.addressing.address === null
          ? 'has no address yet'
          : !hasKnownAddress(device)
            ? 'has a reservation without a hardware address, which is given to nobody'
            : 'is in a segment without a subnet'
  return [
    {
      key: `way:${f.id}`,
      subjects: [f.id, device.id],
      text: `${f.name} leads ${portsOf(f)} of the line to ${device.name}, which ${why}.`,
      why:
        'The forward would lead to whoever has the address that day. It is left out of the ' +
        'rules until its host has one of its own.',
      fixes: give
        ? [
            { label: `Give ${device.name} an address of its own`, edits: [give] },
            {
              label: 'Take the forward out',
              edits: [editCall('removeForward', { id: f.id })],
            },
          ]
        : [
            {
              label: 'Take the forward out',
              edits: [editCall('removeForward', { id: f.id })],
            },
          ],
    },
  ]
}

function unheard(model: SiteModel, f: Forward): FindingBody[] {
  const device = model.device(f.deviceId)
  const isManaged = model.profileOf(device.id).adoptable
  const offers = device.serviceIds
    .map((s) => inPlan(model.plan.services, s))
    .some((s) => s.protocol === f.protocol && holdsPort(s.ports, f.inside))
  const isTunnel = activeTunnels(model.plan).some(
    (t) => t.hostDeviceId === device.id && f.protocol === 'udp' && t.listenPort === f.inside,
  )
  const remove = {
    label: 'Take the forward out',
    edits: [editCall('removeForward', { id: f.id })],
  }
  if (isManaged)
    return [
      {
        key: `managed:${f.id}`,
        severity: 'blocker',
        subjects: [f.id, device.id],
        text: `${f.name} opens ${device.name}, a device that is managed, to everybody on the internet.`,
        why: 'Its page is then one password away from the whole network; reach it by a tunnel.',
        fixes: [remove],
      },
    ]
  if (offers || isTunnel) return []
  const service = Object.values(model.plan.services).find(
    (s) => s.protocol === f.protocol && holdsPort(s.ports, f.inside),
  )
  return [
    {
      key: `heard:${f.id}`,
      severity: 'caution',
      subjects: [f.id, device.id],
      text: `${f.name} leads to ${f.protocol.toUpperCase()} ${f.inside} of ${device.name}, which offers nothing there.`,
      why: 'Who asks from outside is refused, or what it offers is missing in the plan and no test asks for it.',
      fixes: [
        ...(service && device.serviceIds.length < 16
          ? [
              {
                label: `${device.name} offers ${service.name}`,
                edits: [
                  editCall('changeDevice', {
                    id: device.id,
                    changes: { serviceIds: [...device.serviceIds, service.id] },
                  }),
                ],
              },
            ]
          : []),
        remove,
      ],
    },
  ]
}

export default defineRule({
  id: 'policy/forward-astray',
  severity: 'blocker',
  catches: ['C-53'],
  title: 'A port forward that leads nowhere, or too far',
  sheet: 'policy',
  reads: ['segments', 'devices', 'profiles', 'services', 'uplinks', 'forwards', 'tunnels'],
  *check(model) {
    const list = Object.values(model.plan.forwards).sort((a, b) => (a.id < b.id ? -1 : 1))
    for (const [at, f] of list.entries()) {
      yield* unreachable(model, f)
      yield* unheard(model, f)
      const other = list
        .slice(0, at)
        .find(
          (x) =>
            x.protocol === f.protocol &&
            x.outside.first <= f.outside.last &&
            f.outside.first <= x.outside.last,
        )
      if (other) {
        const taken = new Set(
          list
            .filter((x) => x.protocol === f.protocol)
            .flatMap((x) =>
              Array.from(
                { length: x.outside.last - x.outside.first + 1 },
                (_, n) => x.outside.first + n,
              ),
            ),
        )
        const count = f.outside.last - f.outside.first + 1
        let free = 20_000
        while (Array.from({ length: count }, (_, n) => free + n).some((p) => taken.has(p)))
          free += count
        yield {
          key: `port:${f.id}`,
          subjects: [f.id, other.id],
          text: `${f.name} and ${other.name} claim ${portsOf(f)} of the line; only ${other.name} gets it.`,
          why: 'A port leads to one host; the second forward is left out of the rules.',
          fixes: [
            ...(count === 1
              ? [
                  {
                    label: `Let ${f.name} have port ${free}`,
                    edits: [
                      editCall('changeForward', {
                        id: f.id,
                        changes: { outside: { first: free, last: free } },
                      }),
                    ],
                  },
                ]
              : []),
            {
              label: 'Take the second out',
              edits: [editCall('removeForward', { id: f.id })],
            },
          ],
        }
      }
    }
    const line = model.wayOut ?? model.lines[0]
    const kind = line?.handOff.addressKind
    if (list.length > 0 && line && (kind === 'private' || kind === 'carrier-grade'))
      yield {
        severity: 'caution',
        key: `line:${line.id}`,
        subjects: [line.id, ...list.map((f) => f.id)],
        text:
          kind === 'private'
            ? `${line.name} hands over a private address: ` +
              `${list.length === 1 ? 'the port forward works' : 'port forwards work'} only ` +
              `once the provider's own router forwards the same ports to ours.`
            : `${line.name} is behind carrier-grade NAT (RFC 6598): nobody outside ` +
              `reaches ${list.length === 1 ? 'the port forward' : 'port forwards'}.`,
        why:
          kind === 'private'
            ? 'Ask for its bridge mode, or set the forward there as well.'
            : 'Ask the provider for a public address, or let the host be reached by a tunnel that it opens itself.',
      }
  },
})
