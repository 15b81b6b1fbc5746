/** Range extenders: where they may stand, and what is left at their far side. */
import { levelOf, percentOf } from '../../radio/decibels'
import { bestRateMbps, spokenBy, type Spoken } from '../../radio/rates'
import type { Law, Point, Sender, Wall } from '../coverage/place'
import { levelAt } from '../coverage/levelAt'

/** The schools of where an extender stands, by what its scan says of the network it repeats. */
export const schools = {
  'two-stage': {
    name: 'in two stages',
    /** Before it is set up, and once more at its outlet, percent. */ atFirst: 70,
    atLast: 65,
  },
  half: { name: 'at half the signal', atFirst: 50, atLast: 50 },
} as const
export type School = keyof typeof schools

/** The marks that are drawn around an access point, percent. */
export const MARKS_PERCENT = [70, 65, 50] as const
export const marksDbm = MARKS_PERCENT.map(levelOf)

/**
 * What comes through of two stretches, Mbit/s. With one radio every packet is on the air twice, and
 * the times add up: 1 / (1/a + 1/b), half where both are alike; with two the slower one rules.
 */
export function throughMbps(toPointMbps: number, toClientMbps: number, radios: 1 | 2): number {
  if (toPointMbps <= 0 || toClientMbps <= 0) return 0
  return radios === 2
    ? Math.min(toPointMbps, toClientMbps)
    : 1 / (1 / toPointMbps + 1 / toClientMbps)
}

/** How a place would do as that of an extender. */
export interface Stand {
  readonly at: Point
  /** What it hears of the access point. */ readonly dbm: number
  readonly percent: number
  /** To the access point, to the client, and through both, Mbit/s, before what headers take. */
  readonly toPointMbps: number
  readonly toClientMbps: number
  readonly mbps: number
  /** What the client hears of it, dBm. */ readonly clientDbm: number
}

export interface ExtenderCase {
  readonly point: Sender
  readonly pointSpoken: Spoken
  /** The extender: power and gain together, dBm; how high over heads, m. */
  readonly eirpDbm: number
  readonly spoken: Spoken
  readonly aboveM: number
  readonly radios: 1 | 2
  /** Where it is to be better, and what is there. */
  readonly spot: Point
  readonly client: Spoken
  readonly walls: readonly Wall[]
  readonly law: Law
}

/** Without an extender: level and rate at the spot. */
export function withoutExtender(c: ExtenderCase): { dbm: number; mbps: number } {
  const { dbm } = levelAt(c.point, c.spot, c.walls, c.law)
  return { dbm, mbps: bestRateMbps(spokenBy(c.pointSpoken, c.client), dbm) }
}

export function standAt(c: ExtenderCase, at: Point): Stand {
  const toPoint = levelAt(c.point, at, c.walls, c.law, c.point.aboveM - c.aboveM)
  const own: Sender = { at, aboveM: c.aboveM, mhz: c.point.mhz, eirpDbm: c.eirpDbm, beam: null }
  const toClient = levelAt(own, c.spot, c.walls, c.law)
  const toPointMbps = bestRateMbps(spokenBy(c.pointSpoken, c.spoken), toPoint.dbm)
  const toClientMbps = bestRateMbps(spokenBy(c.spoken, c.client), toClient.dbm)
  return {
    at,
    dbm: toPoint.dbm,
    percent: Math.round(percentOf(toPoint.dbm)),
    toPointMbps,
    toClientMbps,
    mbps: throughMbps(toPointMbps, toClientMbps, c.radios),
    clientDbm: toClient.dbm,
  }
}

/** The outlets from the best down: those that a school lets through first, then by what comes through. */
export function bestOutlets(
  c: ExtenderCase,
  outlets: readonly Point[],
  school: School,
): (Stand & { readonly isLetThrough: boolean })[] {
  const { atLast } = schools[school]
  return outlets
    .map((o) => standAt(c, o))
    .map((s) => ({ ...s, isLetThrough: s.percent >= atLast }))
    .sort(
      (a, b) =>
        Number(b.isLetThrough) - Number(a.isLetThrough) ||
        b.mbps - a.mbps ||
        b.clientDbm - a.clientDbm,
    )
}

/** Stands along the straight way from the access point to the spot, one each metre. */
export function alongTheWay(c: ExtenderCase): Stand[] {
  const { x, y } = c.point.at
  const length = Math.hypot(c.spot.x - x, c.spot.y - y)
  const count = Math.max(1, Math.min(400, Math.round(length)))
  return Array.from({ length: count + 1 }, (_, n) =>
    standAt(c, { x: x + ((c.spot.x - x) * n) / count, y: y + ((c.spot.y - y) * n) / count }),
  )
}
