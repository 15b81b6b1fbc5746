import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { siteModel } from '../../topology'
import { playDrawn, type Drawn } from './drawn'
import { watchedLines } from './siteOutlook'
import { timelineOf } from './timeline'

const [fibre, cellular] = watchedLines(siteModel(kittiwakeHarbour())) as [
  ReturnType<typeof watchedLines>[0],
  ReturnType<typeof watchedLines>[0],
]
const play = (drawn: Drawn[], until = 2000, line = fibre, chance = () => 0.5) =>
  playDrawn(line, cellular.coldSeconds, { kind: 'at-once' }, 1, drawn, until, 0.5, chance)

describe('drawn onto the axis', () => {
  it('nothing: the first line all the while', () =>
    expect(play([]).spans).toEqual([{ from: 0, to: 2000, by: 'first' }]))
  it('an outage is what a timeline of it says, at any moment and of any length', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.integer({ min: 1, max: 600 }),
        fc.boolean(),
        (phase, seconds, keepsSignal) => {
          const line = { ...fibre, keepsSignal }
          const one = timelineOf(line, cellular.coldSeconds, { kind: 'at-once' }, 1, seconds, phase)
          const played = playDrawn(
            line,
            cellular.coldSeconds,
            { kind: 'at-once' },
            1,
            // Just after nothing: what is sent at that very moment still gets its answer.
            [{ kind: 'outage', from: 0, seconds }],
            4000,
            phase,
            () => 0.5,
          )
          expect(played.downSeconds).toBeCloseTo(one.downSeconds, 6)
          if (one.overAt !== null && one.backAt !== null && one.backAt > one.overAt) {
            expect(played.switches).toBe(1)
            expect(played.spans.find((s) => s.by === 'second')!.from).toBeCloseTo(one.overAt, 6)
          }
        },
      ),
    )
  })
  it('a short brown-out costs the start-up of the modem, signal and all', () => {
    const played = play([{ kind: 'brown-out', from: 100, seconds: 1 }])
    // Left at once without a signal: 25 s for the standby and 1 s to go over.
    expect(played.spans.slice(0, 3)).toEqual([
      { from: 0, to: 100, by: 'first' },
      { from: 100, to: 126, by: 'none' },
      { from: 126, to: expect.any(Number), by: 'second' },
    ])
  })
  it('all lost for as long as the count is a switch for nothing, half of it is none', () => {
    const lost = (seconds: number, percent: number, chance: () => number) =>
      play([{ kind: 'loss', from: 100, seconds, percent }], 2000, fibre, chance)
    expect(lost(70, 100, () => 0.5)).toMatchObject({ switches: 1, returns: 1, downSeconds: 0 })
    expect(lost(40, 100, () => 0.5).switches).toBe(0)
    let n = 0
    expect(lost(600, 50, () => (n++ % 2 ? 0.9 : 0.1)).switches).toBe(0)
  })
  it('a line that comes and goes is left again and again by a gateway that goes by its signal', () => {
    const flapping: Drawn = { kind: 'flapping', from: 100, seconds: 600, everySeconds: 60 }
    const bySignal = play([flapping], 2000, { ...fibre, keepsSignal: false })
    expect(bySignal.switches).toBe(5)
    expect(bySignal.returns).toBe(5)
    // Twelve rounds of five seconds are never full.
    expect(play([{ ...flapping, everySeconds: 50 }]).switches).toBe(0)
  })
  it('spans cover the whole time, whatever is drawn', () => {
    const any = fc.record({
      kind: fc.constantFrom('outage', 'loss', 'flapping', 'brown-out'),
      from: fc.integer({ min: 0, max: 900 }),
      seconds: fc.integer({ min: 0, max: 900 }),
      percent: fc.integer({ min: 0, max: 100 }),
      everySeconds: fc.integer({ min: 0, max: 100 }),
    }) as fc.Arbitrary<Drawn>
    fc.assert(
      fc.property(fc.array(any, { maxLength: 6 }), (drawn) => {
        const { spans, downSeconds } = play(drawn, 1000)
        expect(spans[0]!.from).toBe(0)
        expect(spans.at(-1)!.to).toBe(1000)
        for (const [i, s] of spans.entries()) if (i > 0) expect(s.from).toBe(spans[i - 1]!.to)
        expect(downSeconds).toBeLessThanOrEqual(1000)
      }),
    )
  })
})
