import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { chanceOf, randomPlace } from '../../generator'
import { applyEdits, editCall, settingsOf } from '../../plan'
import { siteModel } from '../../topology'
import { beyondBoundary } from '../coverage/beyond'
import { floorService, USUAL_CLIENT } from '../coverage/floorService'
import { planPower } from '..'
import { FAR_M, GOOD_DBM } from './limits'
import { turnedDown } from './lowest'

const serves = (
  levels: readonly Float32Array[],
  most: readonly number[],
  powers: readonly number[],
  needs: Float32Array,
  p: number,
): boolean => levels.some((l, r) => l[p]! - (most[r]! - powers[r]!) >= needs[p]!)

describe('radios turned down', () => {
  it('serve all that they served, and none can be turned down alone', () => {
    const level = fc.integer({ min: -90, max: -30 })
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }).chain((radios) =>
          fc.tuple(
            fc.array(fc.array(level, { minLength: 12, maxLength: 12 }), {
              minLength: radios,
              maxLength: radios,
            }),
            fc.array(fc.integer({ min: 5, max: 23 }), { minLength: radios, maxLength: radios }),
          ),
        ),
        fc.array(fc.constantFrom(-Infinity, -75, -67, -60), { minLength: 12, maxLength: 12 }),
        ([rows, most], wanted) => {
          const levels = rows.map((r) => Float32Array.from(r))
          const needs = Float32Array.from(wanted)
          const { powersDbm } = turnedDown({
            ...{ levels, needs, mostDbm: most },
            leastDbm: most.map(() => 2),
          })
          for (let p = 0; p < needs.length; p++)
            if (serves(levels, most, most, needs, p))
              expect(serves(levels, most, powersDbm, needs, p)).toBe(true)
          for (const [r, power] of powersDbm.entries()) {
            if (power - 1 < 2) continue
            const less = powersDbm.map((x, i) => (i === r ? x - 1 : x))
            const isLost = [...needs.keys()].some(
              (p) =>
                needs[p] !== -Infinity &&
                serves(levels, most, powersDbm, needs, p) &&
                !serves(levels, most, less, needs, p),
            )
            expect(isLost, `radio ${r} at ${power}`).toBe(true)
          }
        },
      ),
    )
  })
  it('is the least sum where that can be tried out', () => {
    // One alone needs -67 at a point that both reach: the louder there may fall silent.
    const levels = [Float32Array.of(-50, -80), Float32Array.of(-60, -55)]
    const found = turnedDown({
      ...{ levels, needs: Float32Array.of(-67, -67), mostDbm: [20, 20], leastDbm: [2, 2] },
    })
    expect(found.powersDbm).toEqual([3, 8])
    expect(found.heldBy).toEqual([0, 1])
  })
})

describe('a power plan', () => {
  const withPlan = (plan: ReturnType<typeof kittiwakeHarbour>, band: '2.4' | '5') => {
    const model = siteModel(plan)
    const planned = planPower(model, band)
    const edits = [...new Set(planned.radios.map((r) => r.deviceId))].map((id) =>
      editCall('changeDevice', {
        id,
        changes: {
          radios: settingsOf(model.device(id), model.profileOf(id)).map((s, n) => {
            const of = planned.radios.find((r) => r.deviceId === id && r.radio === n)
            return of ? { ...s, powerDbm: of.to } : s
          }),
        },
      }),
    )
    return { planned, after: siteModel(applyEdits(plan, edits)) }
  }
  it('of the harbour serves whom it served, and reaches no further out than is good', () => {
    for (const band of ['2.4', '5'] as const) {
      const plan = kittiwakeHarbour()
      const { planned, after } = withPlan(plan, band)
      expect(planned.radios.length).toBeGreaterThan(2)
      expect(planned.radios.some((r) => r.to < r.from - 2)).toBe(true)
      for (const b of beyondBoundary(after, FAR_M))
        if (b.band === band && planned.radios.some((r) => r.deviceId === b.radio.deviceId))
          expect(b.dbm).toBeLessThanOrEqual(GOOD_DBM + 0.1)
      for (const floor of Object.values(plan.floors)) {
        const people = (model: typeof after): number =>
          floorService(model, floor, band, USUAL_CLIENT, 1).airtime.unserved
        // Of two hundred, the boundary may cost a head at an edge between two steps of the grid.
        expect(people(after)).toBeLessThan(people(siteModel(plan)) + 1)
      }
    }
  })
  it('of made-up places serves as many as it says, and sets no more than there is', () => {
    const chance = chanceOf(77)
    for (let n = 0; n < 25; n++) {
      const { planned, after } = withPlan(randomPlace(chance, chance.between(1, 5)), '5')
      for (const r of planned.radios) {
        expect(r.to).toBeLessThanOrEqual(after.profileOf(r.deviceId).air[r.radio]!.powerDbm)
        if (r.heldAt) expect(after.plan.areas[r.heldAt.areaId]).toBeDefined()
      }
      const { areas, airtime } = floorService(after, after.plan.floors.floor!, '5', USUAL_CLIENT, 1)
      const heads = areas.reduce((sum, a) => sum + a.heads, 0)
      expect(Math.abs(heads - airtime.unserved - planned.served)).toBeLessThan(0.02 * heads + 0.01)
    }
  })
})
