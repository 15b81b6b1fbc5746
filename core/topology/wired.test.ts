import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { chanceOf, randomSite, smallShape, type Chance } from '../generator'
import { editCall, applyEdit, type SitePlan } from '../plan'
import { matrixOf } from '../policy'
import { carriageOf, enters, heardFrom, leaves, siteModel, wiredOf, type WiredSocket } from '.'

/** A plan that nothing is remembered of. */
const fresh = (plan: SitePlan): SitePlan => JSON.parse(JSON.stringify(plan)) as SitePlan
const carried = (plan: SitePlan): unknown => {
  const model = siteModel(plan)
  return model.segments.map((s) => {
    const c = carriageOf(model, s.id)
    return [s.id, [...c.forms].sort(), c.arrivals.map((a) => `${a.deviceId}/${a.inside}`).sort()]
  })
}
function randomEdit(plan: SitePlan, chance: Chance): SitePlan {
  const [segmentId, portId] = [
    chance.one(Object.keys(plan.segments)),
    chance.one(Object.keys(plan.ports)),
  ]
  const call = chance.one([
    editCall('addTag', { segmentId, portIds: [portId] }),
    editCall('removeTag', { segmentId, portIds: [portId] }),
    editCall('setUntagged', { segmentId, portIds: [portId] }),
    editCall('setUntagged', { segmentId: null, portIds: [portId] }),
    editCall('changeSegment', { id: segmentId, changes: { vlanId: chance.between(2, 4000) } }),
    editCall('changeDevice', {
      id: chance.one(Object.keys(plan.devices)),
      changes: { name: `N${chance.between(1, 99)}` },
    }),
    editCall('removeLink', { id: chance.one([...Object.keys(plan.links), 'none']) }),
    editCall('removeDevice', {
      id: chance.one(Object.keys(plan.devices).filter((d) => d !== 'gw')),
    }),
    editCall('changeSegment', { id: segmentId, changes: { expectedHosts: chance.between(1, 50) } }),
  ])
  const outcome = applyEdit(plan, call)
  return outcome.ok ? outcome.plan : plan
}

describe('what is kept from one plan to the next', () => {
  it('is what would come out anew, after any row of edits', () => {
    fc.assert(
      fc.property(fc.nat(100_000), (seed) => {
        const chance = chanceOf(seed)
        const plans = [randomSite(chance, smallShape(chance, 0.3))]
        for (let i = 0; i < 12; i++) plans.push(randomEdit(plans.at(-1)!, chance))
        // The row of edits first: what is looked at in between would be what is remembered.
        const row = plans.map(carried)
        for (const [i, plan] of plans.entries())
          expect(row[i], `seed ${seed}, edit ${i}`).toEqual(carried(fresh(plan)))
      }),
      { numRuns: 60 },
    )
  })
  it('is also so for the matrix, when intents, services and the default change', () => {
    fc.assert(
      fc.property(fc.nat(100_000), (seed) => {
        const chance = chanceOf(seed)
        const plans = [randomSite(chance, smallShape(chance, 0))]
        for (let i = 0; i < 8; i++) {
          const plan = plans.at(-1)!
          const [from, to] = [
            chance.one(Object.keys(plan.segments)),
            chance.one([...Object.keys(plan.segments), 'internet']),
          ]
          const call = chance.one([
            editCall('stateIntent', {
              id: `x-${seed}-${i}`,
              from,
              to,
              services: 'any',
              action: chance.one(['allow', 'deny']),
              reason: '',
            }),
            editCall('clearIntents', { from, to }),
            editCall('changeSite', {
              preferences: { betweenSegments: chance.one(['allow', 'deny']) },
            }),
            editCall('changeSegment', {
              id: from,
              changes: { purpose: chance.one(['guests', 'management']) },
            }),
            editCall('changeDevice', { id: 'gw', changes: { name: `G${i}` } }),
          ])
          const outcome = applyEdit(plan, call)
          if (outcome.ok) plans.push(outcome.plan)
        }
        const row = plans.map((p) => matrixOf(p).cells)
        for (const [i, plan] of plans.entries())
          expect(row[i], `seed ${seed}, edit ${i}`).toEqual(matrixOf(fresh(plan)).cells)
      }),
      { numRuns: 60 },
    )
  })
  it('is kept: an edit elsewhere gives the very same carriage', () => {
    const chance = chanceOf(3)
    const plan = randomSite(chance, { ...smallShape(chance, 0), switches: 4, segments: 5 })
    const before = carriageOf(siteModel(plan), 'seg-1')
    const outcome = applyEdit(
      plan,
      editCall('changeSegment', { id: 'seg-2', changes: { expectedHosts: 9 } }),
    )
    if (!outcome.ok) throw new Error()
    expect(carriageOf(siteModel(outcome.plan), 'seg-1')).toBe(before)
  })
})

describe('a socket (IEEE 802.1Q 8.6 to 8.8)', () => {
  const socket = (more: Partial<WiredSocket>): WiredSocket => ({
    portId: 'p',
    deviceId: 'd',
    mode: 'managed',
    isLine: false,
    isBlocked: false,
    untagged: 10,
    tagged: new Set([20, 30]),
    peer: null,
    ...more,
  })
  it.each<
    [
      string,
      Partial<WiredSocket>,
      number | 'untagged',
      number | 'untagged' | undefined,
      number | 'untagged' | undefined,
    ]
  >([
    [
      'sends its own VLAN without a tag and takes untagged frames into it',
      {},
      10,
      'untagged',
      undefined,
    ],
    ['keeps the tag of a tagged VLAN', {}, 20, 20, 20],
    ['drops a VLAN that it is no member of', {}, 40, undefined, undefined],
    [
      'drops untagged frames where it has no VLAN for them',
      { untagged: null },
      'untagged',
      undefined,
      undefined,
    ],
    ['of a transparent switch passes all as it is', { mode: 'transparent' }, 40, 40, 40],
    ['of a switch without VLANs loses tags', { mode: 'unaware' }, 20, undefined, undefined],
    [
      'of a switch without VLANs passes the rest',
      { mode: 'unaware' },
      'untagged',
      'untagged',
      'untagged',
    ],
    [
      'of a host hears untagged frames alone and passes nothing on',
      { mode: 'none' },
      'untagged',
      undefined,
      'untagged',
    ],
    ['of the line carries no VLAN of the site', { isLine: true }, 20, undefined, undefined],
  ])('%s', (_, more, form, out, into) =>
    expect([leaves(socket(more), form), enters(socket(more), form)]).toEqual([out, into]),
  )
  it('takes untagged frames into its VLAN', () => expect(enters(socket({}), 'untagged')).toBe(10))
})

it('hosts on an island hear each other', () => {
  const chance = chanceOf(45)
  const plan = randomSite(chance, smallShape(chance, 0.3))
  const model = siteModel(plan)
  expect(heardFrom(model, 'host-1').has('host-3')).toBe(true)
  expect(heardFrom(model, 'host-1').has('gw')).toBe(false)
  expect(wiredOf(model)).toBe(wiredOf(model))
})
