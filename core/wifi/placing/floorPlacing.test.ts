import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall as edit } from '../../plan'
import { siteModel } from '../../topology'
import { USUAL_CLIENT } from '../coverage/floorService'
import { isWithin } from '../coverage/floorAir'
import { fitFloor } from '../measured/floorFit'
import { proposePlaces } from './floorPlacing'

const plan = kittiwakeHarbour()
const model = siteModel(plan)
const yard = plan.floors.yard!

describe('where to hang access points in the harbour', () => {
  const few = proposePlaces(model, yard, '5', USUAL_CLIENT, null)!
  it('as few as it takes serve nearly all, with what fewer cannot', () => {
    expect(few.served).toBeGreaterThanOrEqual(0.95)
    expect(few.places).toHaveLength(Math.max(few.forReach!, few.forPeople))
    expect(few.forReachAtLeast).toBeLessThanOrEqual(few.forReach!)
    expect(few.forReachAtLeast).toBeGreaterThan(0)
  })
  it('further ones serve no fewer, never more than the bound, and none hangs where nothing may', () => {
    const keepOut = Object.values(plan.areas).filter((a) => a.kind === 'keep-out')
    let before = 0
    for (const count of [0, 1, 2, 3]) {
      const p = proposePlaces(model, yard, '5', USUAL_CLIENT, count)!
      expect(p.served).toBeGreaterThanOrEqual(before)
      expect(p.served).toBeLessThanOrEqual(p.atMost + 1e-9)
      for (const at of p.places)
        expect(keepOut.some((a) => a.floorId === 'yard' && isWithin(at, a.points))).toBe(false)
      before = p.served
    }
  })
  it('more need takes more radios, whatever reach asks for', () => {
    const hungry = siteModel(
      applyEdits(plan, [edit('changeClientType', { id: 'phones', changes: { needMbps: 20 } })]),
    )
    const more = proposePlaces(hungry, yard, '5', USUAL_CLIENT, null)!
    expect(more.forPeople).toBeGreaterThan(few.forPeople * 5)
    expect(more.forReach).toBe(few.forReach)
  })
  it('without people, or without anything to hang, there is nothing to propose', () => {
    const empty = applyEdits(
      plan,
      Object.keys(plan.areas).map((id) => edit('removeArea', { id })),
    )
    expect(proposePlaces(siteModel(empty), yard, '5', USUAL_CLIENT, 2)).toBeNull()
    expect(proposePlaces(model, yard, '6', USUAL_CLIENT, 2)).toBeNull()
  })
})

describe('readings of the harbour', () => {
  it('tell that the wall of the chart room is no brick', () => {
    const fit = fitFloor(model, plan.floors['office-floor']!, '5')!
    expect(fit.readings).toBeGreaterThan(150)
    const other = fit.walls.filter((w) => w.isOther)
    expect(other.map((w) => w.wallId)).toContain('office-chart-room')
    const [chart] = other.filter((w) => w.wallId === 'office-chart-room')
    // Brick of 3.8 dB was drawn; brick of the handbook, 5 dB, and 13 dB of metal were there.
    expect(Math.abs(chart!.fitted.value - 18)).toBeLessThan(4)
    expect(chart!.fitted.value).toBeGreaterThan(chart!.plannedDb + 9)
    // The antenna of what was carried is 2 dB worse.
    expect(Math.abs(fit.offsetDb.value + 2)).toBeLessThan(3 * fit.offsetDb.sd + 1)
    expect(fit.leastSureDb).toBeGreaterThan(fit.surestDb)
  })
  it('of access points that hang elsewhere are named, and of none there is no fit', () => {
    const away = applyEdits(plan, [
      edit('changeDevice', { id: 'office-ap', changes: { place: null } }),
    ])
    const fit = fitFloor(siteModel(away), away.floors['office-floor']!, '5')!
    expect(fit.strangers).toEqual(['office-ap'])
    expect(fitFloor(model, plan.floors['office-floor']!, '2.4')).toBeNull()
  })
})
