/** Where devices are after they asked for an address: as guessed, elsewhere, or not to be seen. */
import type { Device } from '../../plan'
import { isMadeUp, matchSightings, type Sighting } from '../../survey'
import type { SiteModel } from '../../topology'
import { listWords } from '../../words'
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
  /** Addresses at which several answer. */
  readonly doubles: readonly Double[]
}
export interface Double {
  readonly address: string
  /** Who answers there: names of the plan, or hardware addresses that nobody planned. */
  readonly who: readonly string[]
  readonly says: string
}

/** Two new devices of one kind, or two laptops that were given the same one. */
function doublesIn(model: SiteModel, sightings: readonly Sighting[]): Double[] {
  const at = new Map<string, Set<string>>()
  for (const { address, hardwareAddress } of sightings)
    if (hardwareAddress !== null)
      at.set(address, (at.get(address) ?? new Set()).add(hardwareAddress.toLowerCase()))
  const nameOf = new Map(
    model.devices.flatMap((d) =>
      d.hardwareAddress ? [[d.hardwareAddress.toLowerCase(), d.name] as const] : [],
    ),
  )
  return [...at].flatMap(([address, holders]): Double[] => {
    if (holders.size < 2) return []
    const who = [...holders].sort().map((h) => nameOf.get(h) ?? h)
    const known = [...holders].filter((h) => nameOf.has(h)).length
    return [
      {
        address,
        who,
        says:
          `${listWords(who)} both answer at ${address}, in turns. ` +
          (known === holders.size
            ? 'Leave one of them with power or a cable until it has an address of its own.'
            : known > 0
              ? 'One of them is not of the plan: a laptop that was given the address of a device?'
              : 'Two laptops that were given the same one? Each takes its own from the staging table.'),
      },
    ]
  })
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
    doubles: doublesIn(model, sightings),
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
