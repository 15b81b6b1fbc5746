/** Where tunnels end, and which addresses lie in and behind them. */
import { formatAddress } from '../addressing/address'
import { parsePrefix, usableRange } from '../addressing/prefix'
import { own } from './inherited'
import type { Peer, SitePlan, Tunnel } from './schema'

/** Tunnels that are switched on, in the order of their ids. */
export const activeTunnels = (plan: SitePlan): Tunnel[] =>
  Object.values(plan.tunnels)
    .filter((t) => t.isActive)
    .sort((a, b) => (a.id < b.id ? -1 : 1))

export const peersOf = (plan: SitePlan, tunnelId: string): Peer[] =>
  Object.values(plan.peers)
    .filter((p) => p.tunnelId === tunnelId)
    .sort((a, b) => (a.id < b.id ? -1 : 1))

export function endsOnGateway(plan: SitePlan, t: Tunnel): boolean {
  const device = own(plan.devices, t.hostDeviceId)
  return device !== undefined && own(plan.profiles, device.profileId)?.kind === 'gateway'
}

/** As it was said, or the first of the tunnel's network; null while it has none. */
export function ownTunnelAddress(t: Tunnel): string | null {
  if (t.address) return t.address
  const subnet = t.subnet ? parsePrefix(t.subnet) : undefined
  return subnet ? formatAddress({ family: 4, value: usableRange(subnet).first }) : null
}

/** The interface of a tunnel on a Linux gateway; at most 15 characters (IFNAMSIZ). */
export function tunnelInterface(plan: SitePlan, tunnelId: string): string {
  const n = Object.keys(plan.tunnels).sort().indexOf(tunnelId)
  return `${own(plan.tunnels, tunnelId)?.protocol === 'ikev2' ? 'ike' : 'wg'}${n}`
}

/** What lies at and behind a peer, with the length. */
export const peerSpace = (p: Peer): string[] => [
  ...(p.address ? [`${p.address}/32`] : []),
  ...p.networks,
]

/** The first host behind a peer, which stands for all of them; of one with nothing behind it its own address. */
export function addressBehind(p: Pick<Peer, 'networks' | 'address'>): string | null {
  const [first] = p.networks.flatMap((n) => (n.includes(':') ? [] : (parsePrefix(n) ?? [])))
  return first ? formatAddress({ family: 4, value: usableRange(first).first }) : p.address
}

/** What lies in a tunnel and behind its other ends. A tunnel to a provider leads to everything. */
export const tunnelSpace = (plan: SitePlan, t: Tunnel): string[] => [
  ...(t.subnet ? [t.subnet] : []),
  ...(t.subnet6 ? [t.subnet6] : []),
  ...(t.kind === 'provider' ? [] : peersOf(plan, t.id).flatMap((p) => p.networks)),
]

/**
 * By which interface of the gateway what comes out of a tunnel arrives: its own, or that of the
 * segment of the host on which it ends; null where that is in no segment.
 */
export const tunnelZone = (plan: SitePlan, t: Tunnel): string | null =>
  endsOnGateway(plan, t) ? t.id : (own(plan.devices, t.hostDeviceId)?.addressing.segmentId ?? null)

/** The tunnel of a place that is one or is at the other end of one. */
export function tunnelOf(plan: SitePlan, place: string): Tunnel | undefined {
  const peer = own(plan.peers, place)
  return own(plan.tunnels, peer ? peer.tunnelId : place)
}

/** Whose IPv4 goes through a tunnel to a provider; of a device without a known address nothing. */
export const throughPrefixes = (plan: SitePlan, t: Tunnel): string[] =>
  t.throughIds.flatMap((id) => {
    const address = own(plan.devices, id)?.addressing.address
    return own(plan.segments, id)?.subnet ?? (address ? `${address}/32` : [])
  })
