import { describe, expect, it } from 'vitest'
import { espMtu, espOverheadOf, tunnelSize } from './size'
import { speedOf, transferOf } from './speed'

describe('how large packets may be inside', () => {
  it.each([
    [1500, 'ipv4', 1440, 1400, 1380],
    [1500, 'ipv6', 1420, 1380, 1360],
    // Over PPPoE (RFC 2516): 8 octets less.
    [1492, 'ipv4', 1432, 1392, 1372],
    [1492, 'ipv6', 1412, 1372, 1352],
  ] as const)(
    'a path of %i octets over %s: %i, segments of %i and %i',
    (path, outer, mtu, four, six) => {
      expect(tunnelSize(path, outer)).toMatchObject({ mtu, segment: { ipv4: four, ipv6: six } })
    },
  )
  it('ESP pads to four octets: the largest that fits, and not one more', () => {
    for (const path of [1280, 1400, 1492, 1500]) {
      const inner = espMtu(path)
      expect(inner + espOverheadOf(inner)).toBeLessThanOrEqual(path)
      expect(inner + 1 + espOverheadOf(inner + 1)).toBeGreaterThan(path)
      expect((inner + espOverheadOf(inner)) % 4).toBe(0)
    }
    // By hand: 1500 - 62 = 1438; 1438 + 2 is a multiple of 4, so that no padding is left over.
    expect(espMtu(1500)).toBe(1438)
  })
})

describe('how fast it is', () => {
  it('the least of lines and devices, of a line without the headers', () => {
    const speed = speedOf(
      [
        { what: 'up', mbps: 20 },
        { what: 'down', mbps: 100 },
      ],
      [{ what: 'gateway', mbps: 420 }],
      1420,
      'ipv6',
    )
    expect(speed.by?.what).toBe('up')
    expect(speed.mbps).toBeCloseTo((20 * 1420) / 1500, 9)
    expect(speedOf([], [], 1420, 'ipv6').mbps).toBeNull()
  })
  it('10 GB at 20 Mbit/s take 4000 s; a window of 64 KiB over 80 ms is slower than that', () => {
    expect(transferOf(10, 20, 0, 65_536).seconds).toBeCloseTo(4000, 6)
    const far = transferOf(10, 20, 80, 65_536)
    expect(far.isByWindow).toBe(true)
    expect(far.mbps).toBeCloseTo((65_536 * 8) / 0.08 / 1e6, 9)
    expect(transferOf(1, 0, 10, 65_536).seconds).toBe(Infinity)
  })
})
