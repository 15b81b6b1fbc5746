/** What stands in which place, and which of its facts nobody wrote down yet. */
import { remembered } from '../remember'
import type { Device, Location } from '../plan'
import type { SiteModel } from '../topology'

export interface Standing {
  readonly device: Device
  /** Facts that are not known, in words; empty where all are. */
  readonly missing: readonly string[]
}
export interface PlaceStanding {
  /** Null for what has no place yet. */
  readonly location: Location | null
  readonly devices: readonly Standing[]
}

/** What is asked of a device before the day: the label of what is claimed, where it stands. */
function missingOf(model: SiteModel, d: Device): string[] {
  const { adoptable } = model.profileOf(d.id)
  return [
    ...(adoptable && !d.serial ? ['serial'] : []),
    ...(d.addressing.mode === 'reserved' && !d.hardwareAddress ? ['hardware address'] : []),
    ...(d.locationId === null && !d.wirelessNetworkId ? ['place'] : []),
  ]
}

/** Places by name, those with something missing first; what has none last. */
export const whatHangsWhere = remembered((model: SiteModel): PlaceStanding[] => {
  const by = new Map<string | null, Standing[]>()
  for (const device of model.devices) {
    const at = device.locationId
    const list = by.get(at) ?? []
    list.push({ device, missing: missingOf(model, device) })
    by.set(at, list)
  }
  const lacks = (p: PlaceStanding): number =>
    p.devices.reduce((n, s) => n + (s.missing.length > 0 ? 1 : 0), 0)
  return [...by]
    .map(([id, devices]): PlaceStanding => ({
      location: id === null ? null : (model.plan.locations[id] ?? null),
      // What lacks a fact first, then from the gateway outwards as the plan lists them.
      devices: devices.sort((a, b) => Number(b.missing.length > 0) - Number(a.missing.length > 0)),
    }))
    .sort(
      (a, b) =>
        Number(a.location === null) - Number(b.location === null) ||
        Number(lacks(b) > 0) - Number(lacks(a) > 0) ||
        ((a.location?.name ?? '') < (b.location?.name ?? '') ? -1 : 1),
    )
})
