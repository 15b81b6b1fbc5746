/**
 * What a scan or a lease table saw, matched to the inventory by hardware address: who is who, who
 * is new, who was not seen.
 */
import type { Device, SitePlan } from '../plan'

/** One neighbour as seen on the wire. */
export interface Sighting {
  readonly address: string
  /** Null where only the address answered. */
  readonly hardwareAddress: string | null
  readonly name: string | null
  /** Line of the file. */
  readonly line: number
}

export interface Match {
  readonly sighting: Sighting
  /** The device of the plan with this hardware address. */
  readonly device: Device | null
  /** What the plan says otherwise of it. */
  readonly differs: string | null
}
export interface Matching {
  readonly known: readonly Match[]
  readonly strangers: readonly Match[]
  readonly unseen: readonly Device[]
}

export function matchSightings(plan: SitePlan, sightings: readonly Sighting[]): Matching {
  const byHardware = new Map(
    Object.values(plan.devices).flatMap((d) =>
      d.hardwareAddress ? [[d.hardwareAddress, d] as const] : [],
    ),
  )
  const seen = new Set<string>()
  const matches = sightings.map((sighting): Match => {
    const device = sighting.hardwareAddress
      ? (byHardware.get(sighting.hardwareAddress) ?? null)
      : null
    if (device) seen.add(device.id)
    const planned = device?.addressing.address
    return {
      sighting,
      device,
      differs: planned && planned !== sighting.address ? `planned ${planned}` : null,
    }
  })
  return {
    known: matches.filter((m) => m.device),
    strangers: matches.filter((m) => !m.device),
    unseen: [...byHardware.values()].filter((d) => !seen.has(d.id)),
  }
}

/**
 * Hardware addresses that were made up by the device itself: phones do so for every network (bit 2
 * of the first octet, IEEE 802).
 */
export const isMadeUp = (hardwareAddress: string): boolean =>
  (parseInt(hardwareAddress.slice(0, 2), 16) & 2) !== 0
