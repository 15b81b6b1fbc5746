/** One outage as the gateway lives through it, round by round. */
import type { WatchedLine } from './outlook'
import { goodRounds, type Return } from './times'

export interface Round {
  /** s after the line died. */ readonly at: number
  readonly isGood: boolean
}
export interface Timeline {
  readonly rounds: readonly Round[]
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
  const none = { rounds: [], noticedAt: null, overAt: null, backAt: null }
  const sees = first.targets > 0 || (!keepsSignal && watch?.linkLoss === 'counted')
  if (!watch || !(sees || !keepsSignal))
    return { ...none, mendedAt, startedAt, downSeconds: startedAt }
  const rounds: Round[] = []
  let noticedAt = !keepsSignal && watch.linkLoss === 'at-once' ? 0 : null
  let [failed, good] = [0, 0]
  let backAt: number | null = null
  const wanted = goodRounds(watch, back)
  for (let k = -2; rounds.length < MOST_ROUNDS; k++) {
    const at = (k + 1 - phase) * watch.intervalSeconds
    // What was sent at the very moment still got its answer.
    const isBefore = at <= 0
    const isGood = isBefore || at >= startedAt
    rounds.push({ at, isGood })
    if (isGood) {
      failed = 0
      good = isBefore ? 0 : good + 1
      if (!isBefore && (noticedAt === null || good === wanted)) {
        if (noticedAt !== null && back.kind !== 'by-hand') backAt = at + switchSeconds
        break
      }
    } else {
      failed++
      if (failed === watch.failures) noticedAt ??= at + watch.answerSeconds
    }
  }
  const overAt = noticedAt === null ? null : noticedAt + coldSeconds + switchSeconds
  return {
    rounds,
    noticedAt,
    overAt,
    mendedAt,
    startedAt,
    backAt,
    downSeconds: Math.min(startedAt, overAt ?? Infinity),
  }
}
