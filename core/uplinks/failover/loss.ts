/** Loss of a line, as its tests see it. */
import type { Pair, RoundChain } from './runs'

/**
 * Loss in two states (after Gilbert 1960 and Elliott 1963): a good one, and bursts in which more is
 * lost. A share of 0 to 1 of the tests that get no answer.
 */
export interface Loss {
  readonly usual: number
  /** null where loss does not come in bursts. */
  readonly bursts: {
    readonly loss: number
    /** Mean length of a burst, and mean time between two, s. */
    readonly lengthSeconds: number
    readonly apartSeconds: number
  } | null
}
/** How many of the targets have to answer. */
export type Need = 'any' | 'all' | number

/** @returns of `targets` how many have to answer; 1 to `targets` */
export const neededOf = (need: Need, targets: number): number =>
  need === 'any' ? 1 : need === 'all' ? targets : Math.min(Math.max(1, need), targets)

/**
 * The chance that a round fails: that fewer than are needed answer, each lost by itself
 * (binomial).
 */
export function roundFails(lost: number, targets: number, need: Need): number {
  const least = neededOf(need, targets)
  let sum = 0
  // Of the terms only those that are added: few answer.
  for (let answers = 0; answers < least; answers++)
    sum += choose(targets, answers) * (1 - lost) ** answers * lost ** (targets - answers)
  return Math.min(1, sum)
}
function choose(n: number, k: number): number {
  let out = 1
  for (let i = 1; i <= k; i++) out = (out * (n - k + i)) / i
  return out
}

/** The line at the rounds of its tests: its state as time goes on, looked at every interval. */
export function chainOf(
  loss: Loss,
  intervalSeconds: number,
  targets: number,
  need: Need,
): RoundChain {
  const usual = roundFails(loss.usual, targets, need)
  if (!loss.bursts) return { change: [0, 1], fails: [usual, usual] }
  const { lengthSeconds, apartSeconds } = loss.bursts
  const [begin, end] = [1 / apartSeconds, 1 / lengthSeconds]
  const settled = -Math.expm1(-(begin + end) * intervalSeconds)
  const change: Pair = [(begin / (begin + end)) * settled, (end / (begin + end)) * settled]
  return { change, fails: [usual, roundFails(loss.bursts.loss, targets, need)] }
}
