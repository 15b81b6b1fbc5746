import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { stepOf, type Step } from '../step'
import { SteadyClock } from './steadyClock'
import { waitsOf, type Waited } from './waits'

const step = (id: string, needs: string[], more: Partial<Step> = {}): Step =>
  stepOf({ id, kind: id, title: `Do ${id}`, ...more, needs })
const sheet = [
  step('load', [], {
    waitSeconds: 600,
    whileWaiting: 'Leave it.',
    ifExceeded: 'Look at its lamp.',
  }),
  step('hang', [], { waitSeconds: 90 }),
  step('seen', ['load'], {
    follows: { kind: 'device', deviceId: 'd', state: 'in-service' },
    ifExceeded: 'Read its report.',
  }),
  step('join', ['hang']),
]
const T = 1_000_000
const done = (stepId: string, seconds: number, at = T): Waited => ({
  stepId,
  doneMs: at,
  readyMs: at + seconds * 1000,
})

describe('waits', () => {
  it('run side by side, named, the next to end first', () => {
    const list = waitsOf(sheet, [done('load', 600), done('hang', 90)], T + 30_000)
    expect(list.map((w) => [w.title, w.leftSeconds, w.next])).toEqual([
      ['Do hang', 60, 'Do join'],
      ['Do load', 570, 'Do seen'],
    ])
    expect(list[1]!.whileWaiting).toBe('Leave it.')
  })
  it('stay when they are over until what they were for is done, and go then', () => {
    const both = [done('load', 600), done('hang', 90)]
    expect(waitsOf(sheet, both, T + 100_000).map((w) => [w.stepId, w.overSeconds])).toEqual([
      ['load', 0],
      ['hang', 10],
    ])
    const joined = [...both, done('join', 0)]
    expect(waitsOf(sheet, joined, T + 100_000).map((w) => w.stepId)).toEqual(['load'])
  })
  it('say what to look at once the longest usual time is over, of what ticks itself', () => {
    const at = (s: number): string | null =>
      waitsOf(sheet, [done('load', 600)], T + s * 1000)[0]!.check
    expect([at(599), at(601), at(900)]).toEqual([null, null, null])
    expect(at(901)).toBe('Look at its lamp.')
    expect(waitsOf(sheet, [done('hang', 90)], T + 9_000_000)[0]!.check).toBeNull()
  })
  it('are not late while what they let begin waits for something else as well', () => {
    const both = [...sheet.slice(0, 2), { ...sheet[2]!, needs: ['load', 'hang'] }]
    const check = (...steps: Waited[]): string | null =>
      waitsOf(both, steps, T + 2_000_000).find((w) => w.stepId === 'load')!.check
    expect(check(done('load', 600))).toBeNull()
    expect(check(done('load', 600), done('hang', 90))).toBe('Look at its lamp.')
  })
  it('of no length, and of steps that are gone, are none', () =>
    expect(waitsOf(sheet, [done('load', 0), done('hang', -5), done('gone', 60)], T)).toEqual([]))
  it('are never longer than they were made, whatever the clock says', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3600 }), fc.integer(), (seconds, off) => {
        for (const w of waitsOf(sheet, [done('load', seconds)], T + off)) {
          expect(w.leftSeconds).toBeLessThanOrEqual(seconds)
          expect(w.leftSeconds).toBeGreaterThanOrEqual(0)
        }
      }),
    ))
})

describe('a clock that is set back', () => {
  it('goes on from where it was', () => {
    const clock = new SteadyClock()
    expect([100, 200, 50, 150, 160, 20].map((t) => clock.at(t))).toEqual([
      100, 200, 200, 300, 310, 310,
    ])
  })
  it('never goes back, and advances as the wall does otherwise', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1000, max: 1000 })), (moves) => {
        const clock = new SteadyClock()
        let wall = 0
        let before = clock.at(wall)
        for (const by of moves) {
          wall += by
          const now = clock.at(wall)
          expect(now - before).toBe(Math.max(0, by))
          before = now
        }
      }),
    ))
})
