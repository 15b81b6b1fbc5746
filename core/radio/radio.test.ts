import { describe, expect, it } from 'vitest'
import { edgesMhz, middleMhz, numbersOf, overlapOf, takenBy, type Channel } from './bands'
import { dbmOf, levelOf, milliwattsOf, noiseDbm, percentOf, sumDbm } from './decibels'
import { freeSpaceLossDb, indoorCoefficients, indoorLossDb } from './distance'
import { bestRateMbps, leastDbm, rateMbps, spokenBy } from './rates'

describe('levels', () => {
  it('of thermal noise (Johnson and Nyquist)', () => {
    expect(noiseDbm(20, 7)).toBeCloseTo(-93.99, 2)
    expect(noiseDbm(40, 7) - noiseDbm(20, 7)).toBeCloseTo(3.0103, 4)
  })
  it('two of the same add 3 dB, none is nothing', () => {
    expect(sumDbm([-60, -60])).toBeCloseTo(-56.99, 2)
    expect(sumDbm([])).toBe(-Infinity)
    expect(dbmOf(milliwattsOf(-71.3))).toBeCloseTo(-71.3, 12)
  })
  it('in percent (common practice)', () => {
    expect([70, 65, 50].map(levelOf)).toEqual([-65, -67.5, -75])
    expect([-65, -67.5, -75, -30, -120].map(percentOf)).toEqual([70, 65, 50, 100, 0])
  })
})

describe('distance', () => {
  it('in free space (ITU-R P.525)', () => {
    expect(freeSpaceLossDb(2400, 1000)).toBeCloseTo(100.05, 2)
    expect(freeSpaceLossDb(5800, 10_000)).toBeCloseTo(127.72, 2)
  })
  it('indoors (ITU-R P.1238) begins where free space does at 1 m, and falls by its coefficient', () => {
    // 20 log f - 28 at 1 m is free space to half a decibel: -27.55.
    expect(indoorLossDb(2437, 1, 30) - freeSpaceLossDb(2437, 1)).toBeCloseTo(-0.45, 2)
    expect(indoorLossDb(5500, 100, 31) - indoorLossDb(5500, 10, 31)).toBeCloseTo(31, 9)
    expect(indoorLossDb(2437, 0.2, 30)).toBe(indoorLossDb(2437, 1, 30))
    expect(indoorCoefficients.office).toMatchObject({ '2.4': 30, '5': 31 })
  })
})

describe('channels (IEEE 802.11 annex E)', () => {
  const channel = (band: Channel['band'], primary: number, widthMhz: Channel['widthMhz'] = 20) => ({
    ...{ band, primary, widthMhz },
  })
  it('have their middles', () => {
    expect([1, 6, 11, 13, 14].map((n) => middleMhz('2.4', n))).toEqual([
      2412, 2437, 2462, 2472, 2484,
    ])
    expect([36, 100, 165].map((n) => middleMhz('5', n))).toEqual([5180, 5500, 5825])
    expect([1, 233].map((n) => middleMhz('6', n))).toEqual([5955, 7115])
    expect(numbersOf['6']).toHaveLength(59)
  })
  it('are bonded in fixed blocks', () => {
    expect(takenBy(channel('5', 44, 80))).toEqual([36, 40, 44, 48])
    expect(takenBy(channel('5', 52, 160))).toEqual([36, 40, 44, 48, 52, 56, 60, 64])
    expect(takenBy(channel('5', 161, 40))).toEqual([157, 161])
    expect(takenBy(channel('5', 165, 80))).toEqual([165, 169, 173, 177])
    expect(takenBy(channel('5', 144, 160))).toBeUndefined()
    expect(takenBy(channel('6', 37, 320))?.length).toBe(16)
    expect(takenBy(channel('2.4', 1, 40))).toEqual([1, 5])
    expect(takenBy(channel('2.4', 13, 40))).toEqual([9, 13])
    expect(takenBy(channel('2.4', 6, 80))).toBeUndefined()
    expect(takenBy(channel('5', 37))).toBeUndefined()
    expect(edgesMhz(channel('5', 36, 80))).toEqual([5170, 5250])
  })
  it('of 2.4 GHz are apart from each other with five between them, as 1, 6 and 11', () => {
    expect(overlapOf(channel('2.4', 1), channel('2.4', 6))).toBe(0)
    expect(overlapOf(channel('2.4', 1), channel('2.4', 4))).toBeCloseTo(0.25, 9)
    expect(overlapOf(channel('5', 36), channel('5', 48, 80))).toBe(1)
    expect(overlapOf(channel('5', 48, 80), channel('5', 36))).toBe(0.25)
    expect(overlapOf(channel('5', 36), channel('6', 37))).toBe(0)
  })
})

describe('rates (IEEE 802.11)', () => {
  it.each([
    // OFDM, table 17-4
    [2, 0, 20, 1, 0.8, 6],
    [2, 6, 20, 1, 0.8, 54],
    // HT, tables 19-27 onwards
    [4, 7, 20, 1, 0.8, 65],
    [4, 7, 40, 2, 0.4, 300],
    // VHT, tables 21-29 onwards
    [5, 9, 80, 1, 0.8, 390],
    [5, 9, 80, 1, 0.4, 433.33],
    [5, 9, 160, 4, 0.4, 3466.67],
    // HE, tables 27-54 onwards
    [6, 11, 80, 1, 0.8, 600.49],
    [6, 11, 160, 2, 0.8, 2401.96],
    [6, 0, 20, 1, 3.2, 7.3125],
    // EHT, tables 36-71 onwards
    [7, 13, 320, 1, 0.8, 2882.35],
  ] as const)(
    'generation %d, step %d, %d MHz, %d streams, guard %d us: %d Mbit/s',
    (generation, step, width, streams, guard, mbps) => {
      expect(rateMbps(generation, step, width, streams, guard)).toBeCloseTo(mbps, 2)
    },
  )
  it('leave out what does not come out even, and what a generation does not know', () => {
    expect(rateMbps(5, 9, 20, 1)).toBeUndefined()
    expect(rateMbps(5, 9, 20, 3)).toBeCloseTo(260, 6)
    expect(rateMbps(4, 8, 20, 1)).toBeUndefined()
    expect(rateMbps(4, 7, 80, 1)).toBeUndefined()
    expect(rateMbps(2, 7, 20, 1)).toBeUndefined()
  })
  it('need their level, 3 dB more for each doubling of the width', () => {
    expect(leastDbm(0, 20)).toBe(-82)
    expect(leastDbm(9, 80)).toBe(-51)
    const laptop = { generation: 5, widthMhz: 80, streams: 2 } as const
    expect(bestRateMbps(laptop, -50)).toBeCloseTo(780, 6)
    expect(bestRateMbps(laptop, -76)).toBeCloseTo(58.5, 6)
    expect(bestRateMbps(laptop, -77)).toBe(0)
    expect(bestRateMbps({ generation: 1, widthMhz: 20, streams: 1 }, -86)).toBe(2)
  })
  it('are those that both know', () => {
    const point = { generation: 6, widthMhz: 80, streams: 4 } as const
    expect(spokenBy(point, { generation: 4, widthMhz: 20, streams: 1 })).toEqual({
      generation: 4,
      widthMhz: 20,
      streams: 1,
    })
    expect(spokenBy(point, { generation: 2, widthMhz: 20, streams: 2 }).streams).toBe(1)
    expect(spokenBy({ ...point, generation: 4 }, point).widthMhz).toBe(40)
  })
})
