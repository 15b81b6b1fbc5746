/**
 * Which address the next device will get: its reservation, what it had before, else the lowest that
 * is free in the pools, as servers commonly go (RFC 2131 4.3.1 leaves the order to them; common
 * practice). Some spread clients by their hardware address instead: then the guess is wrong, and a
 * scan tells.
 */
import { formatAddress, parseAddress } from '../../addressing'
import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'

export interface LeaseGuess {
  readonly deviceId: string
  /** Null where it asks for none, or none is left. */
  readonly address: string | null
  readonly because: string
}
/** What is known of the leases of a site as they are. */
export interface Leases {
  /** Address by hardware address, in small letters. */
  readonly held: ReadonlyMap<string, string>
}

const value = (text: string): bigint => parseAddress(text)!.value

/** @param devices in the order in which they will ask */
export function nextLeases(
  model: SiteModel,
  devices: readonly Device[],
  { held }: Leases = { held: new Map() },
): LeaseGuess[] {
  const used = new Map<string, Set<bigint>>()
  const usedIn = (segmentId: string): Set<bigint> => {
    let found = used.get(segmentId)
    if (!found) {
      const { gateway } = model.plan.segments[segmentId]!
      // Reserved and typed addresses are kept free, whether their devices are there or not.
      const planned = model.devices
        .filter((d) => d.addressing.segmentId === segmentId)
        .flatMap((d) => d.addressing.address ?? [])
      found = new Set(
        [...planned, ...(gateway ? [gateway] : []), ...held.values()].map((a) => value(a)),
      )
      used.set(segmentId, found)
    }
    return found
  }
  return devices.map((d): LeaseGuess => {
    const { mode, segmentId, address } = d.addressing
    const guess = (at: string | null, because: string): LeaseGuess => ({
      ...{ deviceId: d.id, address: at, because },
    })
    const segment = segmentId ? model.plan.segments[segmentId] : undefined
    if (mode === 'fixed') return guess(address, 'typed into it')
    if (!segment) return guess(null, 'it is in no segment')
    if (mode === 'reserved')
      return d.hardwareAddress
        ? guess(address, 'reserved for its hardware address')
        : guess(null, 'reserved for a hardware address that nobody has read yet')
    const taken = usedIn(segment.id)
    const had = d.hardwareAddress ? held.get(d.hardwareAddress.toLowerCase()) : undefined
    const isInPool = (a: bigint): boolean =>
      segment.pools.some((p) => a >= value(p.first) && a <= value(p.last))
    if (had && isInPool(value(had))) return guess(had, 'it had it before')
    for (const { first, last } of segment.pools)
      for (let a = value(first); a <= value(last); a++)
        if (!taken.has(a)) {
          taken.add(a)
          return guess(formatAddress({ family: 4, value: a }), 'the lowest that is free')
        }
    return guess(
      null,
      segment.pools.length > 0 ? 'every address is taken' : 'nobody hands out leases',
    )
  })
}
