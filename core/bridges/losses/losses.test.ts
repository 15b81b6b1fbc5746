import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fadingOccurrence, fadingWorstMonth, fadingYear } from './fading'
import { gasDbKm } from './gas'
import { effectiveShare, rainCoefficients, rainLossAt, rainLossDb, rainPercent } from './rain'

describe('rain', () => {
  // ITU-R P.838-3, printed values.
  it.each([
    [10_000, 'horizontal', 0.01217, 1.2571],
    [10_000, 'vertical', 0.01129, 1.2156],
    [20_000, 'horizontal', 0.09164, 1.0568],
    [20_000, 'vertical', 0.09611, 0.9847],
    [60_000, 'horizontal', 0.8606, 0.7656],
    [60_000, 'vertical', 0.8515, 0.7486],
  ] as const)('%d MHz %s: k %d, alpha %d', (mhz, polarisation, k, alpha) => {
    const of = rainCoefficients(mhz, polarisation)
    expect(of.k / k).toBeCloseTo(1, 2)
    expect(of.alpha).toBeCloseTo(alpha, 3)
  })
  it('takes nothing of a dry or a short way, and nothing is said outside 1 to 1,000 GHz', () => {
    expect(rainLossDb(60_000, 0, 30, 'both')).toBe(0)
    expect(rainLossDb(60_000, 420, 0, 'both')).toBe(0)
    expect(rainLossDb(900, 420, 30, 'both')).toBeNull()
    expect(rainLossDb(1_100_000, 420, 30, 'both')).toBeNull()
  })
  it('counts no more than 2.5 of a short way, and less of a long one (ITU-R P.530)', () => {
    expect(effectiveShare(60_000, 100, 30, 0.77)).toBe(2.5)
    expect(effectiveShare(11_000, 40_000, 30, 1.2)).toBeLessThan(0.6)
  })
  it('goes from 0.01 % to other shares of the year, and back (ITU-R P.530)', () => {
    // From memory of the recommendation: at 0.01 % the ratio is 1, at 0.1 % about 0.38, at 1 % about 0.11.
    expect(rainLossAt(0.01, 1, 20_000)).toBeCloseTo(1, 1)
    expect(rainLossAt(0.1, 1, 9000)).toBeCloseTo(0.38, 1)
    expect(rainLossAt(1, 1, 9000)).toBeCloseTo(0.11, 2)
    fc.assert(
      fc.property(
        fc.double({ min: 2000, max: 100_000, noNaN: true }),
        fc.double({ min: -2.99, max: -0.01, noNaN: true }),
        fc.double({ min: 1, max: 60, noNaN: true }),
        (mhz, log, worst) => {
          const percent = 10 ** log
          expect(rainPercent(rainLossAt(percent, worst, mhz), worst, mhz) / percent).toBeCloseTo(
            1,
            3,
          )
        },
      ),
    )
  })
})

describe('gases (ITU-R P.676)', () => {
  it('oxygen takes about 15 dB/km at 60 GHz', () => {
    expect(gasDbKm(60_000)!).toBeGreaterThan(14.5)
    expect(gasDbKm(60_000)!).toBeLessThan(15.6)
  })
  it('next to nothing at 5 GHz, about 0.2 dB/km at the line of water, less beside it', () => {
    expect(gasDbKm(5600)!).toBeLessThan(0.01)
    expect(gasDbKm(22_235)!).toBeGreaterThan(0.15)
    expect(gasDbKm(22_235)!).toBeLessThan(0.25)
    expect(gasDbKm(30_000)!).toBeLessThan(gasDbKm(22_235)!)
  })
  it('runs on without a step where one formula follows another, and ends at 120 GHz', () => {
    for (const ghz of [54, 60, 62, 66])
      expect(gasDbKm(ghz * 1000 - 1)! / gasDbKm(ghz * 1000 + 1)!).toBeCloseTo(1, 1)
    expect(gasDbKm(121_000)).toBeNull()
  })
})

describe('fading (ITU-R P.530)', () => {
  const path = {
    metres: 40_000,
    mhz: 6000,
    heightAM: 100,
    heightBM: 140,
    climate: 'temperate',
  } as const
  it('ten dB more margin, ten times rarer, for deep fades', () => {
    const p0 = fadingOccurrence(path)
    expect(fadingWorstMonth(40, p0) / fadingWorstMonth(50, p0)).toBeCloseTo(10, 6)
  })
  it('meets the curve of shallow fades without a step, and falls all the way', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 300, noNaN: true }), (p0) => {
        const from = 25 + 1.2 * Math.log10(p0)
        expect(fadingWorstMonth(from - 0.01, p0) / fadingWorstMonth(from + 0.01, p0)).toBeCloseTo(
          1,
          1,
        )
        let before = 100
        for (let a = 0.5; a < 50; a += 0.5) {
          const now = fadingWorstMonth(a, p0)
          expect(now).toBeLessThanOrEqual(before + 1e-9)
          before = now
        }
      }),
    )
  })
  it('the formula done by hand: 40 km, 6 GHz, 100 and 140 m', () => {
    // K = 10^(-4.6 + 0.54), e = 1 mrad
    const k = 10 ** -4.06
    expect(fadingOccurrence(path)).toBeCloseTo(
      k * 40 ** 3.1 * 2 ** -1.29 * 6 ** 0.8 * 10 ** -0.089,
      6,
    )
  })
  it('where it fades all the time, deep fades are as rare as waves by eight ways make them', () => {
    // Added up one by one, from a seed: the deep tail of such a sum is Rayleigh's.
    let state = 12_345
    const random = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647
    const [ways, tries] = [8, 300_000]
    const under = { 20: 0, 25: 0 }
    for (let n = 0; n < tries; n++) {
      let [re, im] = [0, 0]
      for (let w = 0; w < ways; w++) {
        const phase = 2 * Math.PI * random()
        re += Math.cos(phase)
        im += Math.sin(phase)
      }
      const db = -10 * Math.log10((re * re + im * im) / ways)
      if (db > 20) under[20]++
      if (db > 25) under[25]++
    }
    const percent = (n: number): number => (100 * n) / tries
    // The curve of the recommendation leaves Rayleigh's by a fifth at 20 dB and meets it deeper down.
    expect(fadingWorstMonth(20, 100) / percent(under[20])).toBeGreaterThan(0.7)
    expect(fadingWorstMonth(20, 100) / percent(under[20])).toBeLessThan(1.1)
    expect(fadingWorstMonth(25, 100) / percent(under[25])).toBeGreaterThan(0.85)
    expect(fadingWorstMonth(25, 100) / percent(under[25])).toBeLessThan(1.15)
  })
  it('a year is less than its worst month', () => {
    expect(fadingYear(1, path, 57)).toBeLessThan(1)
    expect(fadingYear(1, { ...path, metres: 5000 }, 0)).toBeGreaterThan(10 ** -1.08 - 1e-9)
  })
})
