/**
 * C-69: a list of devices to claim, from a file or off labels: which rows can be claimed, which are
 * claimed already, which not and why, by line; and counts that have to add up.
 */
import type { Device, Profile, SitePlan } from '../../plan'
import { nearestSerial } from '../serials'

export interface ClaimRow {
  readonly line: number
  readonly serial: string
  /** Where it is none but a hardware address, that. */
  readonly serialAsAddress: string | null
  /** As the file has it; null where it has none. */
  readonly model: string | null
  readonly hardwareAddress: string | null
}

export interface SortedClaims {
  readonly claims: readonly { readonly line: number; readonly device: Device }[]
  /** Claimed before. */
  readonly already: readonly { readonly line: number; readonly device: Device }[]
  readonly refused: readonly {
    readonly line: number
    readonly serial: string
    readonly why: string
  }[]
  /** Of this plan and to be adopted, that the list does not name. */
  readonly unnamed: readonly Device[]
}

/** Every row is in one of the three lists: they add up to the rows. */
export function sortClaims(
  plan: SitePlan,
  rows: readonly ClaimRow[],
  claimed: ReadonlySet<string>,
): SortedClaims {
  const bySerial = new Map(
    Object.values(plan.devices).flatMap((d) => (d.serial ? [[d.serial, d] as const] : [])),
  )
  const byAddress = new Map(
    Object.values(plan.devices).flatMap((d) =>
      d.hardwareAddress ? [[d.hardwareAddress, d] as const] : [],
    ),
  )
  const serials = [...bySerial.keys()]
  const met = new Map<string, number>()
  const out = {
    claims: [] as { line: number; device: Device }[],
    already: [] as { line: number; device: Device }[],
    refused: [] as { line: number; serial: string; why: string }[],
  }
  for (const r of rows) {
    const before = met.get(r.serial)
    const device = bySerial.get(r.serial)
    const why =
      before !== undefined
        ? `it is on line ${before} already`
        : device
          ? whyNot(device, plan.profiles[device.profileId]!, r)
          : unknown(r, byAddress, serials, bySerial)
    if (before === undefined) met.set(r.serial, r.line)
    if (why || !device) out.refused.push({ line: r.line, serial: r.serial, why: why ?? '' })
    else (claimed.has(device.id) ? out.already : out.claims).push({ line: r.line, device })
  }
  const named = new Set([...out.claims, ...out.already].map((c) => c.device.id))
  return {
    ...out,
    unnamed: Object.values(plan.devices).filter(
      (d) => plan.profiles[d.profileId]!.adoptable && !named.has(d.id) && !claimed.has(d.id),
    ),
  }
}

function whyNot(device: Device, profile: Profile, row: ClaimRow): string | null {
  if (!profile.adoptable) return `${device.name} is of a kind that no controller adopts`
  const { hardwareAddress: planned } = device
  if (row.hardwareAddress && planned && row.hardwareAddress !== planned)
    return `${device.name} has the hardware address ${planned} in the plan, the list says ${row.hardwareAddress}`
  const said = row.model?.toLowerCase()
  if (said && said !== profile.id.toLowerCase() && said !== profile.name.toLowerCase())
    return `${device.name} is ${profile.name} in the plan, the list says ${row.model!}`
  return null
}

/** Beyond so many serials the nearest one is not looked for: each row is compared with all. */
const NEAREST_MOST = 2_000_000

function unknown(
  { serial, serialAsAddress }: ClaimRow,
  byAddress: ReadonlyMap<string, Device>,
  serials: readonly string[],
  bySerial: ReadonlyMap<string, Device>,
): string {
  const labelled = serialAsAddress ? byAddress.get(serialAsAddress) : undefined
  if (labelled)
    return `this is the hardware address of ${labelled.name}; its serial is the other number on the label`
  // Only what is about as long can be two edits away.
  const close = serials.filter((s) => Math.abs(s.length - serial.length) <= 2)
  const near =
    close.length * serial.length ** 2 < NEAREST_MOST ? nearestSerial(serial, close) : undefined
  return near
    ? `no device has it; ${bySerial.get(near.serial)!.name} has ${near.serial}, ${near.distance} ` +
        `${near.distance === 1 ? 'place' : 'places'} off`
    : 'no device of the plan has it'
}

/** What was claimed before, now and after; whether it adds up, in words where it does not. */
export function claimsAddUp(
  before: number,
  newly: number,
  after: number,
): { readonly isRight: boolean; readonly says: string } {
  const isRight = before + newly === after
  const sum = `${before} were claimed, ${newly} came in, ${after} are claimed now`
  return {
    isRight,
    says: isRight
      ? `${sum}: it adds up.`
      : `${sum}: ${Math.abs(after - before - newly)} ${after > before + newly ? 'more' : 'fewer'} ` +
        'than it should be. Somebody else claims or gives up at the same time; look at the log.',
  }
}
