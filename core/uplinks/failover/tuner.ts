/** Settings of the tests: what each costs in time and in false alarms, and which does best. */
import { outlooksOf, type Outlook } from './outlook'
import type { Return, Watch } from './times'
import type { WatchedLine } from './watchedLine'

export interface Setting {
  readonly intervalSeconds: number
  readonly failures: number
}
export interface Tuned extends Setting {
  /** Until the other line is used, s, at the most. */ readonly worstSeconds: number
  readonly falseSwitchesAYear: number
  readonly totalMinutes: number
}
export interface Tuning {
  /** null where no setting keeps both bounds. */
  readonly best: Tuned | null
  /** Those that no other beats in both, the quickest first. */
  readonly curve: readonly Tuned[]
}

/** Tests that are set so; an answer is waited for no longer than until the next round. */
export const withSetting = <W extends Watch>(
  watch: W,
  { intervalSeconds, failures }: Setting,
): W => ({
  ...watch,
  intervalSeconds,
  failures,
  answerSeconds: Math.min(watch.answerSeconds, intervalSeconds),
})

const INTERVALS = [1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 30, 45, 60] as const
const MOST_FAILURES = 60

// By their fields, for there are hundreds: copies of whole objects take longer than the reckoning.
const tuned = ({ intervalSeconds, failures }: Setting, o: Outlook): Tuned => ({
  intervalSeconds,
  failures,
  worstSeconds: o.over?.worst ?? Infinity,
  falseSwitchesAYear: o.falseSwitchesAYear,
  totalMinutes: o.totalMinutes,
})

/**
 * @param lines in order, the first with its tests
 * @param bounds what the site lives with; null is no bound
 */
export function tune(
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
  bounds: { readonly seconds: number | null; readonly falseSwitchesAYear: number | null },
): Tuning {
  const [first, ...others] = lines
  if (!first?.watch || others.length === 0) return { best: null, curve: [] }
  const { watch } = first
  const outlook = outlooksOf(lines, back, switchSeconds)
  const all = INTERVALS.flatMap((intervalSeconds) =>
    Array.from({ length: MOST_FAILURES }, (_, n): Tuned => {
      const set: Watch = {
        intervalSeconds,
        failures: n + 1,
        answerSeconds: Math.min(watch.answerSeconds, intervalSeconds),
        successes: watch.successes,
        linkLoss: watch.linkLoss,
      }
      return tuned(set, outlook(set))
    }),
  )
  const kept = all.filter(
    (t) =>
      t.worstSeconds <= (bounds.seconds ?? Infinity) &&
      t.falseSwitchesAYear <= (bounds.falseSwitchesAYear ?? Infinity),
  )
  // The least time without a line; of equals the one that asks less often.
  const best = kept.reduce<Tuned | null>(
    (b, t) =>
      b === null ||
      t.totalMinutes < b.totalMinutes * (1 - 1e-6) ||
      (t.totalMinutes <= b.totalMinutes * (1 + 1e-6) && t.intervalSeconds > b.intervalSeconds)
        ? t
        : b,
    null,
  )
  const curve: Tuned[] = []
  for (const t of [...all].sort(
    (a, b) => a.worstSeconds - b.worstSeconds || a.falseSwitchesAYear - b.falseSwitchesAYear,
  ))
    if (t.falseSwitchesAYear < (curve.at(-1)?.falseSwitchesAYear ?? Infinity)) curve.push(t)
  return { best, curve }
}
