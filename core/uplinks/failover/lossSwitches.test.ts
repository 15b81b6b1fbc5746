import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { chainOf } from './loss'
import { FLAP_SECONDS, lossSwitches } from './lossSwitches'
import { runWithin, type Pair, type RoundChain } from './runs'

const watch = {
  intervalSeconds: 5,
  answerSeconds: 1,
  failures: 3,
  successes: 4,
  linkLoss: 'at-once',
} as const
const lossy = (usual: number, bursts: Parameters<typeof chainOf>[0]['bursts'] = null) => ({
  targets: 1,
  need: 'any' as const,
  loss: { usual, bursts },
  watch,
})
const atOnce = { kind: 'at-once' } as const
const burst = { loss: 0.8, lengthSeconds: 120, apartSeconds: 7200 }

describe('what loss alone does', () => {
  it('without bursts no return is false, with them most of a year is', () => {
    expect(lossSwitches(lossy(0.05), atOnce).falseReturns).toBe(0)
    const { switches, falseReturns, flaps } = lossSwitches(lossy(0.001, burst), atOnce)
    expect(falseReturns).toBeGreaterThan(0)
    expect(falseReturns).toBeLessThan(switches)
    expect(flaps).toBeLessThan(switches)
  })
  it('a quiet time takes false returns and flapping away', () => {
    const line = lossy(0.001, burst)
    const quiet = lossSwitches(line, { kind: 'after-quiet', seconds: 300 })
    const at = lossSwitches(line, atOnce)
    expect(quiet.falseReturns).toBeLessThan(at.falseReturns / 100)
    expect(quiet.flaps).toBeLessThan(at.flaps)
  })
  it('by hand nobody comes back by mistake, without tests nothing is left', () => {
    const byHand = lossSwitches(lossy(0.2, burst), { kind: 'by-hand' })
    expect([byHand.falseReturns, byHand.flaps]).toEqual([0, 0])
    expect(lossSwitches({ ...lossy(0.2), watch: null }, atOnce).switches).toBe(0)
    expect(lossSwitches(lossy(0), atOnce)).toEqual({ switches: 0, falseReturns: 0, flaps: 0 })
    expect(lossSwitches(lossy(1), atOnce)).toEqual({ switches: 0, falseReturns: 0, flaps: 0 })
  })
  it('of rounds further apart than is looked there is none', () => {
    const slow = { ...watch, intervalSeconds: FLAP_SECONDS, failures: 2 }
    expect(lossSwitches({ ...lossy(0.3), watch: slow }, atOnce).flaps).toBe(0)
  })
})

describe('a run within so many rounds', () => {
  it('has the chance of all outcomes of all rounds in which it comes', () => {
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: 0, max: 1, noNaN: true }),
          fc.double({ min: 0, max: 1, noNaN: true }),
        ),
        fc.tuple(
          fc.double({ min: 0, max: 1, noNaN: true }),
          fc.double({ min: 0, max: 1, noNaN: true }),
        ),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 0, max: 6 }),
        (change, fails, bad, length, rounds) => {
          const chain: RoundChain = { change, fails }
          const from: Pair = [1 - bad, bad]
          expect(runWithin(chain, length, rounds, from)).toBeCloseTo(
            counted(chain, length, rounds, from),
            9,
          )
        },
      ),
    )
  })
})

/** Every path of states and outcomes, one by one. */
function counted(chain: RoundChain, length: number, rounds: number, from: Pair): number {
  const walk = (state: 0 | 1, run: number, left: number): number => {
    if (run === length) return 1
    if (left === 0) return 0
    let sum = 0
    for (const next of [0, 1] as const) {
      const moves = next === state ? 1 - chain.change[state] : chain.change[state]
      const p = chain.fails[next]
      sum += moves * (p * walk(next, run + 1, left - 1) + (1 - p) * walk(next, 0, left - 1))
    }
    return sum
  }
  return from[0] * walk(0, 0, rounds) + from[1] * walk(1, 0, rounds)
}
