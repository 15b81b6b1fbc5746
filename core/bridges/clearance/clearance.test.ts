import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edgeLossDb, edgeNumber, edgesLoss, type Owned } from './edges'
import { bulgeM, fresnelRadiusM, tiltDegrees, unfavourableK, USUAL_K, wavelengthM } from './shape'

type Complex = readonly [re: number, im: number]
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c]
const exp = ([a, b]: Complex): Complex => [Math.exp(a) * Math.cos(b), Math.exp(a) * Math.sin(b)]
const size = ([a, b]: Complex): number => Math.hypot(a, b)

/** -20 log of |(1 + j) / 2 integral from v of exp(-j pi t^2 / 2)|, on the path turned by 45 degrees. */
function fresnelIntegralDb(v: number): number {
  const turn: Complex = [Math.SQRT1_2, -Math.SQRT1_2]
  const [steps, reach] = [20_000, 12]
  const ds = reach / steps
  let sum: Complex = [0, 0]
  for (let n = 0; n <= steps; n++) {
    const s = n * ds
    // t = v + s e^(-j pi/4): -j pi/2 t^2
    const t: Complex = [v + s * turn[0], s * turn[1]]
    const [re, im] = times(t, t)
    const e = exp([(Math.PI / 2) * im, (-Math.PI / 2) * re])
    const weight = n === 0 || n === steps ? 0.5 : 1
    sum = [sum[0] + weight * e[0], sum[1] + weight * e[1]]
  }
  const whole = times(times(sum, turn), [0.5 * ds, 0.5 * ds])
  return -20 * Math.log10(size(whole))
}

/** Two half planes one behind the other: Huygens' integral over both, on turned paths. */
function twoEdgesDb(h1: number, h2: number, a: number, b: number, c: number, lambda: number) {
  const beta = Math.PI / lambda
  const [p, q, r] = [beta * (1 / a + 1 / b), beta / b, beta * (1 / b + 1 / c)]
  const turn: Complex = [Math.SQRT1_2, -Math.SQRT1_2]
  const steps = 700
  const reach1 = 7 / Math.sqrt(p - (q * q) / r) + 2 * Math.abs(h1) + Math.abs(h2)
  const reach2 = 7 / Math.sqrt(r - (q * q) / p) + 2 * Math.abs(h2) + Math.abs(h1)
  let sum: Complex = [0, 0]
  for (let i = 0; i < steps; i++)
    for (let j = 0; j < steps; j++) {
      const [s1, s2] = [((i + 0.5) * reach1) / steps, ((j + 0.5) * reach2) / steps]
      const x: Complex = [h1 + s1 * turn[0], s1 * turn[1]]
      const y: Complex = [h2 + s2 * turn[0], s2 * turn[1]]
      const [xx, xy, yy] = [times(x, x), times(x, y), times(y, y)]
      const re = p * xx[0] - 2 * q * xy[0] + r * yy[0]
      const im = p * xx[1] - 2 * q * xy[1] + r * yy[1]
      const e = exp([im, -re])
      sum = [sum[0] + e[0], sum[1] + e[1]]
    }
  // Against all of it: pi / sqrt(p r - q^2) in size.
  const all = Math.PI / Math.sqrt(p * r - q * q)
  return -20 * Math.log10((size(sum) * ((reach1 * reach2) / steps ** 2)) / all)
}

const edge = (atM: number, topM: number, obstacle: number | null = 0): Owned => ({
  atM,
  topM,
  obstacle,
})
/** A k at which the Earth is as good as flat. */
const FLAT = 1e12

describe('the shape of a path', () => {
  it('Fresnel radius and bulge as in ITU-R P.526 and P.530', () => {
    expect(fresnelRadiusM(5800, 500, 500)).toBeCloseTo(3.6, 1)
    expect(bulgeM(5000, 5000, USUAL_K)).toBeCloseTo(1.47, 2)
    expect(fresnelRadiusM(5800, 0, 0)).toBe(0)
    expect(fresnelRadiusM(5800, 1000, -1e-13)).toBe(0)
  })
  it('the unfavourable k is less than usual, and grows with the length (ITU-R P.530 figure 2)', () => {
    expect(unfavourableK(30_000)).toBeCloseTo(0.6)
    expect(unfavourableK(100_000)).toBeCloseTo(0.85)
    fc.assert(
      fc.property(fc.double({ min: 1, max: 299_000, noNaN: true }), (d) => {
        const k = unfavourableK(d)
        return k >= 0.5 && k < USUAL_K && unfavourableK(d + 1000) >= k
      }),
    )
  })
  it('looks down on both sides of a flat and wide sea', () => {
    const [a, b] = [tiltDegrees(20, 20, 50_000), tiltDegrees(20, 20, 50_000)]
    expect(a).toBeLessThan(0)
    // Together both tilts are the angle that the path takes of the Earth.
    expect(a + b).toBeCloseTo(-((50_000 / (USUAL_K * 6_370_000)) * 180) / Math.PI, 4)
    expect(tiltDegrees(0, 100, 1000, FLAT)).toBeCloseTo(5.71, 2)
  })
})

describe('one edge', () => {
  it.each([
    [-0.78, 0],
    [0, 6.03],
    [1, 13.93],
    [2.4, 20.54],
  ])('J(%d) is %d dB (ITU-R P.526)', (v, db) => {
    expect(edgeLossDb(v)).toBeCloseTo(db, 2)
  })
  it('is what the Fresnel integral gives, integrated in numbers', () => {
    expect(fresnelIntegralDb(0)).toBeCloseTo(6.02, 2)
    for (let v = -0.7; v <= 4; v += 0.1)
      expect(Math.abs(edgeLossDb(v) - fresnelIntegralDb(v))).toBeLessThan(0.2)
  })
  it('counts how far it is above the line, over the bent Earth', () => {
    const from = { atM: 0, topM: 10 }
    const to = { atM: 10_000, topM: 10 }
    const mhz = 5800
    const flat = edgeNumber(edge(5000, 10), from, to, mhz, FLAT)
    expect(flat).toBeCloseTo(0, 5)
    expect(edgeNumber(edge(5000, 10), from, to, mhz, USUAL_K)).toBeCloseTo(
      (bulgeM(5000, 5000, USUAL_K) * Math.SQRT2) / fresnelRadiusM(mhz, 5000, 5000),
      5,
    )
  })
})

describe('several edges', () => {
  const mhz = 5800
  const lambda = wavelengthM(mhz)
  it('two that just touch the line: a third of the field, 9.5 dB, is known in closed form', () => {
    // 1/4 + asin(sqrt(a c / ((a + b) (b + c)))) / (2 pi) of the field.
    expect(twoEdgesDb(0, 0, 1000, 1000, 1000, lambda)).toBeCloseTo(-20 * Math.log10(1 / 3), 1)
    const from = { atM: 0, topM: 0 }
    const to = { atM: 3000, topM: 0 }
    const { totalDb } = edgesLoss([edge(1000, 0, 0), edge(2000, 0, 1)], from, to, mhz, FLAT)
    expect(totalDb).toBeCloseTo(-20 * Math.log10(1 / 3), 0)
  })
  it('is within 3 dB of the integral over both for two thin ones, wherever they stand', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 300, max: 2000 }),
        fc.integer({ min: 300, max: 2000 }),
        fc.integer({ min: 300, max: 2000 }),
        fc.double({ min: -3, max: 5, noNaN: true }),
        fc.double({ min: -3, max: 5, noNaN: true }),
        (a, b, c, h1, h2) => {
          const from = { atM: 0, topM: 0 }
          const to = { atM: a + b + c, topM: 0 }
          const edges = [edge(a, h1, 0), edge(a + b, h2, 1)]
          const { totalDb } = edgesLoss(edges, from, to, mhz, FLAT)
          expect(Math.abs(totalDb - twoEdgesDb(h1, h2, a, b, c, lambda))).toBeLessThan(3)
        },
      ),
      { numRuns: 12 },
    )
  })
  it('of one thing counts its worst edge; never less than that', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 4999 }), fc.integer({ min: -40, max: 40 })), {
          minLength: 1,
          maxLength: 12,
        }),
        (list) => {
          const from = { atM: 0, topM: 0 }
          const to = { atM: 5000, topM: 0 }
          const apart = list.map(([atM, topM], n) => edge(atM, topM, n))
          const asOne = list.map(([atM, topM]) => edge(atM, topM, 0))
          const one = edgesLoss(asOne, from, to, mhz, FLAT)
          expect(one.crossed.length).toBeLessThan(2)
          expect(edgesLoss(apart, from, to, mhz, FLAT).totalDb).toBeGreaterThanOrEqual(one.totalDb)
        },
      ),
    )
  })
  it('adds for round hills where ground is among several', () => {
    const from = { atM: 0, topM: 0 }
    const to = { atM: 20_000, topM: 0 }
    const thin = [edge(6000, 30, 0), edge(14_000, 30, 1)]
    const hills = thin.map((e) => ({ ...e, obstacle: null }))
    const [a, b] = [thin, hills].map((e) => edgesLoss(e, from, to, mhz, USUAL_K))
    expect(b!.totalDb - a!.totalDb).toBeCloseTo(b!.correctionDb, 9)
    expect(b!.correctionDb).toBeGreaterThan(9)
  })
})
