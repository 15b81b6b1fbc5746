/**
 * Years of a site with two lines played event by event, beside a queue of as many events that do
 * nothing; all settings of the tests, beside one such play.
 */
import TinyQueue from 'tinyqueue'
import { chanceOf } from '@mast/core/generator'
import { siteModel } from '@mast/core/topology'
import { playYears, tune, watchedLines } from '@mast/core/uplinks'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { row, type Row } from './measure'

const YEARS = 1000
/** How often the tuner goes over its 840 settings: some ten thousand. */
const TIMES = 12

export function uplinks(): Row[] {
  const lines = watchedLines(siteModel(kittiwakeHarbour()))
  const back = { kind: 'at-once' } as const
  const chance = chanceOf(3)
  playYears(lines, back, 1, 20, () => chance.next())
  const start = performance.now()
  const { events } = playYears(lines, back, 1, YEARS, () => chance.next())
  const played = performance.now() - start

  // As many events, each asking for the next; a handful waits at any time.
  const queue = new TinyQueue<{ at: number; run: () => void }>([], (a, b) => a.at - b.at)
  let done = 0
  const push = (at: number): void => {
    queue.push({
      at,
      run: () => {
        done++
        push(at + 1)
      },
    })
  }
  for (let i = 0; i < 8; i++) push(i / 8)
  const from = performance.now()
  while (done < events) queue.pop()!.run()
  const empty = performance.now() - from

  const bounds = { seconds: 90, falseSwitchesAYear: 2 }
  // Warm, as what it is held against is.
  for (let i = 0; i < TIMES; i++) tune(lines, back, 1, bounds)
  const tuneStart = performance.now()
  for (let i = 0; i < TIMES; i++) tune(lines, back, 1, bounds)
  const tuned = performance.now() - tuneStart
  return [
    row({
      name: 'events of 1,000 site-years',
      value: (events / played) * 1000,
      unit: '/s',
      reference: 'empty events over the same queue, /s',
      referenceValue: (events / empty) * 1000,
      aim: 'at least a quarter',
      met: (r) => r >= 0.25,
    }),
    row({
      name: '10,000 settings of the tests',
      value: tuned,
      unit: 'ms',
      reference: 'one of them played for 1,000 years, ms',
      referenceValue: played,
      aim: 'at most a hundredth',
      met: (r) => r <= 0.01,
    }),
  ]
}
