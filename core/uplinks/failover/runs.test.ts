import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { chainOf, neededOf, roundFails } from './loss'
import { cycleTime, runTime, standing, type RoundChain } from './runs'

const steady = (p: number): RoundChain => ({ change: [0, 1], fails: [p, p] })

describe('a run of failed rounds', () => {
  it.each([
    // Feller, An Introduction to Probability Theory and Its Applications, XIII.7
    [0.5, 2, 6],
    [0.5, 3, 14],
    [0.1, 3, 1110],
  ])('with a chance of %d comes %d in a row after %d rounds in the mean', (p, n, rounds) => {
    expect(runTime(steady(p), n, 'failed').rounds[0]).toBeCloseTo(rounds, 9)
  })

  it('is (1 - p^N) / (p^N (1 - p)) for any chance and length (Feller)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-6, max: 0.999, noNaN: true }),
        fc.integer({ min: 1, max: 20 }),
        (p, n) => {
          const { rounds } = runTime(steady(p), n, 'failed')
          const feller = -Math.expm1(n * Math.log(p)) / (p ** n * (1 - p))
          expect(rounds[0] / feller).toBeCloseTo(1, 8)
        },
      ),
    )
  })

  it('is solved the same way as the chain of all states and counts by elimination', () => {
    fc.assert(
      fc.property(
        anyChain,
        fc.integer({ min: 1, max: 6 }),
        fc.constantFrom('failed' as const, 'good' as const),
        (chain, n, way) => {
          const { rounds, ends } = runTime(chain, n, way)
          const slow = byElimination(chain, n, way)
          for (const s of [0, 1] as const) {
            expect(rounds[s] / slow.rounds[s]!).toBeCloseTo(1, 6)
            expect(ends[s][0] + ends[s][1]).toBeCloseTo(1, 8)
            expect(ends[s][1]).toBeCloseTo(slow.endsBad[s]!, 6)
          }
        },
      ),
    )
  })

  it('never comes without loss, and with nothing but loss at once', () => {
    expect(runTime(steady(0), 3, 'failed').rounds).toEqual([Infinity, Infinity])
    expect(runTime(steady(1), 3, 'failed').rounds).toEqual([3, 3])
    expect(runTime(steady(1), 3, 'good').rounds).toEqual([Infinity, Infinity])
    expect(cycleTime(steady(0), 12, 4)).toMatchObject({ upRounds: Infinity, awayRounds: 4 })
    expect(cycleTime(steady(1), 12, 4)).toMatchObject({ upRounds: 12, awayRounds: Infinity })
  })

  it('keeps its value where the chance is very small', () => {
    expect(runTime(steady(1e-12), 12, 'failed').rounds[0] / 1e144).toBeCloseTo(1, 9)
    expect(runTime(steady(0.001), 1000, 'failed').rounds[0]).toBe(Infinity)
  })
})

describe('going over and coming back, again and again', () => {
  it('agrees with playing it, with bursts and several targets', () => {
    const chain = chainOf(
      { usual: 0.05, bursts: { loss: 0.7, lengthSeconds: 20, apartSeconds: 200 } },
      5,
      2,
      'any',
    )
    const [failures, successes] = [3, 4]
    const { upRounds, awayRounds } = cycleTime(chain, failures, successes)
    const played = play(chain, failures, successes, 4_000_000)
    // Three times what chance alone makes of so many cycles.
    expect(Math.abs(played.up.mean - upRounds)).toBeLessThan(3.3 * played.up.error)
    expect(Math.abs(played.away.mean - awayRounds)).toBeLessThan(3.3 * played.away.error)
  })
})

describe('a round', () => {
  it('fails as often as fewer than are needed answer', () => {
    expect(roundFails(0.1, 1, 'any')).toBeCloseTo(0.1, 12)
    expect(roundFails(0.1, 3, 'any')).toBeCloseTo(0.001, 12)
    expect(roundFails(0.1, 3, 'all')).toBeCloseTo(1 - 0.9 ** 3, 12)
    // Two of three: fails with two or three lost.
    expect(roundFails(0.1, 3, 2)).toBeCloseTo(3 * 0.01 * 0.9 + 0.001, 12)
    expect([roundFails(0, 3, 2), roundFails(1, 3, 2)]).toEqual([0, 1])
    expect([neededOf('any', 3), neededOf('all', 3), neededOf(9, 3), neededOf(0, 3)]).toEqual([
      1, 3, 3, 1,
    ])
  })

  it('sees the state of the line as the chain of continuous time has it', () => {
    const loss = { usual: 0.01, bursts: { loss: 0.5, lengthSeconds: 30, apartSeconds: 270 } }
    // In the long run a tenth of the time is burst, whatever the interval; a long interval has
    // forgotten the state before.
    for (const interval of [0.1, 5, 600])
      expect(standing(chainOf(loss, interval, 1, 'any'))[1]).toBeCloseTo(0.1, 9)
    const [toBad, toGood] = chainOf(loss, 1e6, 1, 'any').change
    expect([toBad, toGood]).toEqual([expect.closeTo(0.1, 9), expect.closeTo(0.9, 9)])
  })
})

/** Where elimination with its subtractions still gives as many digits. */
const share = fc.double({ min: 0.1, max: 0.9, noNaN: true })
const anyChain: fc.Arbitrary<RoundChain> = fc.record({
  change: fc.tuple(share, share),
  fails: fc.tuple(share, share),
})

/** All states and counts as one set of linear equations, solved by elimination with pivots. */
function byElimination(chain: RoundChain, n: number, way: 'failed' | 'good') {
  const hit = way === 'failed' ? chain.fails : chain.fails.map((f) => 1 - f)
  const at = (state: number, count: number): number => state * n + count
  const solve = (value: (state: number, completes: boolean) => number, each: number): number[] => {
    const rows = Array.from({ length: 2 * n }, () => new Array<number>(2 * n + 1).fill(0))
    for (const s of [0, 1])
      for (let c = 0; c < n; c++) {
        const row = rows[at(s, c)]!
        row[at(s, c)]! += 1
        row[2 * n]! += each
        for (const t of [0, 1]) {
          const p = s === t ? 1 - chain.change[s]! : chain.change[s]!
          if (c + 1 < n) row[at(t, c + 1)]! -= p * hit[t]!
          else row[2 * n]! += p * hit[t]! * value(t, true)
          row[at(t, 0)]! -= p * (1 - hit[t]!)
        }
      }
    for (let i = 0; i < 2 * n; i++) {
      let best = i
      for (let j = i + 1; j < 2 * n; j++)
        if (Math.abs(rows[j]![i]!) > Math.abs(rows[best]![i]!)) best = j
      ;[rows[i], rows[best]] = [rows[best]!, rows[i]!]
      for (let j = 0; j < 2 * n; j++) {
        if (j === i) continue
        const f = rows[j]![i]! / rows[i]![i]!
        for (let k = i; k <= 2 * n; k++) rows[j]![k]! -= f * rows[i]![k]!
      }
    }
    return [0, 1].map((s) => rows[at(s, 0)]![2 * n]! / rows[at(s, 0)]![at(s, 0)]!)
  }
  return { rounds: solve(() => 0, 1), endsBad: solve((t) => t, 0) }
}

/** Rounds drawn one by one. */
function play(chain: RoundChain, failures: number, successes: number, rounds: number) {
  let seed = 7
  const chance = (): number => {
    seed = (Math.imul(seed ^ (seed >>> 15), 0x2c1b3c6d) + 0x9e3779b9) >>> 0
    let x = seed
    x = Math.imul(x ^ (x >>> 16), 0x85ebca6b)
    x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35)
    return ((x ^ (x >>> 16)) >>> 0) / 2 ** 32
  }
  const lengths = { up: [] as number[], away: [] as number[] }
  let [state, isUp, run, since] = [0, true, 0, 0]
  for (let i = 0; i < rounds; i++) {
    if (chance() < chain.change[state]!) state = 1 - state
    const failed = chance() < chain.fails[state]!
    since++
    run = failed === isUp ? run + 1 : 0
    if (run < (isUp ? failures : successes)) continue
    lengths[isUp ? 'up' : 'away'].push(since)
    isUp = !isUp
    run = 0
    since = 0
  }
  const of = (list: number[]) => {
    const mean = list.reduce((a, b) => a + b, 0) / list.length
    const variance = list.reduce((a, b) => a + (b - mean) ** 2, 0) / (list.length - 1)
    return { mean, error: Math.sqrt(variance / list.length) }
  }
  return { up: of(lengths.up), away: of(lengths.away) }
}
