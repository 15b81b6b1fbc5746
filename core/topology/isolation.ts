/**
 * Keeping clients of a wireless network apart where it has more than one access point. An access
 * point keeps only its own clients apart; between two of them
 * frames pass through a switch, which has to keep the sockets apart that lead to them. On every
 * device where ways to such access points part, those
 * sockets are isolated in the VLAN: what comes in by one of them does not leave by another. A
 * socket behind which wired hosts of the segment live is left
 * as it is, since they would be cut off as well.
 */
import { remembered } from '../remember'
import type { WirelessNetwork } from '../plan'
import { carriageOf, pathOf, type Arrival } from './carriage'
import type { SiteModel } from './siteModel'

export interface IsolationLeak {
  readonly segmentId: string
  /** Two access points whose clients hear each other. */
  readonly between: readonly [string, string]
  /** The device where their ways meet. */
  readonly atDeviceId: string
  readonly why: 'cannot' | 'wired hosts'
}
export interface Isolation {
  /** VLANs in which a port is isolated. */
  readonly ports: ReadonlyMap<string, ReadonlySet<number>>
  readonly leaks: readonly IsolationLeak[]
}

export const isolationOf: (model: SiteModel) => Isolation = remembered((model) => work(model))

/** A way out of a device towards an access point: by a port, or on its own air. */
type Branch = string | 'air'

function work(model: SiteModel): Isolation {
  const ports = new Map<string, Set<number>>()
  const leaks: IsolationLeak[] = []
  const bySegment = new Map<string, WirelessNetwork[]>()
  for (const w of Object.values(model.plan.wirelessNetworks))
    if (w.clientIsolation) bySegment.set(w.segmentId, [...(bySegment.get(w.segmentId) ?? []), w])
  for (const [segmentId, networks] of bySegment) {
    const vlanId = model.segment(segmentId).vlanId
    const carriage = carriageOf(model, segmentId)
    const ends = [...new Set(networks.flatMap((w) => w.accessPointIds))].flatMap(
      (id) => carriage.at(id).find((a) => a.inside === vlanId) ?? [],
    )
    if (ends.length < 2) continue
    const wired = portsWithHosts(model, segmentId)
    const branches = new Map<string, Map<Branch, string[]>>()
    const note = (deviceId: string, branch: Branch, accessPointId: string): void => {
      const here = branches.get(deviceId) ?? new Map<Branch, string[]>()
      here.set(branch, [...(here.get(branch) ?? []), accessPointId])
      branches.set(deviceId, here)
    }
    for (const end of ends) {
      for (const a of pathOf(end))
        if (a.outPortId) note(a.before!.deviceId, a.outPortId, end.deviceId)
      note(end.deviceId, 'air', end.deviceId)
    }
    for (const [deviceId, ways] of branches) {
      if (ways.size < 2) continue
      const canIsolate = model.profileOf(deviceId).vlan === 'managed'
      const isOpen = (b: Branch): boolean => b !== 'air' && (!canIsolate || wired.has(b))
      for (const b of ways.keys())
        if (b !== 'air' && !isOpen(b)) ports.set(b, (ports.get(b) ?? new Set()).add(vlanId))
      const list = [...ways]
      for (const [i, [one, ones]] of list.entries())
        for (const [other, others] of list.slice(i + 1))
          if (isOpen(one) || isOpen(other))
            leaks.push({
              segmentId,
              between: [ones[0]!, others[0]!],
              atDeviceId: deviceId,
              why: canIsolate ? 'wired hosts' : 'cannot',
            })
    }
  }
  return { ports, leaks }
}

/** Ports on the way from the gateway to a wired host of a segment. */
function portsWithHosts(model: SiteModel, segmentId: string): ReadonlySet<string> {
  const carriage = carriageOf(model, segmentId)
  const hosts = model
    .membersOf(segmentId)
    .filter(
      (d) =>
        d.wirelessNetworkId === null && ['host', 'controller'].includes(model.profileOf(d.id).kind),
    )
  return new Set(
    hosts
      .flatMap((d) => carriage.at(d.id))
      .flatMap((a) => pathOf(a))
      .flatMap((a) => a.outPortId ?? []),
  )
}

/**
 * Whether frames between two places of a segment are kept apart, where their ways from the gateway
 * part. `isOnAir`: a client of a network that isolates.
 */
export function keepsApart(
  model: SiteModel,
  vlanId: number,
  one: { arrival: Arrival; isOnAir: boolean },
  other: { arrival: Arrival; isOnAir: boolean },
): boolean {
  const [a, b] = [pathOf(one.arrival), pathOf(other.arrival)]
  let common = 0
  while (common < a.length && common < b.length && a[common] === b[common]) common++
  const { ports } = isolationOf(model)
  const isIsolated = (way: Arrival[], isOnAir: boolean): boolean =>
    common < way.length ? (ports.get(way[common]!.outPortId!)?.has(vlanId) ?? false) : isOnAir
  return isIsolated(a, one.isOnAir) && isIsolated(b, other.isOnAir)
}
