import { describe, expect, it } from 'vitest'
import { chanceOf } from '../../generator'
import { airtimeOf, DATA_SHARE, radiosForAirtime } from './airtime'
import { serviceOf, type ClientRadio, type OnAir } from './service'

const spoken = { generation: 5, widthMhz: 20, streams: 1 } as const
const client: ClientRadio = { spoken, leastDbm: -75 }
const radio = (primary: number, levels: number[], busy = 1): OnAir => ({
  channel: { band: '5', primary, widthMhz: 20 },
  spoken,
  levels: Float32Array.from(levels),
  busy,
})

describe('who serves', () => {
  it('is who is heard best, and nobody under the least level', () => {
    const s = serviceOf([radio(36, [-50, -70, -90]), radio(40, [-60, -60, -80])], client, 3)
    expect([...s.best]).toEqual([0, 1, -1])
    expect([...s.second]).toEqual([1, 0, 0])
    expect([...s.levelDbm]).toEqual([-50, -60, -80])
    expect(s.mbps[2]).toBe(0)
  })
  it('is heard over noise alone on a channel of its own, and over the others on theirs', () => {
    // 20 MHz, 7 dB: noise is -94 dBm.
    const alone = serviceOf([radio(36, [-60]), radio(40, [-70])], client, 1)
    expect(alone.clearanceDb[0]).toBeCloseTo(33.99, 1)
    const same = serviceOf([radio(36, [-60]), radio(36, [-70])], client, 1)
    expect(same.clearanceDb[0]).toBeCloseTo(9.98, 1)
    const half = serviceOf([radio(36, [-60]), radio(36, [-70], 0.5)], client, 1)
    expect(half.clearanceDb[0]).toBeCloseTo(12.97, 1)
  })
  it('is as fast as the level without others allows, and slower beside them', () => {
    // -60 dBm is over 64-QAM 5/6 at -64 and under 256-QAM 3/4 at -59.
    expect(serviceOf([radio(36, [-60])], client, 1).mbps[0]).toBeCloseTo(65, 4)
    // 10 dB over them is as -84 dBm in a quiet room: no step is left.
    expect(serviceOf([radio(36, [-60]), radio(36, [-70])], client, 1).mbps[0]).toBe(0)
    // 16 dB are as -78: QPSK 1/2.
    expect(serviceOf([radio(36, [-60]), radio(36, [-76])], client, 1).mbps[0]).toBeCloseTo(13, 4)
  })
  it('agrees point by point with the sums written out, on random air', () => {
    const chance = chanceOf(5)
    for (let n = 0; n < 50; n++) {
      const radios = Array.from({ length: chance.between(1, 6) }, () =>
        radio(
          chance.one([36, 40, 44]),
          Array.from({ length: 20 }, () => -40 - 60 * chance.next()),
          chance.next(),
        ),
      )
      const s = serviceOf(radios, { ...client, leastDbm: -200 }, 20)
      for (let i = 0; i < 20; i++) {
        const levels = radios.map((r) => r.levels[i]!)
        const top = Math.max(...levels)
        const first = levels.indexOf(top)
        let power = 10 ** ((-174 + 10 * Math.log10(20e6) + 7) / 10)
        for (const [o, r] of radios.entries())
          if (o !== first && r.channel.primary === radios[first]!.channel.primary)
            power += r.busy * 10 ** (levels[o]! / 10)
        expect(s.best[i]).toBe(first)
        expect(s.clearanceDb[i]).toBeCloseTo(top - 10 * Math.log10(power), 3)
      }
    }
  })
  it('nobody where there is no radio', () => {
    const { best, mbps } = serviceOf([], client, 2)
    expect([[...best], [...mbps]]).toEqual([
      [-1, -1],
      [0, 0],
    ])
  })
})

describe('airtime', () => {
  it('is what they need over what the rate leaves for data', () => {
    const air = airtimeOf(2, Int16Array.from([0, 1, -1]), Float32Array.from([65, 6.5, 0]), [
      { point: 0, heads: 10, needMbps: 2 },
      { point: 1, heads: 5, needMbps: 2 },
      { point: 2, heads: 3, needMbps: 1 },
    ])
    expect(air.busy[0]).toBeCloseTo(20 / (65 * DATA_SHARE), 9)
    // Half as many at a tenth of the rate take five times as much.
    expect(air.busy[1]! / air.busy[0]!).toBeCloseTo(5, 9)
    expect([air.heads, air.unserved]).toEqual([[10, 5], 3])
    expect(radiosForAirtime(air)).toBe(5)
    expect(radiosForAirtime({ busy: [0.35, 0.35] })).toBe(1)
  })
})
