import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { backAfter, goodRounds, linkNoticed, overAfter, pathNoticed, type Watch } from './times'

const usual: Watch = {
  intervalSeconds: 5,
  answerSeconds: 0,
  failures: 12,
  successes: 4,
  linkLoss: 'at-once',
}

describe('a line that dies', () => {
  it('is noticed after interval times count at the most (common practice: 5 s x 12 = 60 s)', () => {
    expect(pathNoticed(usual)).toEqual({ best: 55, mean: 57.5, worst: 60 })
    expect(pathNoticed({ ...usual, answerSeconds: 2 })).toEqual({ best: 57, mean: 59.5, worst: 62 })
  })

  it('is noticed at once by its signal, or counted all the same: two schools', () => {
    expect(linkNoticed(usual)).toEqual({ best: 0, mean: 0, worst: 0 })
    expect(linkNoticed({ ...usual, linkLoss: 'counted' })).toEqual(pathNoticed(usual))
  })

  it('is left for a standby that has to start first', () => {
    expect(overAfter(pathNoticed(usual), { startSeconds: 25, switchSeconds: 1 })).toEqual({
      best: 81,
      mean: 83.5,
      worst: 86,
    })
  })

  it('comes back after 4 good rounds, 20 s at the most (common practice), once its modem is up', () => {
    expect(backAfter(usual, { kind: 'at-once' }, 0, 0)).toEqual({ best: 15, mean: 17.5, worst: 20 })
    expect(backAfter(usual, { kind: 'at-once' }, 120, 0)!.worst).toBe(140)
    expect(goodRounds(usual, { kind: 'after-quiet', seconds: 301 })).toBe(4 + 61)
    expect(backAfter(usual, { kind: 'by-hand' }, 0, 0)).toBeNull()
  })

  it('takes as long as it does when it is played at any moment', () => {
    fc.assert(
      fc.property(anyWatch, fc.double({ min: 0, max: 0.999999, noNaN: true }), (w, phase) => {
        // Rounds at whole intervals; it dies in the middle of two and is noticed by counting.
        const dies = (10 + phase) * w.intervalSeconds
        let failed = 0
        let round = 0
        for (; failed < w.failures; round++) {
          const at = round * w.intervalSeconds
          failed = at > dies ? failed + 1 : 0
        }
        const noticed = (round - 1) * w.intervalSeconds + w.answerSeconds - dies
        const { best, worst } = pathNoticed(w)
        expect(noticed).toBeGreaterThanOrEqual(best - 1e-6)
        expect(noticed).toBeLessThanOrEqual(worst + 1e-6)
      }),
    )
  })
})

const anyWatch: fc.Arbitrary<Watch> = fc
  .record({
    intervalSeconds: fc.double({ min: 0.5, max: 60, noNaN: true }),
    answers: fc.double({ min: 0, max: 1, noNaN: true }),
    failures: fc.integer({ min: 1, max: 20 }),
    successes: fc.integer({ min: 1, max: 20 }),
    linkLoss: fc.constantFrom('at-once' as const, 'counted' as const),
  })
  .map(({ answers, ...w }) => ({ ...w, answerSeconds: answers * w.intervalSeconds }))
