import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quietestHour } from './quietest'

const day = (of: (hour: number) => number, samples = 100) =>
  Array.from({ length: 24 }, (_, hour) => ({ hour, clients: of(hour), samples }))

describe('the quietest hour', () => {
  it('is the one with the fewest, in the middle of a quiet night', () => {
    expect(quietestHour(day((h) => (h === 5 ? 1 : 20)))).toBe(5)
    expect(quietestHour(day((h) => (h >= 1 && h <= 5 ? 0 : 9)))).toBe(3)
    // Over midnight.
    expect(quietestHour(day((h) => (h >= 22 || h <= 2 ? 0 : 9)))).toBe(0)
    // A lunch break is shorter than the night.
    expect(quietestHour(day((h) => (h === 12 || (h >= 2 && h < 6) ? 0.2 : 30)))).toBe(3)
  })
  it('is not said before most of a day was seen', () => {
    expect(quietestHour([])).toBeNull()
    expect(quietestHour(day(() => 3).slice(0, 19))).toBeNull()
    expect(quietestHour(day(() => 3, 10))).toBeNull()
    expect(quietestHour(day(() => 3))).not.toBeNull()
  })
  it('has never more than half a client over the fewest', () => {
    const hour = fc.double({ min: 0, max: 200, noNaN: true })
    fc.assert(
      fc.property(fc.array(hour, { minLength: 24, maxLength: 24 }), (list) => {
        const found = quietestHour(day((h) => list[h]!))!
        return list[found]! <= Math.min(...list) + 0.5
      }),
    )
  })
})
