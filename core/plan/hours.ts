/** Hours of the week as spans of minutes after Monday, 00:00, of the site's time zone. */
import type { Hours } from './schema'

export const WEEK_MINUTES = 7 * 1440
/** From the first minute up to the last, which no longer belongs to it. */
export interface WeekSpan {
  readonly first: number
  readonly end: number
}

/** In order, without overlaps; what runs beyond Sunday begins again on Monday. */
export function weekSpans({ days, fromMinute, toMinute }: Hours): WeekSpan[] {
  const length = toMinute > fromMinute ? toMinute - fromMinute : toMinute + 1440 - fromMinute
  return joined(
    days.flatMap((day): WeekSpan[] => {
      const first = (day - 1) * 1440 + fromMinute
      return first + length <= WEEK_MINUTES
        ? [{ first, end: first + length }]
        : [
            { first, end: WEEK_MINUTES },
            { first: 0, end: first + length - WEEK_MINUTES },
          ]
    }),
  )
}

export function joined(spans: readonly WeekSpan[]): WeekSpan[] {
  const out: { first: number; end: number }[] = []
  for (const s of [...spans].sort((a, b) => a.first - b.first)) {
    const top = out.at(-1)
    if (top && s.first <= top.end) top.end = Math.max(top.end, s.end)
    else out.push({ ...s })
  }
  return out
}

export const isInWeek = (spans: readonly WeekSpan[], minute: number): boolean =>
  spans.some((s) => minute >= s.first && minute < s.end)
/** Whether one set of hours lies within another; null is always. */
export function coversHours(wide: Hours | null, narrow: Hours | null): boolean {
  if (wide === null) return true
  const all = weekSpans(wide)
  return (narrow === null ? [{ first: 0, end: WEEK_MINUTES }] : weekSpans(narrow)).every((n) =>
    all.some((w) => w.first <= n.first && n.end <= w.end),
  )
}

/**
 * Moments that stand for all of the week among some hours: between two of them none begins or ends.
 */
export const tellingMinutes = (list: readonly Hours[]): number[] =>
  [
    ...new Set([
      0,
      ...list.flatMap((h) => weekSpans(h).flatMap((s) => [s.first, s.end % WEEK_MINUTES])),
    ]),
  ].sort((a, b) => a - b)

const dayNames = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
/** Of a minute of the day: 03:00. */
export const dayTime = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

/** "Mon to Fri 08:00-17:00". */
export const hoursWords = (h: Hours): string =>
  `${daysWords(h.days)} ${dayTime(h.fromMinute)}-${dayTime(h.toMinute)}`

/** The same of spans, days of the same hours together. */
export function weekWords(spans: readonly WeekSpan[]): string {
  const byHours = new Map<string, number[]>()
  for (const s of spans)
    for (let day = Math.floor(s.first / 1440); day * 1440 < s.end; day++) {
      const text = `${dayTime(Math.max(s.first - day * 1440, 0))}-${dayTime(Math.min(s.end - day * 1440, 1440))}`
      byHours.set(text, [...(byHours.get(text) ?? []), day + 1])
    }
  return [...byHours].map(([text, days]) => `${daysWords(days)} ${text}`).join(', ')
}

/** "Mon to Fri". */
export function daysWords(days: readonly number[]): string {
  const sorted = [...days].sort((a, b) => a - b)
  if (sorted.length === 7) return 'daily'
  const runs: number[][] = []
  for (const d of sorted) {
    const run = runs.at(-1)
    if (run && run.at(-1) === d - 1) run.push(d)
    else runs.push([d])
  }
  const name = (d: number): string => dayNames[d - 1]!
  return runs
    .map((r) => (r.length > 2 ? `${name(r[0]!)} to ${name(r.at(-1)!)}` : r.map(name).join(', ')))
    .join(', ')
}

/**
 * What a clock of the site shows at a moment, as a minute of its week.
 * @throws RangeError for a zone that is none
 */
export function weekMinuteAt(timeZone: string, at: Date): number {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone,
    weekday: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(at)
  const part = (type: string): string => parts.find((p) => p.type === type)!.value
  return (
    dayNames.indexOf(part('weekday')) * 1440 + Number(part('hour')) * 60 + Number(part('minute'))
  )
}

/** How far the clocks of a zone are ahead of UTC at a moment, min. */
export function utcOffsetMinutes(timeZone: string, at: Date): number {
  const difference =
    (weekMinuteAt(timeZone, at) - weekMinuteAt('UTC', at) + WEEK_MINUTES) % WEEK_MINUTES
  return difference > WEEK_MINUTES / 2 ? difference - WEEK_MINUTES : difference
}
