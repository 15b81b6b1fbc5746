import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall as edit, type PlanWall } from '../../plan'
import { lossOfMaterial } from '../../radio/materials'
import { siteModel } from '../../topology'
import { isWithin, piecesOf, radiosOn } from './floorAir'
import { floorService, USUAL_CLIENT } from './floorService'

const plan = kittiwakeHarbour()
const model = siteModel(plan)

describe('walls with openings', () => {
  const wall: PlanWall = {
    id: 'w',
    floorId: 'f',
    material: 'brick',
    points: [
      { x: 0, y: 0 },
      { x: 4, y: 0 },
      { x: 4, y: 3 },
    ],
    openings: [
      { fromM: 1, toM: 2, material: 'wood' },
      { fromM: 3.5, toM: 4.5, material: null },
    ],
  }
  it('are pieces end to end, an opening around a corner two of them', () => {
    const pieces = piecesOf(wall, '5')
    expect(pieces.map((p) => [p.a.x, p.a.y, p.b.x, p.b.y])).toEqual([
      [0, 0, 1, 0],
      [1, 0, 2, 0],
      [2, 0, 3.5, 0],
      [3.5, 0, 4, 0],
      [4, 0, 4, 0.5],
      [4, 0.5, 4, 3],
    ])
    expect(pieces.map((p) => p.lossDb === 0)).toEqual([false, false, false, true, true, false])
    expect(pieces[1]!.lossDb).toBeCloseTo(lossOfMaterial('wood', '5'), 9)
  })
  it('of no length, or with openings beyond its end, are what is left', () => {
    const same = { x: 1, y: 1 }
    expect(piecesOf({ ...wall, points: [same, same] }, '5')).toEqual([])
    const beyond = piecesOf({ ...wall, openings: [{ fromM: 50, toM: 60, material: null }] }, '5')
    expect(beyond).toHaveLength(2)
    const twice = [
      { fromM: 1, toM: 3, material: null },
      { fromM: 2, toM: 2.5, material: 'metal' as const },
    ]
    expect(piecesOf({ ...wall, openings: twice }, '5').map((p) => p.lossDb === 0)).toEqual([
      false,
      true,
      false,
      false,
    ])
  })
})

describe('the harbour', () => {
  const yard = plan.floors.yard!
  const of = (m: typeof model, band: '2.4' | '5' = '5', stepM = 2) =>
    floorService(m, m.plan.floors.yard!, band, USUAL_CLIENT, stepM)
  it('has its outdoor access points in the yard, each with its power and no more than is lawful', () => {
    const radios = radiosOn(model, yard, '5')
    expect(radios.map((r) => r.deviceId)).toContain('quay-ap')
    // 14 dBm and 6 dBi; channel 100 may have 30.
    expect(radios.find((r) => r.deviceId === 'quay-ap')!.sender.eirpDbm).toBe(20)
    const loud = applyEdits(plan, [
      edit('changeDevice', {
        id: 'quay-ap',
        changes: {
          radios: [
            { isOn: false, band: '2.4', channel: 1, widthMhz: 20, powerDbm: 20 },
            { isOn: true, band: '5', channel: 149, widthMhz: 20, powerDbm: 24 },
          ],
        },
      }),
    ])
    const other = radiosOn(siteModel(loud), yard, '5').find((r) => r.deviceId === 'quay-ap')!
    expect(other.sender.eirpDbm).toBe(14)
    expect(radiosOn(siteModel(loud), yard, '2.4').some((r) => r.deviceId === 'quay-ap')).toBe(false)
  })
  it('serves the pontoons that have an access point better than the one between', () => {
    const { areas, airtime, radios } = of(model)
    const [a, b] = ['pontoon-a', 'pontoon-b'].map((id) => areas.find((x) => x.areaId === id)!)
    expect(a!.covered).toBeGreaterThan(0.95)
    expect(a!.mbps).toBeGreaterThan(b!.mbps)
    const heads = airtime.heads.reduce((x, y) => x + y, 0) + airtime.unserved
    expect(heads).toBeCloseTo(188, 6)
    expect(airtime.busy).toHaveLength(radios.length)
  })
  it('is the same on a fine grid as on a coarse one, but for its edges', () => {
    const [coarse, fine] = [of(model, '5', 4), of(model, '5', 1)]
    for (const [n, c] of coarse.areas.entries())
      expect(Math.abs(c.covered - fine.areas[n]!.covered)).toBeLessThan(0.12)
  })
  it('people whose device does not know the band are served by nobody in it, and others are', () => {
    const served = (band: '2.4' | '5') => of(model, band, 4).areas.map((a) => a.covered > 0.1)
    const crew = of(model).areas.findIndex((a) => a.areaId === 'quay-crew')
    expect(served('2.4')[crew]).toBe(true)
    expect(served('5')[crew]).toBe(false)
    expect(served('5').filter(Boolean).length).toBeGreaterThan(1)
  })
  it('an extender that hears nothing passes nothing on, and one that hears does', () => {
    const ids = (p: typeof plan): string[] =>
      radiosOn(siteModel(p), p.floors.yard!, '5').map((r) => r.deviceId)
    expect(ids(plan)).not.toContain('slipway-extender')
    const { place } = plan.devices['slipway-extender']!
    const moved = applyEdits(plan, [
      edit('changeDevice', {
        id: 'slipway-extender',
        changes: { place: { ...place!, x: 200, y: 45 } },
      }),
    ])
    expect(ids(moved)).toContain('slipway-extender')
  })
  it('without access points serves nobody, and says so', () => {
    const bare = siteModel(
      applyEdits(
        plan,
        radiosOn(model, yard, '5').map((r) =>
          edit('changeDevice', { id: r.deviceId, changes: { place: null } }),
        ),
      ),
    )
    const { areas, airtime } = of(bare)
    expect(areas.every((x) => x.covered === 0 && x.mbps === 0)).toBe(true)
    expect(airtime.unserved).toBeCloseTo(188, 6)
  })
})

it('a point is within corners that go around it, whichever way', () => {
  const ring = [
    { x: 0, y: 0 },
    { x: 4, y: 0 },
    { x: 4, y: 4 },
    { x: 0, y: 4 },
  ]
  for (const corners of [ring, [...ring].reverse()]) {
    expect(isWithin({ x: 2, y: 2 }, corners)).toBe(true)
    expect(isWithin({ x: 5, y: 2 }, corners)).toBe(false)
    expect(isWithin({ x: -1, y: 2 }, corners)).toBe(false)
  }
})
