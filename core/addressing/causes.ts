/** Somebody else hands out addresses. */
import { ids, type Cause, type CauseFinder, type Evidence } from '../proof/cause'

/** Hosts that somebody else gave an address to, or offered one. */
function rogueServers({ model, results }: Evidence): Cause[] {
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
        explains: ids(
          results.filter(
            (r) =>
              r.verdict !== 'as-planned' &&
              (hosts.has(r.test.from) ||
                (r.test.probe?.target?.kind === 'host' && hosts.has(r.test.probe.target.deviceId))),
          ),
        ),
        subjects: suspects.map((d) => d.id),
      }
    })
}

export const addressCauses: readonly CauseFinder[] = [{ turn: 50, find: rogueServers }]
