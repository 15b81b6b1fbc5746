import { describe, expect, it } from 'vitest'
import { soundSite } from '../../../tests/sites/sound'
import { applyEdits, editCall, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { fixedLawOf } from '../lawful/fixedLaw'
import { isReckoned, reckon, type Reckoned } from '../reckoned'
import { sectorOf } from '../sectors/airtime'
import { handAddress } from '../settings/address'
import { compareEnds } from '../settings/compare'
import { leastDistance } from '../settings/distance'
import { handFive, dishFive } from '../../plan/bridgeUnits'
import { sharedMbps, stepsOf, throughputOf } from './rates'

const DAY = new Date('2026-11-28')
const plan = soundSite({
  profileId: 'bridge-5ghz-dish',
  channel: 149,
  widthMhz: 40,
  metres: 10_000,
  degrees: 90,
  heightAM: 60,
  heightBM: 60,
  ground: [],
  obstacles: [],
})
const of = (p: SitePlan): Reckoned => {
  const r = reckon(siteModel(p), p.bridges.sound!, DAY)
  if (!isReckoned(r)) throw new Error(r.missing.join())
  return r
}
const changed = (changes: object): Reckoned =>
  of(applyEdits(plan, [editCall('changeBridge', { id: 'sound', changes })]))

describe('the staircase', () => {
  const { toB, losses } = of(plan).budget
  it('is the sum of its steps, and free space is that of the handbooks', () => {
    const sum = toB.stairs.reduce((s, x) => s + x.db, 0)
    expect(toB.levelDbm).toBeCloseTo(sum, 9)
    // ITU-R P.525: 127.7 dB for 5800 MHz and 10 km; here 5745 MHz.
    expect(losses.freeSpaceDb).toBeCloseTo(127.7, 0)
    expect(toB.stairs.map((s) => s.id)).toEqual([
      'power',
      'gain-out',
      'free-space',
      'gas',
      'gain-in',
    ])
    for (const s of toB.stairs) expect(s.how.length).toBeGreaterThan(3)
  })
  it('power is all that is lawful: 36 dBm EIRP at 5.8 GHz (EN 302 502) into 25 dBi are 11 dBm', () => {
    expect(toB.sending).toMatchObject({ powerDbm: 11, eirpDbm: 36 })
    expect(
      changed({ a: { ...plan.bridges.sound!.a, cableDb: 2 } }).budget.toB.sending.powerDbm,
    ).toBe(13)
  })
  it('a turned antenna costs what it separates, a cable twice itself', () => {
    const a = plan.bridges.sound!.a
    const b = plan.bridges.sound!.b
    const turned = changed({
      a: { ...a, polarisation: 'vertical' },
      b: { ...b, polarisation: 'horizontal' },
    })
    expect(toB.levelDbm - turned.budget.toB.levelDbm).toBeCloseTo(25, 6)
    const fixed = { a: { ...a, powerDbm: 5 }, b: { ...b, powerDbm: 5 } }
    const plain = changed(fixed)
    const cabled = changed({ ...fixed, a: { ...fixed.a, cableDb: 1.5 } })
    expect(plain.budget.toB.levelDbm - cabled.budget.toB.levelDbm).toBeCloseTo(1.5, 6)
    expect(plain.budget.toA.levelDbm - cabled.budget.toA.levelDbm).toBeCloseTo(1.5, 6)
  })
  it('margin falls, time below a step grows, as steps go up', () => {
    const { timesToB } = of(plan)
    for (let n = 1; n < timesToB.length; n++) {
      expect(timesToB[n]!.marginDb).toBeLessThan(timesToB[n - 1]!.marginDb)
      expect(timesToB[n]!.belowMinutes).toBeGreaterThanOrEqual(timesToB[n - 1]!.belowMinutes)
    }
  })
})

describe('what passes', () => {
  it('steps that need more and carry less fall out', () => {
    const step = (name: string, mbps: number, leastDbm: number) => ({
      widthMhz: 20,
      name,
      mbps,
      leastDbm,
    })
    expect(
      stepsOf({ steps: [step('b', 20, -80), step('a', 10, -85), step('worse', 15, -70)] }, 20).map(
        (s) => s.name,
      ),
    ).toEqual(['a', 'b'])
  })
  it('directions that take turns have half each when both are busy; apart each has its own', () => {
    expect(throughputOf({ dataShare: 0.6, duplex: 'time' }, 300, 1000)).toEqual({
      aloneMbps: 180,
      bothMbps: 90,
    })
    expect(throughputOf({ dataShare: 0.6, duplex: 'frequency' }, 300, 100)).toEqual({
      aloneMbps: 100,
      bothMbps: 100,
    })
  })
  it('too much asked is shared in proportion', () => {
    const unit = { dataShare: 0.5, duplex: 'time' } as const
    expect(sharedMbps(unit, { toB: 100, toA: 100 }, { toB: 20, toA: 5 })).toMatchObject({
      toB: 20,
      toA: 5,
      airtime: 0.5,
    })
    expect(sharedMbps(unit, { toB: 100, toA: 100 }, { toB: 80, toA: 20 })).toMatchObject({
      toB: 40,
      toA: 10,
      airtime: 2,
    })
    expect(sharedMbps(unit, { toB: 0, toA: 100 }, { toB: 1, toA: 1 }).toB).toBe(0)
  })
  it('of several far ends the slow one drags the others down', () => {
    const fast = { id: 'near', airMbps: 300, wantedMbps: 60 }
    const slow = { id: 'far', airMbps: 30, wantedMbps: 20 }
    const sector = sectorOf([fast, slow], 0.5)
    expect(sector.airtime).toBeCloseTo(0.4 + 4 / 3, 6)
    expect(sector.dragging).toBe('far')
    expect(sector.ends[0]!.getsMbps).toBeCloseTo(60 / sector.airtime, 6)
    expect(sectorOf([fast, { ...slow, airMbps: 0 }], 0.5)).toMatchObject({
      airtime: 0.4,
      dragging: null,
    })
  })
})

describe('settings', () => {
  it('the distance in us is there and back: 23 us for 3.4 km', () => {
    expect(leastDistance(dishFive, 3400)).toBe(23)
    expect(leastDistance({ ...dishFive, distance: { kind: 'timer-m', most: 9 } }, 3400.2)).toBe(
      3401,
    )
    expect(leastDistance(handFive, 3400)).toBeNull()
  })
  it('by hand: base, role and channel make the address', () => {
    expect(handAddress(handFive, 'main', 4)).toBe('192.168.6.14')
    expect(handAddress(handFive, 'far', 4)).toBe('192.168.6.114')
    const long = { ...handFive, address: { base: '10.0.0.250', main: 0, far: 100, perChannel: 1 } }
    expect(handAddress(long, 'far', 4)).toBeNull()
    expect(handAddress(dishFive, 'far', 4)).toBeNull()
  })
  it('two ends that fit have no problem but firmware that nobody read', () => {
    const { facts } = of(plan).budget
    expect(compareEnds(facts, plan.site).filter((c) => c.problem !== null)).toEqual([])
  })
})

describe('fixed outdoor links (from memory; check with your regulator)', () => {
  const limit = (
    country: string,
    mhz: number,
    gain: number,
    width = 20,
    licence: number | null = null,
  ) => {
    const v = fixedLawOf(country, mhz, width, gain, licence)
    return v.ok ? v.limitDbm : v.kind
  }
  it.each([
    ['GB', 2437, 24, 20],
    ['GB', 5560, 25, 30],
    ['GB', 5745, 25, 36],
    ['GB', 60_480, 38, 40],
    // 47 CFR 15.247: 30 dBm into 6 dBi, 1 dB less for every 3 dB over it.
    ['US', 2437, 6, 36],
    ['US', 2437, 24, 48],
    ['US', 5200, 30, 53],
    ['US', 5765, 30, 60],
    ['US', 60_480, 38, 56],
    ['GB', 5180, 25, 'indoors'],
    ['GB', 11_000, 34, 'licence'],
    ['GB', 5450, 25, 'closed'],
    ['XX', 5560, 25, 'country'],
  ] as const)('%s %d MHz with %d dBi: %s', (country, mhz, gain, expected) => {
    expect(limit(country, mhz, gain)).toBe(expected)
  })
  it('a licence says for itself', () => {
    expect(limit('GB', 11_000, 34, 40, 52)).toBe(52)
  })
})
