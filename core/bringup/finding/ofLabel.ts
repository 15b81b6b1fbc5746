/** Which device of the plan a label is on. */
import { nearestSerial } from '../../adoption/serials'
import type { Device, SitePlan } from '../../plan'

export interface OfLabel {
  readonly device: Device | null
  /** Why there is none. */
  readonly says: string
}

/** @param hardwareAddress what was read, where it is one */
export function deviceOfLabel(
  plan: SitePlan,
  read: string,
  hardwareAddress: string | null,
): OfLabel {
  const serial = read.trim().toUpperCase()
  const all = Object.values(plan.devices)
  const device =
    all.find((d) => d.serial !== null && d.serial.toUpperCase() === serial) ??
    all.find((d) => hardwareAddress !== null && d.hardwareAddress === hardwareAddress) ??
    null
  if (device) return { device, says: '' }
  const near = nearestSerial(
    serial,
    all.flatMap((d) => d.serial ?? []),
  )
  const meant = near && all.find((d) => d.serial === near.serial)
  return {
    device: null,
    says: meant
      ? `No device has ${serial}; ${meant.name} has ${near.serial}, which differs in ` +
        `${near.distance} ${near.distance === 1 ? 'place' : 'places'}. Compare it with the label.`
      : `No device of the plan has ${serial}. Is it of this site?`,
  }
}
