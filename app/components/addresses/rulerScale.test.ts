import fc from 'fast-check'
import { expect, it } from 'vitest'
import { formatPrefix, lastOf, prefix } from '../../../core/addressing'
import { resized, rulerScale, ticks } from './rulerScale'

it('what is drawn at a point is the address under it, in IPv6 as well', () => {
  for (const p of [prefix('10.20.0.0/16'), prefix('10.20.90.0/23'), prefix('2001:db8:20::/56')]) {
    const scale = rulerScale({ family: p.family, first: p.network, last: lastOf(p) }, 14, 886)
    const size = lastOf(p) - p.network + 1n
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: size - 1n }), (n) => {
        const x = scale.at(p.network + n)
        expect(x).toBeGreaterThanOrEqual(14)
        expect(x).toBeLessThanOrEqual(886)
        const back = scale.from(x) - (p.network + n)
        // To within a pixel's thousandth part of the whole.
        expect(Number(((back < 0n ? -back : back) * 1_000_000n) / size)).toBeLessThanOrEqual(2)
      }),
    )
  }
  const small = rulerScale({ family: 4, first: 0n, last: 255n }, 0, 256)
  expect([small.at(0n), small.at(128n), small.at(256n), small.from(-50), small.from(900)]).toEqual([
    0,
    128,
    256,
    0n,
    255n,
  ])
})
it('marks lie on multiples of a power of two, at most eight of them', () => {
  const p = prefix('10.20.0.0/16')
  const marks = ticks({ family: 4, first: p.network + 300n, last: lastOf(p) })
  expect(marks.length).toBeLessThanOrEqual(8)
  expect(marks[0]).toMatchObject({ text: '10.20.32.0' })
})
it.each([
  ['10.20.20.0/24', '10.20.21.255', '10.20.20.0/23'],
  ['10.20.20.0/24', '10.20.20.100', '10.20.20.0/25'],
  ['10.20.20.0/24', '10.20.27.0', '10.20.20.0/22'],
  ['10.20.21.0/24', '10.20.23.0', '10.20.21.0/24'],
  ['10.20.20.0/24', '10.20.20.0', '10.20.20.0/29'],
])('the end of %s pulled to %s makes %s', (from, end, to) =>
  expect(formatPrefix(resized(prefix(from), prefix(`${end}/32`).network + 1n))).toBe(to),
)
