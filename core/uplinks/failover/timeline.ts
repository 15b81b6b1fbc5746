/** One outage as the gateway lives through it, round by round. */
import type { WatchedLine } from './watchedLine'
import { goodRounds, type Return } from './times'

export interface Round {
  /** s after the line died. */ readonly at: number
  readonly isGood: boolean
}
export interface Timeline {
  /** Those at the beginning of a very long outage. */ readonly rounds: readonly Round[]
  readonly failedRounds: number
  /** s after the line died; null where it does not come to it. */
  readonly noticedAt: number | null
  readonly overAt: number | null
  /** When the line has its signal again, and when it leads somewhere. */
  readonly mendedAt: number
  readonly startedAt: number
  readonly backAt: number | null
  /** Without any way out, s. */
  readonly downSeconds: number
}
/** More rounds than are drawn. */
const MOST_ROUNDS = 2000

/**
 * @param first the line that dies; what is tested behind its modem, or its signal
 * @param coldSeconds until the other line leads anywhere
 * @param phase how far the round before has gone when it dies, 0 to 1
 */
export function timelineOf(
  first: WatchedLine,
  coldSeconds: number,
  back: Return,
  switchSeconds: number,
  outageSeconds: number,
  phase: number,
): Timeline {
  const { watch, keepsSignal, startSeconds } = first
  const mendedAt = outageSeconds
  const startedAt = outageSeconds + startSeconds
  // By the signal alone: it is left and gone back to as the signal goes and comes.
  if (!watch || (keepsSignal && first.targets === 0)) {
    const overAt = keepsSignal ? null : coldSeconds + switchSeconds
    return {
      rounds: [],
      failedRounds: 0,
      noticedAt: keepsSignal ? null : 0,
      overAt,
      mendedAt,
      startedAt,
      backAt: keepsSignal || back.kind === 'by-hand' ? null : mendedAt + switchSeconds,
      downSeconds: Math.min(startedAt, overAt ?? Infinity),
    }
  }
  const rounds: Round[] = []
  let noticedAt = !keepsSignal && watch.linkLoss === 'at-once' ? 0 : null
  let [failed, good, failedRounds] = [0, 0, 0]
  let backAt: number | null = null
  const wanted = goodRounds(watch, back)
  for (let k = -2; ; k++) {
    const at = (k + 1 - phase) * watch.intervalSeconds
    // What was sent at the very moment still got its answer.
    const isBefore = at <= 0
    const isGood = isBefore || at >= startedAt
    if (rounds.length < MOST_ROUNDS) rounds.push({ at, isGood })
    if (isGood) {
      failed = 0
      good = isBefore ? 0 : good + 1
      if (!isBefore && (noticedAt === null || good === wanted)) {
        if (noticedAt !== null && back.kind !== 'by-hand') backAt = at + switchSeconds
        break
      }
    } else {
      failed++
      failedRounds++
      if (failed === watch.failures) noticedAt ??= at + watch.answerSeconds
    }
  }
  const overAt = noticedAt === null ? null : noticedAt + coldSeconds + switchSeconds
  return {
    rounds,
    failedRounds,
    noticedAt,
    overAt,
    mendedAt,
    startedAt,
    backAt,
    downSeconds: Math.min(startedAt, overAt ?? Infinity),
  }
}
