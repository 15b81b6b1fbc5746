import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blockedUpTo, hiddenShare, isBetween, type Sky } from './view'

const sky = (more: Partial<Sky> = {}): Sky => ({
  cableM: 15,
  toSocketM: 10,
  azimuthDegrees: 0,
  widthDegrees: 360,
  fromDegrees: 0,
  obstacles: [],
  ...more,
})
const wall = (fromDegrees: number, toDegrees: number, upDegrees: number) => ({
  ...{ name: 'Wall', fromDegrees, toDegrees, upDegrees },
})

describe('the sky over a dish', () => {
  it('is counted by solid angle: 30 degrees all around are half of it', () => {
    expect(hiddenShare(sky({ obstacles: [wall(0, 360, 30)] }))).toBeCloseTo(0.5, 9)
    expect(hiddenShare(sky({ obstacles: [wall(0, 180, 90)] }))).toBeCloseTo(0.5, 2)
    expect(hiddenShare(sky())).toBe(0)
  })
  it('what stands under or beside the part that is needed hides nothing', () => {
    expect(hiddenShare(sky({ fromDegrees: 25, obstacles: [wall(0, 360, 25)] }))).toBe(0)
    expect(
      hiddenShare(sky({ azimuthDegrees: 0, widthDegrees: 90, obstacles: [wall(60, 300, 80)] })),
    ).toBe(0)
  })
  it('goes over north', () => {
    expect(isBetween(5, 350, 10)).toBe(true)
    expect(isBetween(20, 350, 10)).toBe(false)
    expect(blockedUpTo(sky({ obstacles: [wall(350, 10, 40), wall(0, 90, 20)] }), 5)).toBe(40)
  })
  it('more in the way never hides less', () => {
    const angle = fc.double({ min: 0, max: 360, noNaN: true })
    fc.assert(
      fc.property(angle, angle, fc.double({ min: 0, max: 90, noNaN: true }), (from, to, up) => {
        const one = sky({ fromDegrees: 20, obstacles: [wall(40, 120, 35)] })
        const more = { ...one, obstacles: [...one.obstacles, wall(from, to, up)] }
        expect(hiddenShare(more)).toBeGreaterThanOrEqual(hiddenShare(one))
        expect(hiddenShare(more)).toBeLessThanOrEqual(1)
      }),
    )
  })
})
