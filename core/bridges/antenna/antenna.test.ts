import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { areaOf, ballastKg, exposureM, windN } from '../mount/load'
import { dishDiameterM, dishGainDbi, dishWidthDegrees } from './gain'
import {
  firstSideLobe,
  firstZeroDegrees,
  offAimBothDb,
  offAimDb,
  polarisationLossDb,
  type Antenna,
} from './pattern'

const dish = (widthDegrees: number): Antenna => ({
  shape: 'dish',
  gainDbi: 30,
  widthDegrees,
  heightDegrees: widthDegrees,
  frontToBackDb: 45,
  crossPolarDb: 25,
  diameterM: 0.6,
})

/** The field of a round opening lit evenly, added up over strips: no Bessel function in it. */
function openingDb(diameterInWaves: number, degrees: number): number {
  const s = Math.sin((degrees * Math.PI) / 180)
  let [field, all] = [0, 0]
  const n = 20_000
  for (let i = 0; i < n; i++) {
    const x = -1 + (2 * (i + 0.5)) / n
    const strip = Math.sqrt(1 - x * x)
    field += strip * Math.cos(Math.PI * diameterInWaves * x * s)
    all += strip
  }
  return 20 * Math.log10(Math.abs(field / all))
}

describe('a dish', () => {
  it('has the gain and width of the handbooks: 0.9 m at 5.8 GHz', () => {
    expect(dishGainDbi(0.9, 5800)).toBeCloseTo(32.2, 1)
    expect(dishWidthDegrees(0.9, 5800)).toBeCloseTo(4, 1)
    expect(dishDiameterM(dishGainDbi(0.9, 5800), 5800)).toBeCloseTo(0.9, 9)
  })
  it('loses half at half of its width, and its first side lobe is 17.6 dB down', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.3, max: 20, noNaN: true }), (width) => {
        const a = dish(width)
        expect(offAimDb(a, width / 2)).toBeCloseTo(-3.01, 1)
        const lobe = firstSideLobe(a)
        expect(lobe.db).toBeCloseTo(17.57, 1)
        expect(offAimDb(a, lobe.degrees)).toBeCloseTo(-lobe.db, 6)
        expect(offAimDb(a, firstZeroDegrees(a))).toBeLessThan(-40)
      }),
    )
  })
  it('is the round opening of the theory: width 58.4 lambda / D, and the field over it added up', () => {
    const waves = 30
    const width = 2 * ((Math.asin(0.5145 / waves) * 180) / Math.PI)
    expect(width).toBeCloseTo(58.9 / waves, 1)
    const a = dish(width)
    for (const share of [0.1, 0.3, 0.5, 0.8, 1.4, 1.59, 1.8])
      expect(offAimDb(a, share * width)).toBeCloseTo(openingDb(waves, share * width), 1)
  })
  it('never hears less than it does backwards', () => {
    expect(offAimDb({ ...dish(8), frontToBackDb: 20 }, 120)).toBeGreaterThanOrEqual(-20)
  })
})

describe('other antennas', () => {
  it('a sector is 3 dB down at the edges of its beam, one all around nowhere', () => {
    const sector: Antenna = { ...dish(90), shape: 'sector', heightDegrees: 9 }
    expect(offAimBothDb(sector, 45, 0)).toBeCloseTo(-3, 6)
    expect(offAimBothDb(sector, 0, 4.5)).toBeCloseTo(-3, 6)
    expect(offAimBothDb({ ...sector, shape: 'around' }, 170, 0)).toBeCloseTo(0, 9)
  })
  it('polarisation: alike nothing, one of both half, the other one what the antenna separates', () => {
    expect(polarisationLossDb('vertical', 'vertical', 25)).toBe(0)
    expect(polarisationLossDb('both', 'vertical', 25)).toBe(3)
    expect(polarisationLossDb('horizontal', 'vertical', 25)).toBe(25)
  })
})

describe('wind and people', () => {
  it('F = 0.5 x 1.25 x v^2 x 1.4 x A: 40 m/s and 0.9 m are 891 N', () => {
    expect(windN(40, areaOf(0.9))).toBeCloseTo(891, 0)
  })
  it('36 dBm keep people 0.18 m away (ICNIRP 2020)', () => {
    expect(exposureM(36)).toBeCloseTo(0.18, 2)
  })
  it('ballast holds against sliding and tipping', () => {
    expect(ballastKg(100, 0.1)).toBeCloseTo(100 / 0.4 / 9.81, 6)
    expect(ballastKg(100, 2)).toBeCloseTo((100 * 2) / 0.5 / 9.81, 6)
  })
})
