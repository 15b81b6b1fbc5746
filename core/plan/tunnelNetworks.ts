/** Which networks and addresses a new tunnel may take. */
import { address, addressAfter, formatAddress } from '../addressing/address'
import {
  containsAddress,
  overlaps,
  parsePrefix,
  usableRange,
  type Prefix,
} from '../addressing/prefix'
import { foreignPrefixes } from './edits/addresses'
import type { SitePlan } from './schema'
import { ownTunnelAddress, peersOf } from './tunnelPlaces'

const prefixes = (texts: readonly (string | null)[]): Prefix[] =>
  texts.flatMap((t) => (t ? (parsePrefix(t) ?? []) : []))

/** All that a tunnel's network must not meet, those of other tunnels included. */
export function takenForTunnels(plan: SitePlan, exceptTunnelId: string | null): Prefix[] {
  const others = Object.fromEntries(
    Object.entries(plan.tunnels).filter(([id]) => id !== exceptTunnelId),
  )
  return [
    ...prefixes(Object.values(plan.segments).flatMap((s) => [s.subnet, s.subnet6])),
    ...foreignPrefixes({ ...plan, tunnels: others }),
  ]
}

/** A private /24 high up in 10/8, where sites seldom are; null where none is free. */
export const freeTunnelNetwork = (plan: SitePlan, exceptTunnelId: string | null): string | null =>
  freeNetworkAmong(takenForTunnels(plan, exceptTunnelId))

/** The same, where what is taken comes from several plans. */
export function freeNetworkAmong(taken: readonly Prefix[]): string | null {
  for (let second = 250; second > 240; second--)
    for (let third = 20; third < 256; third++) {
      const text = `10.${second}.${third}.0/24`
      const p = parsePrefix(text)!
      if (!taken.some((t) => overlaps(t, p))) return text
    }
  return null
}

/** The lowest address of a tunnel that nobody has; null where it has no network, or none is free. */
export const freePeerAddress = (plan: SitePlan, tunnelId: string): string | null =>
  freePeerAddresses(plan, tunnelId, 1)[0] ?? null

/** Several of them; fewer where not so many are free. */
export function freePeerAddresses(plan: SitePlan, tunnelId: string, count: number): string[] {
  const tunnel = plan.tunnels[tunnelId]
  const subnet = tunnel?.subnet ? parsePrefix(tunnel.subnet) : undefined
  if (!tunnel || !subnet) return []
  const taken = new Set([
    ownTunnelAddress(tunnel),
    ...peersOf(plan, tunnelId).map((p) => p.address),
  ])
  const { first, last } = usableRange(subnet)
  const free: string[] = []
  for (let value = first; value <= last && free.length < count; value++) {
    const text = formatAddress({ family: 4, value })
    if (!taken.has(text)) free.push(text)
  }
  return free
}

/** A peer's address in another network: as far from its beginning as it was. */
export function movedAddress(text: string, from: string, to: string): string {
  const [old, next] = [parsePrefix(from), parsePrefix(to)]
  const a = address(text)
  if (!old || !next || !containsAddress(old, a)) return text
  return addressAfter(
    formatAddress({ family: 4, value: next.network }),
    Number(a.value - old.network),
  )
}
