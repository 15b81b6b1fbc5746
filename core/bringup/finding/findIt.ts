/** Where devices are after they asked for an address: as guessed, elsewhere, or not to be seen. */
import type { Device } from '../../plan'
import { isMadeUp, matchSightings, type Sighting } from '../../survey'
import type { SiteModel } from '../../topology'
import { nextLeases } from './nextLease'

export interface Whereabouts {
  readonly deviceId: string
  readonly name: string
  readonly guess: string | null
  readonly because: string
  /** By its hardware address; null where it was not seen. */
  readonly seenAt: string | null
  /** What to do about it; null where it is where it was looked for. */
  readonly says: string | null
}
export interface Found {
  readonly devices: readonly Whereabouts[]
  /** Nobody planned them. */
  readonly strangers: readonly { readonly sighting: Sighting; readonly says: string }[]
}

/** @param asking devices that get an address by themselves, in the order in which they ask */
export function findIt(
  model: SiteModel,
  asking: readonly Device[],
  sightings: readonly Sighting[],
): Found {
  const { known, strangers } = matchSightings(model.plan, sightings)
  const seen = new Map(known.map((m) => [m.device!.id, m.sighting.address]))
  const held = new Map(
    sightings.flatMap((s) =>
      s.hardwareAddress ? [[s.hardwareAddress.toLowerCase(), s.address] as const] : [],
    ),
  )
  const devices = nextLeases(model, asking, { held }).map((g): Whereabouts => {
    const { name, hardwareAddress } = model.device(g.deviceId)
    const seenAt = seen.get(g.deviceId) ?? null
    return {
      deviceId: g.deviceId,
      name,
      guess: g.address,
      because: g.because,
      seenAt,
      says:
        sightings.length === 0 || (seenAt !== null && seenAt === g.address)
          ? null
          : seenAt !== null
            ? `It is at ${seenAt}, not where it was guessed.`
            : hardwareAddress === null
              ? 'Its hardware address is not in the plan: read its label, and it is pointed out.'
              : 'Not seen yet: its lamp, its cable, the untagged VLAN of its port.',
    }
  })
  // Whose label nobody read may be one of them.
  const unread = asking.filter((d) => d.hardwareAddress === null).map((d) => d.name)
  return {
    devices,
    strangers: strangers.map(({ sighting }) => ({
      sighting,
      says:
        sighting.hardwareAddress === null
          ? 'Only its address answered; the neighbours of the laptop know its hardware address.'
          : isMadeUp(sighting.hardwareAddress)
            ? 'Its hardware address was made up by itself, as phones do.'
            : unread.length > 0
              ? `Nobody planned it, or it is one whose label was not read: ${unread.join(', ')}.`
              : 'Nobody planned it: find out whose it is before the day goes on.',
    })),
  }
}
