import { expect, it } from 'vitest'
import { chosenDuration, formatDuration, roughDuration } from '.'

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
