import fc from 'fast-check'
import { expect, it } from 'vitest'
import { caughtUp } from './useCatchUp'

interface Entry {
  readonly key: string
  readonly value: number
}
const row = fc.uniqueArray(fc.record({ key: fc.string({ maxLength: 2 }), value: fc.nat(3) }), {
  selector: (e) => e.key,
  maxLength: 30,
})
const keyOf = (e: Entry): string => e.key

it('gets there, replacing no more than a step at a time, and each entry once', () => {
  fc.assert(
    fc.property(
      row,
      fc.array(fc.nat(3), { minLength: 30, maxLength: 30 }),
      fc.integer({ min: 1, max: 7 }),
      (first, values, step) => {
        const wanted: readonly Entry[] = first.map((e, i) =>
          values[i] === e.value ? e : { key: e.key, value: values[i]! },
        )
        const differing = wanted.filter((e, i) => e !== first[i]).length
        let now: readonly Entry[] = first
        for (let turns = 1; now !== wanted; turns++) {
          const next = caughtUp(now, wanted, keyOf, step)
          expect(next.filter((e, i) => e !== now[i]).length).toBeLessThanOrEqual(step)
          expect(next.every((e, i) => e === first[i] || e === wanted[i])).toBe(true)
          expect(turns).toBeLessThanOrEqual(Math.max(1, Math.ceil(differing / step)))
          now = next
        }
      },
    ),
  )
})
it('is the other at once where entries come, go or change places', () => {
  const list = ['a', 'b', 'c'].map((key) => ({ key, value: 0 }))
  for (const wanted of [
    list.slice(1),
    [...list, { key: 'd', value: 0 }],
    [list[1]!, list[0]!, list[2]!],
    [],
  ])
    expect(caughtUp(list, wanted, keyOf, 1)).toBe(wanted)
})
