/** Somebody else hands out addresses, or those who do know a host by another one. */
import { about, ids, type Cause, type CauseFinder, type Evidence } from '../proof/cause'
import { parseAddress } from './address'
import { containsAddress, parsePrefix } from './prefix'

/** Hosts that somebody else gave an address to, or offered one. */
function rogueServers({ model, results, wrong }: Evidence): Cause[] {
  const hit = results.filter(
    (r) =>
      r.test.kind === 'lease' &&
      r.verdict === 'contradicts' &&
      r.test.server !== null &&
      r.observation?.servers?.some((s) => s !== r.test.server),
  )
  const servers = [
    ...new Set(hit.flatMap((r) => r.observation!.servers.filter((s) => s !== r.test.server))),
  ]
  // A server of another segment is a cable in the wrong socket.
  return servers
    .filter(
      (s) =>
        !model.segments.some(
          (x) => x.gateway === s || (x.dhcp.mode === 'relay' && x.dhcp.relayTo === s),
        ),
    )
    .map((server): Cause => {
      const of = hit.filter((r) => r.observation!.servers.includes(server))
      const hosts = new Set(of.map((r) => r.test.from))
      const suspects = model.devices.filter((d) => {
        const f = model.profileOf(d.id).factory
        return (
          f.dhcp === 'server' && f.address?.split('/')[0] === server && d.id !== model.gateway?.id
        )
      })
      const places = [
        ...new Set(of.map((r) => model.plan.segments[r.test.fromPlace]?.name ?? r.test.fromPlace)),
      ]
      return {
        kind: 'rogue-server',
        text:
          `${server} hands out leases in ${places.join(', ')}, and is no server of this ` +
          'site' +
          (suspects.length > 0
            ? `: probably ${suspects.map((d) => d.name).join(' or ')}, still as from its box`
            : '') +
          '.',
        evidence: [
          `${of.length} ${of.length === 1 ? 'host heard' : 'hosts heard'} its offer`,
          ...of
            .filter((r) => r.observation!.address)
            .slice(0, 2)
            .map((r) => `${model.device(r.test.from).name} has ${r.observation!.address}`),
        ],
        checks: [
          'Look where its hardware address is heard: the ports of the switches say it.',
          'Unplug it, and let the hosts ask for an address again.',
          'Set it up alone, switch its lease server off, and plug it in again.',
        ],
        explains: ids(about(wrong, hosts)),
        subjects: suspects.map((d) => d.id),
      }
    })
}

/** Hosts that got an address of their segment, and not the one reserved for them. */
function missedReservations({ model, wrong }: Evidence): Cause[] {
  return wrong.flatMap((r): Cause[] => {
    const { test, observation } = r
    // Of the controller more is to be said, since devices look for it.
    if (test.from === model.plan.controller.hostDeviceId) return []
    const got = observation?.address
    const isOurs = test.server !== null && observation?.servers.every((s) => s === test.server)
    if (test.kind !== 'lease' || !test.address || !got || got === test.address || !isOurs) return []
    const subnet = test.subnet ? parsePrefix(test.subnet) : undefined
    const at = parseAddress(got)
    if (!subnet || !at || !containsAddress(subnet, at)) return []
    const host = model.device(test.from)
    return [
      {
        kind: 'missed-reservation',
        text: host.hardwareAddress
          ? `${host.name} got ${got} instead of ${test.address}: it asks with another hardware ` +
            'address than the plan has, or its server runs an older plan.'
          : `Nothing reserves ${test.address} for ${host.name}: the plan does not have its hardware address.`,
        evidence: [`it has ${got}, of the pool`],
        checks: [
          'Read its hardware address and compare it with the plan' +
            (host.hardwareAddress ? ` (${host.hardwareAddress}).` : '.'),
          'Send the gateway its configuration, and let it ask for an address again.',
        ],
        explains: ids(about(wrong, [host.id])),
        subjects: [host.id],
      },
    ]
  })
}

export const addressCauses: readonly CauseFinder[] = [
  { turn: 45, find: missedReservations },
  { turn: 50, find: rogueServers },
]
