/** Who disturbs a bridge on a frequency, and where the fewest do. */
import type { EndName } from '../facts'
import { fixedLawOf } from '../lawful/fixedLaw'
import type { Reckoned } from '../reckoned'

export interface Disturbance {
  readonly end: EndName
  readonly name: string
  /** What arrives of it within the channel, dBm. */
  readonly dbm: number
  /** What arrives of the own other end. */
  readonly ownDbm: number
}

/** What antennas on one mast hear of each other, behind and beside their beams, dB (common practice). */
const SAME_MAST_DB = 55
/** As near as that is one mast, m. */
const SAME_MAST_M = 30

/** How much of another's power falls into a channel, dB; null where nothing does. */
function fallsIn(
  mhz: number,
  widthMhz: number,
  otherMhz: number,
  otherWidth: number,
): number | null {
  const over =
    Math.min(mhz + widthMhz / 2, otherMhz + otherWidth / 2) -
    Math.max(mhz - widthMhz / 2, otherMhz - otherWidth / 2)
  return over <= 0 ? null : 10 * Math.log10(Math.min(1, over / otherWidth))
}
const isNear = (
  a: { latitude: number; longitude: number },
  b: { latitude: number; longitude: number },
): boolean =>
  Math.hypot(
    (a.latitude - b.latitude) * 111_320,
    (a.longitude - b.longitude) * 111_320 * Math.cos((a.latitude * Math.PI) / 180),
  ) < SAME_MAST_M

/** Scans of both ends, and other bridges that send from the same mast. */
export function disturbances(r: Reckoned, all: readonly Reckoned[], mhz: number): Disturbance[] {
  const { facts, toA, toB } = r.budget
  const own = { a: toA.levelDbm, b: toB.levelDbm }
  const out: Disturbance[] = r.bridge.heard.flatMap((h): Disturbance[] => {
    const share = fallsIn(mhz, r.bridge[h.end].widthMhz, h.mhz, h.widthMhz)
    return share === null
      ? []
      : [{ end: h.end, name: `somebody at ${h.mhz} MHz`, dbm: h.dbm + share, ownDbm: own[h.end] }]
  })
  for (const other of all) {
    if (other === r || !other.budget.facts.isChannelSet) continue
    // A sector and its far ends are one cell: they take turns.
    const ids = [facts.a.device.id, facts.b.device.id]
    const { facts: of } = other.budget
    if (ids.includes(of.a.device.id) || ids.includes(of.b.device.id)) continue
    for (const end of ['a', 'b'] as const)
      for (const [mast, direction] of [
        [of.a, other.budget.toB],
        [of.b, other.budget.toA],
      ] as const) {
        const share = fallsIn(mhz, r.bridge[end].widthMhz, of.mhz, mast.set.widthMhz)
        if (share === null || !isNear(facts[end].at, mast.at)) continue
        out.push({
          end,
          name: `${mast.device.name} on the same mast`,
          dbm: direction.sending.powerDbm - SAME_MAST_DB + share,
          ownDbm: own[end],
        })
      }
  }
  return out
}

export interface Quiet {
  readonly number: number
  readonly mhz: number
  /** The worst disturbance over the own level, dB; -Infinity of none. */
  readonly worstDb: number
}
/** Of the channels that both units have and that are open, the one with the least over the own level. */
export function quietestChannel(
  r: Reckoned,
  all: readonly Reckoned[],
  country: string,
): Quiet | undefined {
  const { a, b } = r.budget.facts
  return a.unit.channels
    .filter(
      (c) =>
        b.unit.channels.some((x) => x.number === c.number && x.mhz === c.mhz) &&
        fixedLawOf(country, c.mhz, a.set.widthMhz, a.antenna.gainDbi, r.bridge.licensedDbm).ok,
    )
    .map((c): Quiet => {
      const worstDb = disturbances(r, all, c.mhz).reduce(
        (worst, d) => Math.max(worst, d.dbm - d.ownDbm),
        -Infinity,
      )
      return { ...c, worstDb }
    })
    .reduce<Quiet | undefined>(
      (best, c) => (best === undefined || c.worstDb < best.worstDb ? c : best),
      undefined,
    )
}
