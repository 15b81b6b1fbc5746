import { describe, expect, it } from 'vitest'
import type { Channel } from './bands'
import { isKept, lawfulChannels, lawOf } from './lawful'

const on = (band: Channel['band'], primary: number, widthMhz: Channel['widthMhz'] = 20) => ({
  ...{ band, primary, widthMhz },
})
const limit = (country: string, channel: Channel, isOutdoors = false) => {
  const law = lawOf(country, channel, isOutdoors)
  return law.ok ? law.limitDbm : law.reason
}

describe('what is lawful (from memory; check with your regulator)', () => {
  it.each([
    // EN 300 328, EN 301 893, EN 300 440
    ['GB', on('2.4', 6), 20],
    ['GB', on('5', 36), 23],
    ['GB', on('5', 100), 30],
    ['GB', on('5', 149), 14],
    // 47 CFR 15.247 and 15.407
    ['US', on('2.4', 6), 36],
    ['US', on('5', 149), 36],
    ['US', on('5', 100), 30],
  ] as const)('%s %o: %d dBm', (country, channel, dbm) => {
    expect(limit(country, channel)).toBe(dbm)
  })
  it('in 6 GHz by each MHz', () => {
    expect(limit('US', on('6', 1))).toBeCloseTo(5 + 13.01, 2)
    expect(limit('US', on('6', 1, 320))).toBeCloseTo(30, 1)
    expect(limit('DE', on('6', 1))).toBeCloseTo(23, 1)
  })
  it('a wide channel keeps the strictest of what it covers, and listens for radar', () => {
    expect(lawOf('GB', on('5', 36, 160), false)).toMatchObject({ limitDbm: 23, isRadar: true })
    expect(lawOf('GB', on('5', 36, 80), false)).toMatchObject({ isRadar: false })
  })
  it('refuses what is for indoors, what is not open, and what is no channel', () => {
    expect(limit('GB', on('5', 36), true)).toMatch(/for indoors only in GB/)
    expect(limit('US', on('2.4', 13))).toMatch(/not open in US/)
    expect(limit('GB', on('6', 101))).toMatch(/not open in GB/)
    expect(limit('GB', on('5', 37))).toMatch(/no channel 37/)
    expect(limit('XX', on('5', 36))).toMatch(/XX allows is not kept/)
    expect([isKept('GB'), isKept('XX'), isKept('')]).toEqual([true, false, false])
  })
})

describe('the channels there are', () => {
  const numbers = (...args: Parameters<typeof lawfulChannels>): number[] =>
    lawfulChannels(...args).map((c) => c.primary)
  it('outdoors in Europe are those that listen for radar, and a few weak ones', () => {
    expect(numbers('GB', '5', 20, true, true)).toEqual([
      100, 104, 108, 112, 116, 120, 124, 128, 132, 136, 140, 149, 153, 157, 161, 165, 169, 173,
    ])
    expect(numbers('GB', '5', 20, true, false)).toEqual([149, 153, 157, 161, 165, 169, 173])
  })
  it('of a width each block stands once', () => {
    expect(numbers('GB', '5', 80, false, true)).toEqual([36, 52, 100, 116, 149])
    expect(numbers('US', '5', 160, false, true)).toEqual([36, 100])
    expect(numbers('GB', '2.4', 20, false, true)).toHaveLength(13)
    expect(numbers('US', '2.4', 20, false, true)).toHaveLength(11)
    expect(numbers('GB', '6', 320, false, true)).toEqual([1])
  })
})
