import fc from 'fast-check'
import { expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { applyEdits } from './edits'
import { shareUnchanged } from './share'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

it('gives a value equal to the second, whatever the two are', () => {
  fc.assert(
    fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
      const before = JSON.stringify(a)
      expect(shareUnchanged(a, b)).toEqual(b)
      expect(JSON.stringify(a)).toBe(before)
    }),
  )
})
it('gives the first itself where both are equal, whatever their keys are', () => {
  const odd = JSON.parse('{"valueOf":1,"constructor":{"toString":null},"__proto__":[0]}') as object
  expect(shareUnchanged(odd, copy(odd))).toBe(odd)
  expect(shareUnchanged({}, odd)).toEqual(odd)
  fc.assert(
    fc.property(
      fc.jsonValue().filter((x) => typeof x === 'object' && x !== null),
      (a) => {
        expect(shareUnchanged(a, copy(a))).toBe(a)
      },
    ),
  )
})
it('of a plan that came anew over the network only what an edit touched is another object', () => {
  const plan = kittiwakeHarbour()
  const [id] = Object.keys(plan.segments)
  const edited = applyEdits(plan, [
    { name: 'changeSegment', args: { id: id!, changes: { expectedHosts: 77 } } },
  ])
  const taken = shareUnchanged(plan, copy(edited))
  expect(taken).toEqual(edited)
  expect(
    Object.keys(taken).filter(
      (k) => taken[k as keyof typeof taken] !== plan[k as keyof typeof plan],
    ),
  ).toEqual(['segments'])
  expect(Object.keys(taken.segments).filter((s) => taken.segments[s] !== plan.segments[s])).toEqual(
    [id],
  )
})
