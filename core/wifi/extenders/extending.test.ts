import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { levelOf, percentOf } from '../../radio/decibels'
import { passedOn } from '../../../standins/air/throughput'
import {
  bestOutlets,
  marksDbm,
  standAt,
  throughMbps,
  withoutExtender,
  type ExtenderCase,
} from './extending'

const spoken = { generation: 5, widthMhz: 40, streams: 2 } as const
const along: ExtenderCase = {
  point: { at: { x: 0, y: 0 }, aboveM: 1, mhz: 5500, eirpDbm: 23, beam: null },
  pointSpoken: spoken,
  eirpDbm: 22,
  spoken,
  aboveM: 0.5,
  radios: 2,
  spot: { x: 48, y: 0 },
  client: spoken,
  walls: [{ a: { x: 30, y: -5 }, b: { x: 30, y: 5 }, lossDb: 9 }],
  law: { coefficient: 30 },
}

describe('a range extender', () => {
  it('with one radio halves what both stretches carry alike, with two the slower one rules', () => {
    expect(throughMbps(100, 100, 1)).toBe(50)
    expect(throughMbps(100, 40, 2)).toBe(40)
    expect(throughMbps(100, 0, 1)).toBe(0)
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 1000, noNaN: true }),
        fc.double({ min: 1, max: 1000, noNaN: true }),
        (a, b) => {
          expect(throughMbps(a, b, 1)).toBeCloseTo(passedOn(a, b, 1), 6)
          expect(throughMbps(a, b, 1)).toBeLessThan(Math.min(a, b))
          expect(throughMbps(a, b, 1)).toBeGreaterThanOrEqual(Math.min(a, b) / 2 - 1e-9)
        },
      ),
    )
  })
  it('is marked at 70, 65 and 50 %: -65, -67.5 and -75 dBm', () => {
    expect(marksDbm).toEqual([-65, -67.5, -75])
    expect(marksDbm.map(percentOf).map(levelOf)).toEqual(marksDbm)
  })
  it('before the wall brings more to the far spot than none, and behind it less than before it', () => {
    const before = withoutExtender(along)
    const near = standAt(along, { x: 28, y: 0 })
    const behind = standAt(along, { x: 40, y: 0 })
    expect(near.mbps).toBeGreaterThan(before.mbps)
    expect(near.percent).toBeGreaterThan(behind.percent)
    expect(near.toClientMbps).toBeLessThan(behind.toClientMbps)
  })
  it('goes to the outlet that its school lets through, the best of them first', () => {
    const outlets = [5, 15, 28, 40, 47].map((x) => ({ x, y: 0 }))
    for (const school of ['two-stage', 'half'] as const) {
      const list = bestOutlets(along, outlets, school)
      expect(list).toHaveLength(outlets.length)
      const first = list.findIndex((o) => !o.isLetThrough)
      const ok = list.slice(0, first < 0 ? list.length : first)
      expect(ok.every((o) => o.isLetThrough)).toBe(true)
      expect(ok.length).toBeGreaterThan(0)
      expect(Math.max(...ok.map((o) => o.mbps))).toBe(ok[0]!.mbps)
    }
    const strict = bestOutlets(along, outlets, 'two-stage').filter((o) => o.isLetThrough).length
    expect(
      bestOutlets(along, outlets, 'half').filter((o) => o.isLetThrough).length,
    ).toBeGreaterThanOrEqual(strict)
  })
})
