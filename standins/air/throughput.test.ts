import { describe, expect, it } from 'vitest'
import { bestRateMbps } from '../../core/radio/rates'
import { passedOn, throughputMbps } from './throughput'

describe('throughput of the stand-ins', () => {
  it('grows with the level, shares the air, and ends at what a device can', () => {
    const at = (dbm: number, sharing = 1) => throughputMbps(dbm, 40, 2, sharing)
    for (let dbm = -90; dbm < -30; dbm++) expect(at(dbm + 1)).toBeGreaterThanOrEqual(at(dbm))
    expect(at(-30)).toBe(at(-20))
    expect(at(-50, 3)).toBeCloseTo(at(-50) / 3, 9)
  })
  it('lies about what the tables of the standard leave for data, by other means', () => {
    for (const [generation, dbm] of [
      [5, -70],
      [5, -60],
      [6, -55],
    ] as const) {
      const table = 0.6 * bestRateMbps({ generation, widthMhz: 40, streams: 2 }, dbm)
      const here = throughputMbps(dbm, 40, 2, 1)
      expect(here / table).toBeGreaterThan(0.5)
      expect(here / table).toBeLessThan(2.2)
    }
  })
  it('through an extender with one radio is half, with two the slower stretch', () => {
    expect(passedOn(100, 100, 1)).toBe(50)
    expect(passedOn(100, 60, 2)).toBe(60)
    expect(passedOn(100, 0, 2)).toBe(0)
  })
})
