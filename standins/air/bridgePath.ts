/** What arrives over a path between two antennas, from its own geometry and losses. */
import type { Bridge, SitePlan } from '@mast/core/plan'
import { dishDb } from './dish'

export interface Pointed {
  /** Off the straight line to the other end, degrees. */
  readonly across: number
  readonly up: number
}
/** What is true of an end, whatever was planned. */
export interface EndTruth {
  pointed: Pointed
  /** It hangs turned by a right angle. */
  isTurned: boolean
  channel: number | null
  role: 'main' | 'far' | null
}
export interface BridgeTruth {
  a: EndTruth
  b: EndTruth
  rainMmH: number
  /** By so much trees are higher than on the sheet, m. */
  grownM: number
}

const SPEED = 299_792_458
/** The Earth as waves see it, m. */
const BENT_M = 8_500_000

type Point = readonly [number, number, number]
/** On the ellipsoid, from the middle of the Earth, m. */
function cartesian(latitude: number, longitude: number): Point {
  const [f, a] = [1 / 298.257223563, 6_378_137]
  const [p, l] = [(latitude * Math.PI) / 180, (longitude * Math.PI) / 180]
  const e2 = f * (2 - f)
  const n = a / Math.sqrt(1 - e2 * Math.sin(p) ** 2)
  return [n * Math.cos(p) * Math.cos(l), n * Math.cos(p) * Math.sin(l), n * (1 - e2) * Math.sin(p)]
}

/** By frequency in GHz, dB/km at sea level (read off the curves of ITU-R P.676, from memory). */
const air = [
  [1, 0.005],
  [10, 0.013],
  [18, 0.06],
  [22, 0.2],
  [26, 0.13],
  [40, 0.15],
  [50, 0.4],
  [56, 5],
  [58, 12.2],
  [60, 15],
  [62, 14.2],
  [64, 7],
  [66, 2.1],
  [70, 0.6],
  [90, 0.4],
] as const
/** By frequency in GHz: k and alpha of rain (the table of ITU-R P.838 of 1992, from memory). */
const rain = [
  [1, 0.0000387, 0.912],
  [2, 0.000154, 0.963],
  [4, 0.00065, 1.121],
  [6, 0.00175, 1.308],
  [8, 0.00454, 1.327],
  [10, 0.0101, 1.276],
  [15, 0.0367, 1.154],
  [20, 0.0751, 1.099],
  [30, 0.187, 1.021],
  [40, 0.35, 0.939],
  [60, 0.707, 0.826],
  [80, 0.975, 0.769],
  [100, 1.12, 0.743],
] as const
function between(table: readonly (readonly number[])[], x: number, column: number, isLog: boolean) {
  const at = Math.max(
    1,
    table.findIndex((r) => r[0]! >= x),
  )
  const [low, high] = [table[at - 1]!, table[at]!]
  const t = Math.min(
    1,
    Math.max(0, (Math.log(x) - Math.log(low[0]!)) / Math.log(high[0]! / low[0]!)),
  )
  const [p, q] = [low[column]!, high[column]!]
  return isLog ? Math.exp(Math.log(p) + t * Math.log(q / p)) : p + t * (q - p)
}

/** The field behind a straight edge, by the auxiliary functions of the Fresnel integrals (A&S 7.3.32). */
function behindEdgeDb(v: number): number {
  if (v < -1) return 0
  const z = Math.abs(v)
  const f = (1 + 0.926 * z) / (2 + 1.792 * z + 3.104 * z ** 2)
  const g = 1 / (2 + 4.142 * z + 3.492 * z ** 2 + 6.67 * z ** 3)
  if (v >= 0) return -10 * Math.log10((f * f + g * g) / 2)
  const [sin, cos] = [Math.sin((Math.PI / 2) * z * z), Math.cos((Math.PI / 2) * z * z)]
  const c = 0.5 + f * sin - g * cos
  const s = 0.5 - f * cos - g * sin
  return Math.max(0, -10 * Math.log10(((0.5 + c) ** 2 + (0.5 + s) ** 2) / 2))
}

interface Top {
  readonly at: number
  readonly top: number
}
const rise = (x: Top, from: Top, to: Top): number => {
  const [d1, d2] = [x.at - from.at, to.at - x.at]
  return x.top + (d1 * d2) / (2 * BENT_M) - (from.top + ((to.top - from.top) * d1) / (d1 + d2))
}
const number = (x: Top, from: Top, to: Top, lambda: number): number => {
  const [d1, d2] = [x.at - from.at, to.at - x.at]
  return rise(x, from, to) * Math.sqrt((2 * (d1 + d2)) / (lambda * d1 * d2))
}

/**
 * Over everything that stands there: of each thing its worst point, then those that a string over them
 * would touch, each seen from its neighbours on the string, and their losses added.
 */
function overDb(things: readonly (readonly Top[])[], a: Top, b: Top, lambda: number): number {
  const worst = things.flatMap((list): Top[] => {
    const inside = list.filter((t) => t.at > a.at + 1 && t.at < b.at - 1)
    const top = inside.reduce<Top | undefined>(
      (w, t) => (w === undefined || number(t, a, b, lambda) > number(w, a, b, lambda) ? t : w),
      undefined,
    )
    return top && number(top, a, b, lambda) > -1 ? [top] : []
  })
  if (worst.length === 0) return 0
  const string: Top[] = [a]
  let here = a
  const left = worst.sort((p, q) => p.at - q.at)
  for (;;) {
    const next = left
      .filter((t) => t.at > here.at && rise(t, here, b) > 0)
      .sort((p, q) => slope(here, q) - slope(here, p))[0]
    if (!next) break
    string.push(next)
    here = next
  }
  string.push(b)
  if (string.length === 2) {
    const near = Math.max(...left.map((t) => number(t, a, b, lambda)))
    return behindEdgeDb(near)
  }
  let sum = 0
  for (let n = 1; n < string.length - 1; n++)
    sum += behindEdgeDb(number(string[n]!, string[n - 1]!, string[n + 1]!, lambda))
  return sum
}
const slope = (from: Top, to: Top): number =>
  (to.top - from.top) / (to.at - from.at) + (to.at - from.at) / (2 * BENT_M)

export interface Arriving {
  readonly atA: number
  readonly atB: number
  readonly metres: number
}

/** Levels at both ends, dBm; null where nobody measured where they stand. */
export function arriving(plan: SitePlan, bridge: Bridge, truth: BridgeTruth): Arriving | null {
  const link = plan.links[bridge.linkId]!
  const ends = (['a', 'b'] as const).map((name) => {
    const device = plan.devices[plan.ports[link[name]]!.deviceId]!
    const place = device.locationId ? plan.locations[device.locationId] : undefined
    const set = bridge[name]
    const unit = plan.profiles[device.profileId]!.bridge
    const [latitude, longitude] = set.at
      ? [set.at.latitude, set.at.longitude]
      : [place?.latitude ?? null, place?.longitude ?? null]
    const height = set.heightM ?? place?.heightM ?? null
    if (!unit || latitude === null || longitude === null || height === null) return null
    return { set, unit, point: cartesian(latitude, longitude), height, truth: truth[name] }
  })
  const [a, b] = ends
  if (!a || !b) return null
  const metres = Math.hypot(...a.point.map((x, n) => x - b.point[n]!))
  const mhz = a.unit.channels.find((c) => c.number === truth.a.channel)?.mhz
  if (mhz === undefined || metres < 1) return null
  const lambda = SPEED / (mhz * 1e6)
  const list = [...bridge.ground].sort((p, q) => p.atM - q.atM)
  const foot = (at: number): number => {
    const next = list.findIndex((g) => g.atM >= at)
    if (list.length === 0)
      return (a.set.groundM ?? 0) + (((b.set.groundM ?? 0) - (a.set.groundM ?? 0)) * at) / metres
    if (next <= 0) return next < 0 ? list.at(-1)!.heightM : list[0]!.heightM
    const [p, q] = [list[next - 1]!, list[next]!]
    return p.heightM + ((q.heightM - p.heightM) * (at - p.atM)) / Math.max(0.1, q.atM - p.atM)
  }
  const top = (e: NonNullable<(typeof ends)[number]>, at: number): Top => ({
    at,
    top: (e.set.groundM ?? foot(at)) + e.height,
  })
  const things: Top[][] = bridge.obstacles.map((o) =>
    Array.from({ length: o.lengthM > 0 ? 9 : 1 }, (_, n) => {
      const at = o.atM + (o.lengthM * n) / 8
      return { at, top: foot(at) + o.topM + (o.kind === 'trees' ? truth.grownM : 0) }
    }),
  )
  const isBeside = (at: number): boolean =>
    bridge.obstacles.some((o) => at > o.atM - 250 && at < o.atM + o.lengthM + 250)
  // The ground in pieces of a kilometre: each hill is one.
  for (let from = 0; from < metres; from += 1000)
    things.push(
      list
        .filter((g) => g.atM >= from && g.atM < from + 1000 && !isBeside(g.atM))
        .map((g) => ({ at: g.atM, top: g.heightM })),
    )
  const over = overDb(things, top(a, 0), top(b, metres), lambda)
  const ghz = mhz / 1000
  const km = metres / 1000
  const wet =
    truth.rainMmH > 0
      ? between(rain, ghz, 1, true) *
        truth.rainMmH ** between(rain, ghz, 2, false) *
        Math.min(km, 5)
      : 0
  const lost =
    20 * Math.log10((4 * Math.PI * metres) / lambda) + between(air, ghz, 1, true) * km + over + wet
  const aim = ({ unit, set, truth: t }: typeof a): number => {
    const antenna = unit.antenna
    const width = set.antenna?.widthDegrees ?? antenna.widthDegrees
    const { across, up } = t.pointed
    if (antenna.shape === 'dish' || set.antenna?.diameterM != null)
      return dishDb(Math.sqrt(across ** 2 + up ** 2), width, antenna.frontToBackDb)
    const round = antenna.shape === 'around' ? 0 : 12 * (across / width) ** 2
    return -Math.min(antenna.frontToBackDb, round + 12 * (up / antenna.heightDegrees) ** 2)
  }
  const gain = ({ unit, set }: typeof a): number =>
    (set.antenna?.gainDbi ?? unit.antenna.gainDbi) - set.cableDb
  const isAlike =
    (a.set.polarisation === b.set.polarisation) === (a.truth.isTurned === b.truth.isTurned)
  const turned =
    a.set.polarisation === 'both' && b.set.polarisation === 'both'
      ? 0
      : a.set.polarisation === 'both' || b.set.polarisation === 'both'
        ? 3
        : isAlike
          ? 0
          : Math.min(a.unit.antenna.crossPolarDb, b.unit.antenna.crossPolarDb)
  const way = gain(a) + gain(b) + aim(a) + aim(b) - lost - turned
  const sends = ({ unit, set }: typeof a): number =>
    set.powerDbm ??
    Math.min(unit.mostPowerDbm, mostEirp(plan.site.country, mhz) - gain({ unit, set } as typeof a))
  return { atA: sends(b) + way, atB: sends(a) + way, metres }
}

/** What units that were told their country keep to, dBm EIRP (from memory). */
function mostEirp(country: string, mhz: number): number {
  if (mhz > 57_000 && mhz < 71_000) return country === 'US' ? 55 : 40
  if (mhz < 2500) return country === 'US' ? 36 : 20
  if (mhz > 5725 && mhz < 5875) return country === 'US' ? 53 : 36
  if (mhz > 5470 && mhz <= 5725) return 30
  if (mhz > 17_000 && mhz < 24_300) return 20
  return Infinity
}
