import { expect, it } from 'vitest'
import { chosenDuration, explainDuration, explainSeconds, formatDuration, roughDuration } from '.'

it('says a length of time to the minute, roughly, or as it was chosen', () => {
  const seconds = [0, 59, 61, 89, 90, 3600, 7199, 7200, 86_400, 90_000]
  expect(seconds.map(formatDuration)).toEqual([
    '0 s',
    '59 s',
    '1 min',
    '1 min',
    '2 min',
    '1 h 0 min',
    '2 h 0 min',
    '2 h 0 min',
    '24 h 0 min',
    '25 h 0 min',
  ])
  expect(seconds.map(roughDuration)).toEqual([
    '0 s',
    '59 s',
    '61 s',
    '89 s',
    '2 min',
    '60 min',
    '120 min',
    '2 h',
    '24 h',
    '25 h',
  ])
  expect([86_400, 172_800, 28_800, 1800, 5400].map(chosenDuration)).toEqual([
    '1 d',
    '2 d',
    '8 h',
    '30 min',
    '90 min',
  ])
})

it('reads a length of time with its unit, and what it writes itself', () => {
  const read = (text: string) => {
    const r = explainDuration(text)
    return r.ok ? r.value : r.reason
  }
  expect(['45 s', '30min', ' 8 h ', '1.5 d', '2 D'].map(read)).toEqual([
    45, 1800, 28_800, 129_600, 172_800,
  ])
  for (const text of ['8', '', 'h', '8 weeks', '-1 h', '8 h 5'])
    expect(read(text)).toBe('a number and its unit: 30 min, 8 h, 1 d')
  for (const seconds of [60, 1800, 5400, 28_800, 86_400, 172_800])
    expect(read(chosenDuration(seconds))).toBe(seconds)
})

it('takes a bare number for seconds where it can be nothing else', () => {
  expect(explainSeconds(' 62.5 ')).toEqual({ ok: true, value: 62.5 })
  expect(explainSeconds('2 min')).toEqual({ ok: true, value: 120 })
  for (const text of ['', 'soon', '-5']) expect(explainSeconds(text).ok).toBe(false)
})
