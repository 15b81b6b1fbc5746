/**
 * How long it takes to notice that a line is dead, to go over to another, and to come back. Rounds
 * of tests begin every interval; a line dies at any moment between two of them. A round that gets
 * no answer is known to have failed once the answer time is over; one that is answered counts at
 * once. What is in between is exact: interval times count (common practice: 5 s and 12 failures
 * are 60 s at the most, 4 successes 20 s).
 */

export interface Watch {
  readonly intervalSeconds: number
  /** How long an answer is waited for, s; not longer than the interval. */
  readonly answerSeconds: number
  /** Failed rounds in a row that take the line out of use. */
  readonly failures: number
  /** Good rounds in a row that bring it back. */
  readonly successes: number
  /** A socket without a signal is dead at once, or counted like a test that failed. */
  readonly linkLoss: 'at-once' | 'counted'
}
/** s; `mean` over all moments at which it can happen. */
export interface Took {
  readonly best: number
  readonly mean: number
  readonly worst: number
}
const took = (best: number, mean: number, worst: number): Took => ({ best, mean, worst })
const later = (t: Took, seconds: number): Took =>
  took(t.best + seconds, t.mean + seconds, t.worst + seconds)

/** From the death of the path behind a socket that keeps its signal, until it is noticed. */
export const pathNoticed = (w: Watch): Took =>
  later(
    took(
      (w.failures - 1) * w.intervalSeconds,
      (w.failures - 0.5) * w.intervalSeconds,
      w.failures * w.intervalSeconds,
    ),
    w.answerSeconds,
  )
/** From the moment the signal of the socket is gone. */
export const linkNoticed = (w: Watch): Took =>
  w.linkLoss === 'at-once' ? took(0, 0, 0) : pathNoticed(w)

/** What stands ready to take over. */
export interface Standby {
  /** Until it leads somewhere, s; 0 of one that is always on. */
  readonly startSeconds: number
  /** Until the gateway sends by it, s. */
  readonly switchSeconds: number
}
/** Until traffic goes by the other line. */
export const overAfter = (noticed: Took, s: Standby): Took =>
  later(noticed, s.startSeconds + s.switchSeconds)

/** When a line that works again is used again. */
export type Return =
  | { readonly kind: 'at-once' }
  /** Good all the while. */
  | { readonly kind: 'after-quiet'; readonly seconds: number }
  | { readonly kind: 'by-hand' }

/** Good rounds in a row until it is used again. */
export const goodRounds = (w: Watch, back: Return): number =>
  w.successes + (back.kind === 'after-quiet' ? Math.ceil(back.seconds / w.intervalSeconds) : 0)

/**
 * From the moment the line has its signal again.
 * @param startSeconds until its modem leads anywhere, s
 * @returns null where somebody has to do it
 */
export function backAfter(
  w: Watch,
  back: Return,
  startSeconds: number,
  switchSeconds: number,
): Took | null {
  if (back.kind === 'by-hand') return null
  const rounds = goodRounds(w, back)
  return later(
    took(
      (rounds - 1) * w.intervalSeconds,
      (rounds - 0.5) * w.intervalSeconds,
      rounds * w.intervalSeconds,
    ),
    startSeconds + switchSeconds,
  )
}
