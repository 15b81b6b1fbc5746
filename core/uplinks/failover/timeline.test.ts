import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { WatchedLine } from './watchedLine'
import { timelineOf } from './timeline'
import { backAfter, overAfter, pathNoticed } from './times'

const fibre: WatchedLine = {
  id: 'fibre',
  order: 0,
  weight: 1,
  failing: { id: 'fibre', timesAYear: 2, hours: 4 },
  parts: [],
  watch: { intervalSeconds: 5, answerSeconds: 2, failures: 12, successes: 4, linkLoss: 'at-once' },
  targets: 1,
  need: 'any',
  loss: { usual: 0, bursts: null },
  keepsSignal: true,
  startSeconds: 120,
  coldSeconds: 0,
}

it('is between what is reckoned as best and worst, at any moment of the round', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 0.999, noNaN: true }), (phase) => {
      const t = timelineOf(fibre, 25, { kind: 'at-once' }, 1, 3600, phase)
      const over = overAfter(pathNoticed(fibre.watch!), { startSeconds: 25, switchSeconds: 1 })
      const back = backAfter(fibre.watch!, { kind: 'at-once' }, 120, 1)!
      expect(t.overAt).toBeGreaterThanOrEqual(over.best - 1e-9)
      expect(t.overAt).toBeLessThanOrEqual(over.worst + 1e-9)
      expect(t.backAt! - t.mendedAt).toBeGreaterThanOrEqual(back.best - 1e-9)
      expect(t.backAt! - t.mendedAt).toBeLessThanOrEqual(back.worst + 1e-9)
      expect(t.downSeconds).toBe(t.overAt)
    }),
  )
})

it('takes longest just after a test, and least just before one', () => {
  const down = (phase: number): number =>
    timelineOf(fibre, 25, { kind: 'at-once' }, 1, 3600, phase).downSeconds
  expect(down(0)).toBe(60 + 2 + 25 + 1)
  expect(down(0.999)).toBeCloseTo(55 + 2 + 25 + 1, 1)
})

it('of an outage that is over before it is noticed has no switch', () => {
  const t = timelineOf({ ...fibre, startSeconds: 0 }, 25, { kind: 'at-once' }, 1, 30, 0.5)
  expect(t).toMatchObject({ noticedAt: null, overAt: null, backAt: null, downSeconds: 30 })
})

it('of a signal that is lost is noticed at once; with nothing that asks, never', () => {
  const seen = timelineOf({ ...fibre, keepsSignal: false }, 0, { kind: 'by-hand' }, 1, 300, 0.2)
  expect(seen).toMatchObject({ noticedAt: 0, overAt: 1, backAt: null })
  const bySignal = { ...fibre, watch: null, keepsSignal: false }
  expect(timelineOf(bySignal, 25, { kind: 'at-once' }, 1, 300, 0.2)).toMatchObject({
    noticedAt: 0,
    overAt: 26,
    backAt: 301,
    downSeconds: 26,
  })
  const blind = timelineOf({ ...fibre, watch: null }, 0, { kind: 'at-once' }, 1, 300, 0.2)
  expect(blind).toMatchObject({ overAt: null, downSeconds: 420 })
})

it('of a day comes back as well, though not every round is kept', () => {
  const day = 86_400
  const t = timelineOf(fibre, 25, { kind: 'at-once' }, 1, day, 0)
  expect(t.backAt! - day).toBeGreaterThan(120 + 15)
  expect(t.backAt! - day).toBeLessThan(120 + 20 + 2)
  expect(t.failedRounds).toBe((day + 120) / 5 - 1)
})
