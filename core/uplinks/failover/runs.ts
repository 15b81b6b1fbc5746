/**
 * Runs of failed and good rounds of tests on a line whose loss comes in two states: how long until
 * so many in a row, and in which state that leaves it. Exact, by the Markov chain of state and
 * count; the chain is solved without subtractions, so that very small chances stay exact.
 *
 * With one state alone the mean is Feller's (1 - p^N) / (p^N (1 - p)) (An Introduction to
 * Probability Theory and Its Applications, XIII.7).
 */

/** A pair of numbers, one for each state of the line: good, bad. */
export type Pair = readonly [number, number]
type Square = readonly [Pair, Pair]

/** A line seen at the rounds of its tests. */
export interface RoundChain {
  /** Chance to be in the other state at the next round, from good and from bad. */
  readonly change: Pair
  /** Chance that a round fails in each state. */
  readonly fails: Pair
}
/** From each state after a round: rounds until the run is there, and the state it leaves. */
export interface RunTime {
  /** Mean number of rounds; Infinity where it never comes. */
  readonly rounds: Pair
  /** Chance of each state when the run is complete, by the state before it. */
  readonly ends: Square
}

const times = (a: Square, b: Square): Square => [
  [a[0][0] * b[0][0] + a[0][1] * b[1][0], a[0][0] * b[0][1] + a[0][1] * b[1][1]],
  [a[1][0] * b[0][0] + a[1][1] * b[1][0], a[1][0] * b[0][1] + a[1][1] * b[1][1]],
]
const onto = (a: Square, v: Pair): Pair => [
  a[0][0] * v[0] + a[0][1] * v[1],
  a[1][0] * v[0] + a[1][1] * v[1],
]
/**
 * Mean rounds until `length` rounds in a row came out one way.
 * @param length at least 1
 * @param way whether a run of failed or of good rounds
 */
export function runTime(chain: RoundChain, length: number, way: 'failed' | 'good'): RunTime {
  const hit: Pair = way === 'failed' ? chain.fails : [1 - chain.fails[0], 1 - chain.fails[1]]
  const miss: Pair = way === 'failed' ? [1 - hit[0], 1 - hit[1]] : chain.fails
  const [toBad, toGood] = chain.change
  const [stayGood, stayBad] = [1 - toBad, 1 - toGood]
  // Attempts: each goes on until a round comes out the other way, or the run is complete. By
  // numbers and not by matrices, for it is gone through thousands of times.
  const [h00, h01, h10, h11] = [
    stayGood * hit[0],
    toBad * hit[1],
    toGood * hit[0],
    stayBad * hit[1],
  ]
  const [m00, m01, m10, m11] = [
    stayGood * miss[0],
    toBad * miss[1],
    toGood * miss[0],
    stayBad * miss[1],
  ]
  let [c00, c01, c10, c11] = [1, 0, 0, 1]
  let [b00, b01, b10, b11] = [0, 0, 0, 0]
  let [r0, r1] = [0, 0]
  for (let i = 0; i < length; i++) {
    r0 += c00 + c01
    r1 += c10 + c11
    b00 += c00 * m00 + c01 * m10
    b01 += c00 * m01 + c01 * m11
    b10 += c10 * m00 + c11 * m10
    b11 += c10 * m01 + c11 * m11
    const [x, y] = [c00, c10]
    c00 = x * h00 + c01 * h10
    c01 = x * h01 + c01 * h11
    c10 = y * h00 + c11 * h10
    c11 = y * h01 + c11 * h11
  }
  const complete: Square = [
    [c00, c01],
    [c10, c11],
  ]
  const broken: Square = [
    [b00, b01],
    [b10, b11],
  ]
  const rounds: Pair = [r0, r1]
  const inverse = withoutSubtraction(broken, onto(complete, [1, 1]))
  return { rounds: bounded(onto(inverse, rounds)), ends: times(inverse, complete) }
}

/**
 * (1 - b)^-1 of a matrix whose rows and `leaves` add up to one each: with the rows' shortfall known,
 * nothing has to be subtracted.
 */
function withoutSubtraction(b: Square, leaves: Pair): Square {
  const [x, y] = [b[0][1], b[1][0]]
  const [d0, d1] = leaves
  const determinant = d0 * d1 + d0 * y + d1 * x
  return [
    [(d1 + y) / determinant, x / determinant],
    [y / determinant, (d0 + x) / determinant],
  ]
}
const bounded = ([a, b]: Pair): Pair => [
  Number.isFinite(a) ? a : Infinity,
  Number.isFinite(b) ? b : Infinity,
]

/** The share of rounds in each state, in the long run. */
export function standing({ change: [toBad, toGood] }: RoundChain): Pair {
  const sum = toBad + toGood
  return sum === 0 ? [1, 0] : [toGood / sum, toBad / sum]
}

/** A line that goes over and comes back, again and again, in the long run. */
export interface CycleTime {
  /** Mean rounds from coming back until so many failed in a row. */ readonly upRounds: number
  /** From going over until so many were good in a row. */ readonly awayRounds: number
  /** Chance of each state when it comes back. */ readonly atReturn: Pair
}
export const cycleTime = (chain: RoundChain, failures: number, successes: number): CycleTime =>
  cycleOf(chain, runTime(chain, failures, 'failed'), runTime(chain, successes, 'good'))

/** @param over the run that takes the line out of use; @param back the one that brings it back */
export function cycleOf(chain: RoundChain, over: RunTime, back: RunTime): CycleTime {
  // A run that never comes leaves no state behind.
  if (![...over.rounds, ...back.rounds].every(Number.isFinite)) {
    const settled = standing(chain)
    return {
      upRounds: mix(settled, over.rounds),
      awayRounds: mix(settled, back.rounds),
      atReturn: settled,
    }
  }
  const [[, toBad], [toGood]] = times(over.ends, back.ends)
  const sum = toBad + toGood
  const atReturn: Pair = sum === 0 ? standing(chain) : [toGood / sum, toBad / sum]
  const atSwitch: Pair = [
    atReturn[0] * over.ends[0][0] + atReturn[1] * over.ends[1][0],
    atReturn[0] * over.ends[0][1] + atReturn[1] * over.ends[1][1],
  ]
  return {
    upRounds: mix(atReturn, over.rounds),
    awayRounds: mix(atSwitch, back.rounds),
    atReturn,
  }
}
const mix = (weights: Pair, values: Pair): number =>
  (weights[0] === 0 ? 0 : weights[0] * values[0]) + (weights[1] === 0 ? 0 : weights[1] * values[1])

/**
 * The chance that `length` rounds in a row fail within so many rounds: all counts and states
 * stepped through, round by round.
 * @param from chance of each state at the round before the first
 */
export function runWithin(chain: RoundChain, length: number, rounds: number, from: Pair): number {
  if (length > rounds) return 0
  const [toBad, toGood] = chain.change
  const [failGood, failBad] = chain.fails
  // By the failed rounds in a row so far.
  let good = new Float64Array(length)
  let bad = new Float64Array(length)
  good[0] = from[0]
  bad[0] = from[1]
  let [nextGood, nextBad] = [new Float64Array(length), new Float64Array(length)]
  let done = 0
  for (let i = 0; i < rounds; i++) {
    nextGood.fill(0)
    nextBad.fill(0)
    for (let count = 0; count < length; count++) {
      const inGood = good[count]! * (1 - toBad) + bad[count]! * toGood
      const inBad = good[count]! * toBad + bad[count]! * (1 - toGood)
      nextGood[0]! += inGood * (1 - failGood)
      nextBad[0]! += inBad * (1 - failBad)
      if (count + 1 === length) done += inGood * failGood + inBad * failBad
      else {
        nextGood[count + 1]! += inGood * failGood
        nextBad[count + 1]! += inBad * failBad
      }
    }
    ;[good, nextGood] = [nextGood, good]
    ;[bad, nextBad] = [nextBad, bad]
  }
  return done
}
