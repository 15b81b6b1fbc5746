import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { applyEdit, applyEdits, nextName, portIdOf, type SitePlan } from '..'

const like = (plan: SitePlan, likeId: string, name: string): SitePlan =>
  applyEdits(plan, [{ name: 'addDeviceLike', args: { likeId, id: 'second', name } }])

describe('the next of the same kind', () => {
  it('has all but name, address, coordinates and what its own label says', () => {
    const first = applyEdits(quayside(), [
      {
        name: 'changeDevice',
        args: {
          id: 'quay-ap',
          changes: { school: 'prepared', setUpBy: 'short-range', mode: 'access-point' },
        },
      },
    ])
    const plan = like(first, 'quay-ap', 'Slip AP')
    const [old, fresh] = [plan.devices['quay-ap']!, plan.devices.second!]
    expect(fresh).toEqual({
      ...old,
      id: 'second',
      name: 'Slip AP',
      serial: null,
      hardwareAddress: null,
      firmware: null,
      licencesHeld: [],
      place: null,
      stays: false,
      addressing: { ...old.addressing, address: null },
    })
    for (const p of plan.profiles[old.profileId]!.ports) {
      const { untaggedSegmentId, taggedSegmentIds } = plan.ports[portIdOf('quay-ap', p.name)]!
      expect(plan.ports[portIdOf('second', p.name)]).toMatchObject({
        deviceId: 'second',
        untaggedSegmentId,
        taggedSegmentIds,
      })
    }
    for (const w of Object.values(plan.wirelessNetworks))
      expect(w.accessPointIds.includes('second')).toBe(w.accessPointIds.includes('quay-ap'))
  })
  it('of one that is there keeps its own, and takes the rest', () => {
    const plan = applyEdits(quayside(), [
      {
        name: 'addDevice',
        args: {
          id: 'second',
          name: 'Slip AP',
          profileId: quayside().devices['quay-ap']!.profileId,
          serial: 'AM-ACC-55555',
        },
      },
      { name: 'takeAfter', args: { likeId: 'quay-ap', id: 'second' } },
    ])
    expect(plan.devices.second).toMatchObject({
      name: 'Slip AP',
      serial: 'AM-ACC-55555',
      addressing: {
        segmentId: quayside().devices['quay-ap']!.addressing.segmentId,
        address: null,
      },
    })
  })
  it.each([
    ['addDeviceLike', { likeId: 'nobody', id: 'x', name: 'X' }, /there is no device 'nobody'/],
    [
      'addDeviceLike',
      { likeId: 'switch', id: 'gateway', name: 'X' },
      /there is a device 'gateway'/,
    ],
    ['takeAfter', { likeId: 'switch', id: 'quay-ap' }, /of another kind than Cupboard switch/],
  ] as const)('%s %j is refused', (name, args, reason) =>
    expect(applyEdit(quayside(), { name, args } as never)).toMatchObject({
      ok: false,
      problems: [{ reason: expect.stringMatching(reason) }],
    }),
  )
})

it('the next name counts on', () => {
  const named = (...names: string[]): SitePlan => {
    const plan = structuredClone(quayside())
    names.forEach((name, i) => {
      plan.devices[`d${i}`] = { ...plan.devices.switch!, id: `d${i}`, name }
    })
    return plan
  }
  expect(nextName(named('AP'), 'AP')).toBe('AP 2')
  expect(nextName(named('AP', 'AP 2'), 'AP')).toBe('AP 3')
  expect(nextName(named('ap-09', 'ap-10'), 'ap-09')).toBe('ap-11')
})
