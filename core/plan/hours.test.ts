import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  coversHours,
  hoursWords,
  isInWeek,
  tellingMinutes,
  utcOffsetMinutes,
  WEEK_MINUTES,
  weekMinuteAt,
  weekSpans,
  weekWords,
  type Hours,
} from '.'

const hours = fc
  .record({
    days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
    fromMinute: fc.nat(1439),
    toMinute: fc.nat(1440),
  })
  .filter((h) => h.fromMinute !== h.toMinute)
/** Day by day, minute by minute. */
const holds = (h: Hours, minute: number): boolean => {
  const [day, at] = [Math.floor(minute / 1440) + 1, minute % 1440]
  if (h.fromMinute < h.toMinute)
    return h.days.includes(day) && at >= h.fromMinute && at < h.toMinute
  return (
    (h.days.includes(day) && at >= h.fromMinute) ||
    (h.days.includes(day === 1 ? 7 : day - 1) && at < h.toMinute)
  )
}

describe('hours of the week', () => {
  it('are the minutes that they say, over midnight and over the end of the week', () => {
    fc.assert(
      fc.property(
        hours,
        fc.nat(WEEK_MINUTES - 1),
        (h, minute) => isInWeek(weekSpans(h), minute) === holds(h, minute),
      ),
    )
  })
  it('stay as they are between the moments that tell', () => {
    fc.assert(
      fc.property(fc.array(hours, { maxLength: 3 }), fc.nat(WEEK_MINUTES - 1), (list, minute) => {
        const before = tellingMinutes(list)
          .filter((m) => m <= minute)
          .at(-1)!
        return list.every((h) => holds(h, before) === holds(h, minute))
      }),
    )
  })
  it('cover others where every minute of those is theirs', () => {
    fc.assert(
      fc.property(
        hours,
        hours,
        (a, b) =>
          coversHours(a, b) === tellingMinutes([a, b]).every((m) => !holds(b, m) || holds(a, m)),
      ),
    )
    expect([
      coversHours(null, null),
      coversHours(null, { days: [1], fromMinute: 0, toMinute: 60 }),
      coversHours({ days: [1], fromMinute: 0, toMinute: 60 }, null),
      coversHours({ days: [1, 2, 3, 4, 5, 6, 7], fromMinute: 0, toMinute: 1440 }, null),
    ]).toEqual([true, true, false, true])
  })
  it.each([
    [{ days: [1, 2, 3, 4, 5], fromMinute: 480, toMinute: 1020 }, 'Mon to Fri 08:00-17:00'],
    [{ days: [6, 7], fromMinute: 1320, toMinute: 360 }, 'Sat, Sun 22:00-06:00'],
    [{ days: [1, 2, 3, 4, 5, 6, 7], fromMinute: 0, toMinute: 1440 }, 'daily 00:00-24:00'],
  ])('read as people say them: %j', (h, words) => expect(hoursWords(h)).toBe(words))
  it('read day by day where they are put together', () => {
    expect(weekWords(weekSpans({ days: [7], fromMinute: 1320, toMinute: 360 }))).toBe(
      'Mon 00:00-06:00, Sun 22:00-24:00',
    )
  })
  it('are by the clocks of a place, summer and winter', () => {
    // Clocks of the tz database: London is an hour ahead of UTC in July, Kolkata five and a half
    // always, Los Angeles eight behind in January.
    const [summer, winter] = [new Date('2026-07-06T12:00:00Z'), new Date('2026-01-05T12:00:00Z')]
    expect([weekMinuteAt('Europe/London', summer), weekMinuteAt('Europe/London', winter)]).toEqual([
      780, 720,
    ])
    expect(
      [
        ['Europe/London', summer],
        ['Asia/Kolkata', winter],
        ['America/Los_Angeles', winter],
        ['UTC', summer],
      ].map(([zone, at]) => utcOffsetMinutes(zone as string, at as Date)),
    ).toEqual([60, 330, -480, 0])
  })
})
