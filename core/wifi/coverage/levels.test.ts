import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { chanceOf } from '../../generator'
import { freeSpaceLossDb } from '../../radio/distance'
import { levelsOf, offBeamDb, wallLosses } from './levels'
import { pointOf, type Grid, type Point, type Sender, type Wall } from './place'

const grid = (columns: number, rows: number, stepM = 0.5): Grid => ({
  ...{ x0: 0, y0: 0, stepM, columns, rows },
})
const sender = (x: number, y: number, more: Partial<Sender> = {}): Sender => ({
  at: { x, y },
  aboveM: 0,
  mhz: 5180,
  eirpDbm: 20,
  beam: null,
  ...more,
})

/** Whether two pieces cross, by which side each end lies on. */
function crosses(s: Point, p: Point, { a, b }: Wall): boolean {
  const side = (o: Point, u: Point, v: Point): number =>
    (u.x - o.x) * (v.y - o.y) - (u.y - o.y) * (v.x - o.x)
  return side(s, p, a) * side(s, p, b) < 0 && side(a, b, s) * side(a, b, p) < 0
}
/** A level at one point: its own distance, its own walls, and nothing shared with the grid. */
function byHand(s: Sender, p: Point, walls: readonly Wall[], n: number): number {
  const d = Math.max(1, Math.hypot(p.x - s.at.x, p.y - s.at.y, s.aboveM))
  const distance = 20 * Math.log10(s.mhz) + n * Math.log10(d) - 28
  const through = walls.filter((w) => crosses(s.at, p, w)).reduce((sum, w) => sum + w.lossDb, 0)
  let off = 0
  if (s.beam) {
    const angle = (Math.atan2(p.x - s.at.x, s.at.y - p.y) * 180) / Math.PI
    const turned = Math.abs(angle - s.beam.degrees) % 360
    const away = turned > 180 ? 360 - turned : turned
    off = Math.min(s.beam.frontToBackDb, 12 * (away / s.beam.widthDegrees) ** 2)
  }
  return s.eirpDbm - distance - through - off
}

describe('levels', () => {
  it('in the open are free space to half a decibel', () => {
    const g = grid(101, 1, 1)
    const levels = levelsOf(g, sender(0, 0), [], { coefficient: 20 })
    for (const x of [1, 10, 100])
      expect(Math.abs(levels[x]! - (20 - freeSpaceLossDb(5180, x)))).toBeLessThan(0.5)
  })
  it('lose a wall behind it and nothing before it or beside it', () => {
    const wall: Wall = { a: { x: 5.25, y: 2.75 }, b: { x: 5.25, y: 7.25 }, lossDb: 9 }
    const g = grid(21, 21)
    const losses = wallLosses(g, { x: 0.1, y: 5.1 }, [wall])
    const at = (x: number, y: number) => losses[(y / 0.5) * 21 + x / 0.5]
    expect([at(5, 5), at(5.5, 5), at(10, 5), at(10, 1), at(10, 10)]).toEqual([
      0, 9000, 9000, 9000, 0,
    ])
  })
  it('at any point of any place are those of that point alone, to a hundredth of a decibel', () => {
    const chance = chanceOf(7)
    const any = (most: number): number => chance.next() * most
    let compared = 0
    for (let place = 0; place < 200; place++) {
      const g: Grid = {
        x0: any(3) - 1,
        y0: any(3) - 1,
        stepM: 0.2 + any(1),
        columns: chance.between(1, 40),
        rows: chance.between(1, 40),
      }
      const walls = Array.from({ length: chance.between(0, 40) }, (): Wall => {
        const a = { x: any(30), y: any(30) }
        const isStraight = chance.happens(0.5)
        const b = isStraight
          ? chance.happens(0.5)
            ? { x: a.x, y: any(30) }
            : { x: any(30), y: a.y }
          : { x: any(30), y: any(30) }
        return { a, b, lossDb: chance.between(1, 40) / 2 }
      })
      const beam = chance.happens(0.3)
        ? { degrees: any(360), widthDegrees: 20 + any(100), frontToBackDb: 25 }
        : null
      const s = sender(any(30), any(30), { beam, aboveM: any(4), mhz: 2412 })
      const coefficient = 20 + any(15)
      const levels = levelsOf(g, s, walls, { coefficient })
      for (let row = 0; row < g.rows; row++)
        for (let column = 0; column < g.columns; column++) {
          const p = pointOf(g, column, row)
          const apart = Math.abs(
            levels[row * g.columns + column]! - byHand(s, p, walls, coefficient),
          )
          if (apart > 0.01) throw new Error(`place ${place}, ${column} ${row}: ${apart} dB apart`)
          compared++
        }
    }
    expect(compared).toBeGreaterThan(50_000)
  })
  it('of walls of no length, or looked along, lose nothing', () => {
    const g = grid(9, 9)
    const along: Wall = { a: { x: 1, y: 1 }, b: { x: 3, y: 1 }, lossDb: 10 }
    const nothing: Wall = { a: { x: 2, y: 2 }, b: { x: 2, y: 2 }, lossDb: 10 }
    expect(wallLosses(g, { x: 0, y: 1 }, [along, nothing]).every((l) => l === 0)).toBe(true)
  })
})

describe('an antenna with a direction', () => {
  const beam = { degrees: 90, widthDegrees: 60, frontToBackDb: 20 }
  it('is 3 dB down at the edges of its width, and at its back what the profile says', () => {
    expect(offBeamDb(beam, 1, 0)).toBeCloseTo(0, 9)
    const edge = (30 * Math.PI) / 180
    expect(offBeamDb(beam, Math.cos(edge), Math.sin(edge))).toBeCloseTo(3, 9)
    expect(offBeamDb(beam, -1, 0)).toBe(20)
  })
  it('is the same however often it is turned around', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -720, max: 720, noNaN: true }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        (degrees, towards) => {
          const [dx, dy] = [
            Math.sin((towards * Math.PI) / 180),
            -Math.cos((towards * Math.PI) / 180),
          ]
          const once = offBeamDb({ ...beam, degrees: ((degrees % 360) + 360) % 360 }, dx, dy)
          expect(offBeamDb({ ...beam, degrees }, dx, dy)).toBeCloseTo(once, 4)
        },
      ),
    )
  })
})
