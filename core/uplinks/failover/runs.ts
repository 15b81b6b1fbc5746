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
const plus = (a: Square, b: Square): Square => [
  [a[0][0] + b[0][0], a[0][1] + b[0][1]],
  [a[1][0] + b[1][0], a[1][1] + b[1][1]],
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
  const next: Square = [
    [1 - toBad, toBad],
    [toGood, 1 - toGood],
  ]
  const through = (by: Pair): Square => [
    [next[0][0] * by[0], next[0][1] * by[1]],
    [next[1][0] * by[0], next[1][1] * by[1]],
  ]
  const [hits, misses] = [through(hit), through(miss)]
  // Attempts: each goes on until a round comes out the other way, or the run is complete.
  let complete: Square = [
    [1, 0],
    [0, 1],
  ]
  let broken: Square = [
    [0, 0],
    [0, 0],
  ]
  let rounds: Pair = [0, 0]
  for (let i = 0; i < length; i++) {
    const begun = onto(complete, [1, 1])
    rounds = [rounds[0] + begun[0], rounds[1] + begun[1]]
    broken = plus(broken, times(complete, misses))
    complete = times(complete, hits)
  }
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

/** Mean rounds of a line that goes over and comes back, again and again, in the long run. */
export interface CycleTime {
  /** From coming back until so many failed in a row. */ readonly upRounds: number
  /** From going over until so many were good in a row. */ readonly awayRounds: number
}
export function cycleTime(chain: RoundChain, failures: number, successes: number): CycleTime {
  const over = runTime(chain, failures, 'failed')
  const back = runTime(chain, successes, 'good')
  // A run that never comes leaves no state behind.
  if (![...over.rounds, ...back.rounds].every(Number.isFinite))
    return {
      upRounds: mix(standing(chain), over.rounds),
      awayRounds: mix(standing(chain), back.rounds),
    }
  const [[, toBad], [toGood]] = times(over.ends, back.ends)
  const sum = toBad + toGood
  const atStart: Pair = sum === 0 ? standing(chain) : [toGood / sum, toBad / sum]
  const atSwitch: Pair = [
    atStart[0] * over.ends[0][0] + atStart[1] * over.ends[1][0],
    atStart[0] * over.ends[0][1] + atStart[1] * over.ends[1][1],
  ]
  return { upRounds: mix(atStart, over.rounds), awayRounds: mix(atSwitch, back.rounds) }
}
const mix = (weights: Pair, values: Pair): number =>
  (weights[0] === 0 ? 0 : weights[0] * values[0]) + (weights[1] === 0 ? 0 : weights[1] * values[1])
