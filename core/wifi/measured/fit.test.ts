import { describe, expect, it } from 'vitest'
import { chanceOf } from '../../generator'
import type { Point, Sender } from '../coverage/place'
import { fitReadings, type PlannedWall, type Reading } from './fit'

const sender = (x: number, y: number): Sender => ({
  at: { x, y },
  ...{ aboveM: 1.5, mhz: 5180, eirpDbm: 20, beam: null },
})
const senders = [sender(5, 5), sender(35, 8), sender(20, 25)]
const wall = (ax: number, ay: number, bx: number, by: number, materialId = 'plaster') => ({
  a: { x: ax, y: ay },
  b: { x: bx, y: by },
  lossDb: materialId === 'plaster' ? 3 : 10,
  materialId,
})
const walls: PlannedWall[] = [
  wall(10, 0, 10, 15),
  wall(10, 15, 10, 30),
  wall(0, 15, 20, 15, 'brick'),
  wall(20, 15, 40, 15, 'brick'),
  wall(28, 0, 28, 15),
  wall(28, 15, 28, 30, 'brick'),
]
/** Two normal numbers out of two even ones (Box and Muller). */
const normal = (next: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next())

/** Readings of a place that is other than it was planned, made without the model. */
function made(
  truth: { coefficient: number; offset: number; losses: readonly number[] },
  count: number,
  spread: number,
  seed: number,
  spoilt = 0,
): Reading[] {
  const { next, between } = chanceOf(seed)
  return Array.from({ length: count }, (): Reading => {
    const at: Point = { x: 40 * next(), y: 30 * next() }
    const n = between(0, 2)
    const s = senders[n]!
    const d = Math.sqrt((at.x - s.at.x) ** 2 + (at.y - s.at.y) ** 2 + 2.25)
    let level = 20 - 20 * Math.log10(5180) - truth.coefficient * Math.log10(Math.max(1, d)) + 28
    for (const [w, { a, b }] of walls.entries()) {
      // All of them are upright or level.
      const isUpright = a.x === b.x
      const [p, q, at0] = isUpright ? [s.at.x, at.x, a.x] : [s.at.y, at.y, a.y]
      if ((p - at0) * (q - at0) >= 0) continue
      const t = (at0 - p) / (q - p)
      const along = isUpright ? s.at.y + t * (at.y - s.at.y) : s.at.x + t * (at.x - s.at.x)
      const [lo, hi] = isUpright ? [a.y, b.y] : [a.x, b.x]
      if (along > Math.min(lo, hi) && along < Math.max(lo, hi)) level -= truth.losses[w]!
    }
    const far = next() < spoilt ? -25 : 0
    return { at, sender: n, dbm: level + truth.offset + spread * normal(next) + far }
  })
}
const planned = walls.map((w) => w.lossDb)
/** The third wall is of metal, and nobody drew it so. */
const metal = planned.map((l, w) => (w === 2 ? 24 : l))

describe('what readings say of a place', () => {
  it('finds coefficient, offset and walls again, each within what it says of its own doubt', () => {
    const truth = { coefficient: 33, offset: -4, losses: planned.map((l) => l * 1.3) }
    const fit = fitReadings(senders, walls, { coefficient: 28 }, made(truth, 600, 3, 1))
    expect(Math.abs(fit.coefficient.value - 33)).toBeLessThan(3 * fit.coefficient.sd)
    expect(fit.coefficient.sd).toBeLessThan(1.2)
    expect(Math.abs(fit.offsetDb.value + 4)).toBeLessThan(3 * fit.offsetDb.sd)
    for (const [w, f] of fit.walls.entries()) {
      expect(Math.abs(f.value - truth.losses[w]!)).toBeLessThan(3 * f.sd + 0.5)
      expect(f.sd).toBeLessThan(1)
    }
    expect(fit.spreadDb).toBeGreaterThan(2.5)
    expect(fit.spreadDb).toBeLessThan(3.5)
  })
  it('tells which wall is not what the plan says, and leaves the others alone', () => {
    const truth = { coefficient: 30, offset: 0, losses: metal }
    const fit = fitReadings(senders, walls, { coefficient: 30 }, made(truth, 400, 3, 2))
    expect(fit.otherThanPlanned).toEqual([2])
    expect(Math.abs(fit.walls[2]!.value - 24)).toBeLessThan(4)
    const asPlanned = { ...truth, losses: planned }
    const right = fitReadings(senders, walls, { coefficient: 30 }, made(asPlanned, 400, 3, 3))
    expect(right.otherThanPlanned).toEqual([])
  })
  it('is not led astray by a tenth of readings that are wrong by 25 dB', () => {
    const truth = { coefficient: 30, offset: 0, losses: planned }
    const fit = fitReadings(senders, walls, { coefficient: 27 }, made(truth, 600, 3, 4, 0.1))
    expect(Math.abs(fit.coefficient.value - 30)).toBeLessThan(2)
    expect(Math.abs(fit.offsetDb.value)).toBeLessThan(2.5)
  })
  it('says its doubt honestly: seven in ten fits hold the truth within one deviation', () => {
    const truth = { coefficient: 31, offset: -2, losses: planned }
    let within = 0
    const TIMES = 60
    for (let seed = 0; seed < TIMES; seed++) {
      const { coefficient } = fitReadings(
        senders,
        walls,
        { coefficient: 30 },
        made(truth, 150, 4, 100 + seed),
      )
      if (Math.abs(coefficient.value - 31) < coefficient.sd) within++
    }
    // 68 % of 60 are 41, give or take 3.6.
    expect(within).toBeGreaterThan(29)
    expect(within).toBeLessThanOrEqual(60)
  })
  it('is less sure where nobody measured', () => {
    const truth = { coefficient: 30, offset: 0, losses: planned }
    const here = made(truth, 400, 3, 5).filter((r) => r.at.x < 9 && r.at.y < 14)
    const fit = fitReadings(senders, walls, { coefficient: 30 }, here)
    const near = fit.uncertainDb(senders[0]!, { x: 4, y: 8 })
    const far = fit.uncertainDb(senders[0]!, { x: 38, y: 28 })
    expect(far).toBeGreaterThan(near + 1)
  })
  it('without readings is the plan with all its doubt', () => {
    const fit = fitReadings(senders, walls, { coefficient: 30 }, [])
    expect(fit.coefficient).toEqual({ value: 30, sd: expect.closeTo(5, 6) })
    expect(fit.walls.map((w) => w.value)).toEqual(planned)
    expect(fit.otherThanPlanned).toEqual([])
  })
})
