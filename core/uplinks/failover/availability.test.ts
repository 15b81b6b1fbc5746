import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  availabilityOf,
  cutsOf,
  MOST_SHARED_PARTS,
  type Component,
  type LineParts,
} from './availability'

const at = (id: string, down: number): Component => ({ id, down })

describe('lines side by side', () => {
  it('of 0.99 each, by themselves, are 0.9999 together', () => {
    const lines = ['fibre', 'cellular'].map((id): LineParts => ({ own: at(id, 0.01), parts: [] }))
    const { allDown, byCoincidence } = availabilityOf(lines)
    expect(1 - allDown).toBeCloseTo(0.9999, 12)
    expect(byCoincidence).toBe(allDown)
    expect(cutsOf(lines)).toEqual([
      { ids: ['fibre', 'cellular'], down: expect.closeTo(0.0001, 12) },
    ])
  })

  it('are no better than the strip that feeds both modems', () => {
    const strip = at('strip', 0.001)
    const lines = [
      { own: at('fibre', 0.01), parts: [strip, at('duct', 0.002)] },
      { own: at('cellular', 0.01), parts: [strip] },
    ]
    const { allDown, byCoincidence } = availabilityOf(lines)
    expect(allDown).toBeGreaterThan(0.001)
    expect(byCoincidence).toBeCloseTo(0.999 * (1 - 0.99 * 0.998) * 0.01, 12)
    expect(cutsOf(lines).map((c) => c.ids)).toEqual([
      ['strip'],
      ['fibre', 'cellular'],
      ['duct', 'cellular'],
    ])
  })

  it('agree with all states of all their parts, and so does the union of the cuts', () => {
    fc.assert(
      fc.property(anyLines, (lines) => {
        const { allDown } = availabilityOf(lines)
        const cuts = cutsOf(lines)
        const components = [
          ...new Map(
            lines.flatMap((l) => [l.own, ...l.parts]).map((c) => [c.id, c] as const),
          ).values(),
        ]
        let [slow, byCuts] = [0, 0]
        for (let state = 0; state < 1 << components.length; state++) {
          const down = new Set(components.filter((_, i) => state & (1 << i)).map((c) => c.id))
          const chance = components.reduce((p, c) => p * (down.has(c.id) ? c.down : 1 - c.down), 1)
          if (lines.every((l) => [l.own, ...l.parts].some((c) => down.has(c.id)))) slow += chance
          if (cuts.some((c) => c.ids.every((id) => down.has(id)))) byCuts += chance
        }
        expect(allDown).toBeCloseTo(slow, 10)
        expect(byCuts).toBeCloseTo(slow, 10)
        // None of a cut could be left out.
        for (const cut of cuts)
          for (const id of cut.ids) {
            const less = cut.ids.filter((x) => x !== id)
            expect(lines.every((l) => [l.own, ...l.parts].some((c) => less.includes(c.id)))).toBe(
              false,
            )
          }
      }),
      { numRuns: 60 },
    )
  })

  it('without any line there is nothing, and lines that share everything are one', () => {
    expect(availabilityOf([]).allDown).toBe(1)
    const all = [at('mast', 0.1), at('provider', 0.05)]
    const both = availabilityOf([
      { own: at('a', 0), parts: all },
      { own: at('b', 0), parts: all },
    ])
    expect(both.allDown).toBeCloseTo(1 - 0.9 * 0.95, 12)
    expect(both.byCoincidence).toBe(0)
  })

  it('says so where more is shared than can be reckoned', () => {
    // What lies under one line alone is no trouble, however much it is.
    const alone = (id: string): LineParts => ({
      own: at(id, 0.01),
      parts: Array.from({ length: MOST_SHARED_PARTS }, (_, i) => at(`${id} ${i}`, 0.01)),
    })
    expect(availabilityOf([alone('a'), alone('b')]).allDown).toBeGreaterThan(0)
    const parts = Array.from({ length: MOST_SHARED_PARTS + 1 }, (_, i) => at(`p${i}`, 0.01))
    const lines = ['a', 'b'].map((id): LineParts => ({ own: at(id, 0.01), parts }))
    expect(() => availabilityOf(lines)).toThrow(/17 parts are shared/)
  })
})

const share = fc.oneof(fc.constant(0), fc.double({ min: 0, max: 0.4, noNaN: true }))
/** Up to four lines over up to five parts. */
const anyLines: fc.Arbitrary<LineParts[]> = fc
  .tuple(
    fc.array(share, { minLength: 5, maxLength: 5 }),
    fc.array(fc.record({ own: share, on: fc.integer({ min: 0, max: 31 }) }), {
      minLength: 1,
      maxLength: 4,
    }),
  )
  .map(([parts, lines]) =>
    lines.map(({ own, on }, n) => ({
      own: at(`line ${n}`, own),
      parts: parts.flatMap((down, i) => (on & (1 << i) ? [at(`part ${i}`, down)] : [])),
    })),
  )
