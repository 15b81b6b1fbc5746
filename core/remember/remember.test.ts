import { expect, it } from 'vitest'
import { remembered, selected } from '.'

it('makes one answer for an object, whatever the answer is', () => {
  let made = 0
  const of = remembered((o: { n: number }) => {
    made++
    return o.n > 1 ? o.n : undefined
  })
  const [one, two] = [{ n: 1 }, { n: 2 }]
  expect([of(one), of(two), of(one), of(two)]).toEqual([undefined, 2, undefined, 2])
  expect(made).toBe(2)
})
it('gives the last answer again for other objects of the same parts, and builds on it', () => {
  const made: (string[] | undefined)[] = []
  const of = selected(
    (o: { a: object; b: string; note: string }) => [o.a, o.b],
    (o, last: string[] | undefined) => {
      made.push(last)
      return [o.b]
    },
  )
  const a = {}
  const first = of({ a, b: 'x', note: '1' })
  expect(of({ a, b: 'x', note: '2' })).toBe(first)
  const other = of({ a, b: 'y', note: '3' })
  expect(other).toEqual(['y'])
  expect(of({ a: {}, b: 'y', note: '3' })).not.toBe(other)
  expect(made).toEqual([undefined, ['x'], ['y']])
})
