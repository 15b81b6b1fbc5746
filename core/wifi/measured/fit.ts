/**
 * Measured levels bend the model: its distance coefficient, the loss of each material and of each
 * wall by itself, and what all readings have in common (the antenna of what measured). Least
 * squares with what was known before as further equations (ridge regression, Hoerl and Kennard
 * 1970), and with readings that lie far off counting less (Huber 1964, weights found again and
 * again).
 */
import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import type { Law, Point, Sender } from '../coverage/place'
import { offBeamDb } from '../coverage/levels'
import { indoorLossDb } from '../../radio/distance'
import { crossedBy, type Ends } from './crossings'

export interface Reading {
  readonly at: Point
  /** Which of the senders was heard. */ readonly sender: number
  readonly dbm: number
}
export interface PlannedWall extends Ends {
  readonly lossDb: number
  /** Walls of one material err together. */ readonly materialId: string
}
/** A value with what it is uncertain by (one standard deviation). */
export interface Fitted {
  readonly value: number
  readonly sd: number
}
export interface Fit {
  readonly coefficient: Fitted
  /** What all readings have in common, dB. */ readonly offsetDb: Fitted
  /** Loss of each wall, dB. */ readonly walls: readonly Fitted[]
  /** How many readings passed each wall. */ readonly passes: readonly number[]
  /** Walls that are surely not what the plan says. */ readonly otherThanPlanned: readonly number[]
  /** Measured less modelled, dB, by reading. */ readonly residualsDb: readonly number[]
  /** What is left after the fit, dB: shadowing that no wall explains. */ readonly spreadDb: number
  /** How uncertain a level at some point is, dB: the spread, and what is not known of the way. */
  uncertainDb(senderAt: Sender, at: Point): number
}

/** How far what was planned may be off (one standard deviation): common practice. */
const BEFORE = { coefficient: 5, offsetDb: 6, materialDb: 4, wallDb: 3 } as const
/** Readings scatter by about so much until they say otherwise (common practice). */
const USUAL_SPREAD_DB = 4
/** Further off than so many spreads a reading counts less (Huber). */
const FAR = 1.345
const ROUNDS = 12
/** A wall is other than planned when it is so many deviations off, and so many dB. */
const SURE = 2.5
const NOTABLE_DB = 3

/** A row of the equations: only what is not 0. */
type Row = readonly (readonly [number, number])[]

/**
 * @param senders as they are planned, with the same numbers as the readings have
 * @param walls as planned for this band
 */
export function fitReadings(
  senders: readonly Sender[],
  walls: readonly PlannedWall[],
  law: Law,
  readings: readonly Reading[],
): Fit {
  const materials = [...new Set(walls.map((w) => w.materialId))]
  const ofMaterial = walls.map((w) => 2 + materials.indexOf(w.materialId))
  const crossings = readings.map((r) => crossedBy(r.at, senders[r.sender]!.at, walls))
  const passes = walls.map(() => 0)
  for (const list of crossings) for (const w of list) passes[w]!++
  // Of walls that nobody measured through nothing is learnt but by their material.
  const column = new Map<number, number>()
  for (const [w, n] of passes.entries())
    if (n > 0) column.set(w, 2 + materials.length + column.size)
  const size = 2 + materials.length + column.size
  const before = [
    BEFORE.offsetDb,
    BEFORE.coefficient,
    ...materials.map(() => BEFORE.materialDb),
    ...Array.from(column, () => BEFORE.wallDb),
  ]

  const rowOf = (sender: Sender, at: Point, crossed: readonly number[]): Row => {
    const squared =
      (at.x - sender.at.x) ** 2 + (at.y - sender.at.y) ** 2 + sender.aboveM * sender.aboveM
    const row = new Map<number, number>([
      [0, 1],
      [1, -Math.log10(Math.max(1, squared)) / 2],
    ])
    for (const w of crossed)
      for (const c of [ofMaterial[w]!, column.get(w)])
        if (c !== undefined) row.set(c, (row.get(c) ?? 0) - 1)
    return [...row]
  }
  const planned = readings.map((r, i) => {
    const s = senders[r.sender]!
    const d = Math.hypot(r.at.x - s.at.x, r.at.y - s.at.y, s.aboveM)
    const through = crossings[i]!.reduce((sum, w) => sum + walls[w]!.lossDb, 0)
    const off = s.beam ? offBeamDb(s.beam, r.at.x - s.at.x, r.at.y - s.at.y) : 0
    return s.eirpDbm - indoorLossDb(s.mhz, d, law.coefficient) - through - off
  })
  const rows = readings.map((r, i) => rowOf(senders[r.sender]!, r.at, crossings[i]!))
  const wanted = readings.map((r, i) => r.dbm - planned[i]!)

  let spreadDb = USUAL_SPREAD_DB
  let weights = readings.map(() => 1)
  let solution = new Array<number>(size).fill(0)
  let residuals = wanted
  let known = inverseOf(normal(rows, weights, spreadDb, before))
  for (let round = 0; round < ROUNDS && readings.length > 0; round++) {
    solution = times(known, rightSide(rows, wanted, weights, spreadDb, size))
    residuals = rows.map((row, i) => wanted[i]! - along(row, solution))
    spreadDb = spreadOf(residuals)
    weights = residuals.map((r) => Math.min(1, (FAR * spreadDb) / Math.max(1e-9, Math.abs(r))))
    known = inverseOf(normal(rows, weights, spreadDb, before))
  }
  solution = times(known, rightSide(rows, wanted, weights, spreadDb, size))
  residuals = rows.map((row, i) => wanted[i]! - along(row, solution))

  const at = (n: number, base = 0): Fitted => ({
    value: base + solution[n]!,
    sd: Math.sqrt(known.get(n, n)),
  })
  const wall = (w: number): Fitted => {
    const [m, own] = [ofMaterial[w]!, column.get(w)]
    if (own === undefined)
      return {
        value: walls[w]!.lossDb + solution[m]!,
        sd: Math.hypot(Math.sqrt(known.get(m, m)), BEFORE.wallDb),
      }
    return {
      value: walls[w]!.lossDb + solution[m]! + solution[own]!,
      sd: Math.sqrt(known.get(m, m) + known.get(own, own) + 2 * known.get(m, own)),
    }
  }
  const fitted = walls.map((_, w) => wall(w))
  return {
    coefficient: at(1, law.coefficient),
    offsetDb: at(0),
    walls: fitted,
    passes,
    otherThanPlanned: fitted.flatMap(({ value, sd }, w) => {
      const off = Math.abs(value - walls[w]!.lossDb)
      return passes[w]! > 0 && off > NOTABLE_DB && off > SURE * sd ? [w] : []
    }),
    residualsDb: residuals,
    spreadDb,
    uncertainDb: (senderAt, point) => {
      const crossed = crossedBy(point, senderAt.at, walls)
      const row = rowOf(senderAt, point, crossed)
      let variance = spreadDb * spreadDb
      for (const [i, x] of row) for (const [j, y] of row) variance += x * y * known.get(i, j)
      for (const w of crossed) if (!column.has(w)) variance += BEFORE.wallDb ** 2
      return Math.sqrt(variance)
    },
  }
}

/** What the equations say together: each reading by its weight, and what was known before. */
function normal(
  rows: readonly Row[],
  weights: readonly number[],
  spreadDb: number,
  before: readonly number[],
): Matrix {
  const out = Matrix.zeros(before.length, before.length)
  for (const [j, sd] of before.entries()) out.set(j, j, 1 / (sd * sd))
  const each = 1 / (spreadDb * spreadDb)
  for (const [i, row] of rows.entries()) {
    const w = weights[i]! * each
    for (const [j, x] of row) for (const [k, y] of row) out.set(j, k, out.get(j, k) + w * x * y)
  }
  return out
}
function rightSide(
  rows: readonly Row[],
  wanted: readonly number[],
  weights: readonly number[],
  spreadDb: number,
  size: number,
): number[] {
  const out = new Array<number>(size).fill(0)
  for (const [i, row] of rows.entries())
    for (const [j, x] of row) out[j]! += (weights[i]! * x * wanted[i]!) / (spreadDb * spreadDb)
  return out
}
const inverseOf = (m: Matrix): Matrix => new CholeskyDecomposition(m).solve(Matrix.identity(m.rows))
const times = (m: Matrix, v: readonly number[]): number[] =>
  m.mmul(Matrix.columnVector([...v])).to1DArray()
const along = (row: Row, v: readonly number[]): number =>
  row.reduce((sum, [j, x]) => sum + x * v[j]!, 0)

/** The spread of residuals by their median, which some that lie far off do not move (MAD). */
function spreadOf(residuals: readonly number[]): number {
  const sizes = residuals.map(Math.abs).sort((a, b) => a - b)
  const median = sizes[Math.floor(sizes.length / 2)] ?? 0
  // Of a few readings nobody learns that there is no scatter.
  const known = residuals.length / (residuals.length + 5)
  return Math.max(0.5, known * 1.4826 * median + (1 - known) * USUAL_SPREAD_DB)
}
