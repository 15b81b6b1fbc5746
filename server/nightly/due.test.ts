import { expect, it } from 'vitest'
import { dueDay } from './due'

it.each<[string, string, number, string, string | null]>([
  ['at its minute', 'UTC', 180, '2026-11-28T03:00:10Z', '2026-11-28'],
  ['within the hour', 'UTC', 180, '2026-11-28T03:59:00Z', '2026-11-28'],
  ['an hour later no more', 'UTC', 180, '2026-11-28T04:00:00Z', null],
  ['not before', 'UTC', 180, '2026-11-28T02:59:59Z', null],
  ['by the clocks of the site', 'Asia/Tokyo', 180, '2026-11-27T18:10:00Z', '2026-11-28'],
  ['of the day before, over midnight', 'UTC', 1439, '2026-11-28T00:05:00Z', '2026-11-27'],
])('%s', (_, zone, minute, now, day) => {
  expect(dueDay(zone, minute, new Date(now))).toBe(day)
})
