import fc from 'fast-check'
import { expect, it } from 'vitest'
import { holdsPort, isWithin, portsInWords, readPorts, tellingPorts, type PortSpan } from '.'

const span: fc.Arbitrary<PortSpan> = fc
  .tuple(fc.integer({ min: 1, max: 200 }), fc.nat(20))
  .map(([first, more]) => (more === 0 ? first : { first, last: first + more }))
const list = fc.array(span, { maxLength: 6 })

it('are read as people write them, and said so again', () => {
  expect(readPorts('443, 80 5000-5010')).toEqual({
    ok: true,
    ports: [443, 80, { first: 5000, last: 5010 }],
  })
  expect(portsInWords([443, 80, { first: 5000, last: 5010 }, 5011])).toBe('80, 443, 5000-5011')
  for (const [text, why] of [
    ['web', /'web' is no port/],
    ['0', /run from 1/],
    ['70000', /run from 1/],
    ['90-80', /ends before it begins/],
  ] as const)
    expect(readPorts(text)).toMatchObject({ ok: false, reason: expect.stringMatching(why) })
})
it('one after the other: what is read, said and read again is the same set; within means every port', () => {
  const all = Array.from({ length: 240 }, (_, p) => p)
  fc.assert(
    fc.property(list, list, (a, b) => {
      const again = readPorts(portsInWords(a))
      if (!again.ok) throw new Error(again.reason)
      expect(all.filter((p) => holdsPort(again.ports, p))).toEqual(
        all.filter((p) => holdsPort(a, p)),
      )
      expect(isWithin(a, b)).toBe(all.every((p) => !holdsPort(a, p) || holdsPort(b, p)))
    }),
  )
})
it('telling ports stand for all of a list: whatever some rules say first is said of one of them', () => {
  fc.assert(
    fc.property(list, fc.array(list, { maxLength: 5 }), (of, rules) => {
      const first = (port: number): number => rules.findIndex((r) => holdsPort(r, port))
      const told = new Set(tellingPorts(of, rules).map(first))
      for (let p = 1; p < 240; p++) if (holdsPort(of, p)) expect(told.has(first(p))).toBe(true)
    }),
  )
})
