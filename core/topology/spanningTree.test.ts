import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { desiredConfiguration } from '../adoption'
import { findingsOf } from '../findings'
import { chanceOf, randomSite, smallShape } from '../generator'
import {
  editCall as edit,
  applyEdits,
  migrate,
  parsePlan,
  type EditCall,
  type SitePlan,
} from '../plan'
import { carriageOf, cablePath, pathCost, siteModel, spanningTreeOf } from '.'

const addSwitch = (id: string): EditCall =>
  edit('addDevice', {
    id,
    name: id,
    profileId: 'switch-8-poe-65',
    hardwareAddress: `02:00:00:00:aa:0${id.at(-1)}`,
    addressing: { mode: 'automatic', segmentId: 'management', address: null, gateway: null },
  })
const cable = (id: string, a: string, b: string): EditCall =>
  edit('addLink', { id, a, b, medium: 'copper', lengthM: 3 })
const all = ['office-net', 'cameras', 'visitors']
const carry = (...portIds: string[]): EditCall[] => [
  edit('setUntagged', { portIds, segmentId: 'management' }),
  ...all.map((segmentId) => edit('addTag', { segmentId, portIds })),
]
/** The gateway and three switches, each of which has a cable to every other. */
function ring(): SitePlan {
  return applyEdits(quayside(), [
    edit('removeLink', { id: 'l-kiosk' }),
    addSwitch('sw-1'),
    addSwitch('sw-2'),
    addSwitch('sw-3'),
    cable('l-a', 'gateway.2', 'sw-1.1'),
    cable('l-b', 'sw-1.2', 'sw-2.1'),
    cable('l-c', 'sw-2.2', 'sw-3.1'),
    cable('l-d', 'sw-3.2', 'sw-1.3'),
    ...carry('gateway.2', 'sw-1.1', 'sw-1.2', 'sw-2.1', 'sw-2.2', 'sw-3.1', 'sw-3.2', 'sw-1.3'),
  ])
}

describe('the spanning tree', () => {
  it('costs by speed are those of the standard (IEEE 802.1Q table 13-5)', () => {
    expect([10, 100, 1000, 10_000].map(pathCost)).toEqual([2_000_000, 200_000, 20_000, 2000])
  })
  it('has the bridge nearest to the gateway as its root, and blocks the cable that is the farthest from it', () => {
    const tree = spanningTreeOf(siteModel(ring()))
    expect([tree.rootId, tree.priorities.get('gateway'), [...tree.blocked]]).toEqual([
      'gateway',
      4096,
      ['sw-3.1'],
    ])
    expect(carriageOf(siteModel(ring()), 'visitors').at('sw-3')[0]!.inPortId).toBe('sw-3.2')
  })
  it('has another root where the site says so, and goes back to the nearest when that one goes', () => {
    const moved = applyEdits(ring(), [
      edit('changeSite', { preferences: { spanningTreeRootId: 'sw-2' } }),
    ])
    expect([
      spanningTreeOf(siteModel(moved)).rootId,
      [...spanningTreeOf(siteModel(moved)).blocked],
    ]).toEqual(['sw-2', ['sw-3.2']])
    const made = desiredConfiguration(siteModel(moved), 'sw-2', {})
    expect(made.ok && made.desired.configuration.system.spanningTree).toEqual({ priority: 4096 })
    const gone = applyEdits(moved, [edit('removeDevice', { id: 'sw-2' })])
    expect([
      gone.site.preferences.spanningTreeRootId,
      spanningTreeOf(siteModel(gone)).rootId,
    ]).toEqual([null, 'gateway'])
  })
  it(
    'a VLAN whose only way is the blocked cable does not get there, which is found, and the ' +
      'tag is offered on the other',
    () => {
      const plan = applyEdits(ring(), [
        edit('removeTag', { segmentId: 'visitors', portIds: ['sw-3.2', 'sw-1.3'] }),
      ])
      expect(carriageOf(siteModel(plan), 'visitors').at('sw-3')).toEqual([])
      expect(cablePath(siteModel(plan), 'sw-3')!.map(([a, b]) => `${a.id} ${b.id}`)).toEqual([
        'gateway.2 sw-1.1',
        'sw-1.3 sw-3.2',
      ])
      expect(findingsOf(plan).find((f) => f.ruleId === 'wiring/loop')).toMatchObject({
        severity: 'note',
        text: expect.stringMatching(/their spanning tree blocks sw-3 port 1/),
      })
    },
  )
  it('a switch that runs none is no help: the loop is a blocker again', () => {
    const { abilities, id } = quayside().profiles['switch-8-poe-65']!
    const plan = applyEdits(ring(), [
      edit('changeProfile', {
        id,
        changes: { abilities: abilities.filter((a) => a !== 'spanning-tree') },
      }),
    ])
    expect(findingsOf(plan).find((f) => f.ruleId === 'wiring/loop')).toMatchObject({
      severity: 'blocker',
    })
  })
  it('leaves every bridge with one way to the root, on any site', () => {
    let loops = 0
    for (let seed = 2; seed <= 400; seed += 2) {
      const chance = chanceOf(seed)
      const plan = randomSite(chance, smallShape(chance, 0.3))
      if (!plan.links['l-loop']) continue
      loops++
      const { blocked, rootId, priorities } = spanningTreeOf(siteModel(plan))
      const open = Object.values(plan.links)
        .map((l) => [l.a, l.b])
        .filter((ends) => !ends.some((p) => blocked.has(p)))
        .map((ends) => ends.map((p) => plan.ports[p]!.deviceId))
        .filter((ends) => ends.every((d) => priorities.has(d)))
      const seen = new Set([rootId!])
      for (const at of seen)
        for (const [a, b] of open) {
          if (a === at) seen.add(b!)
          if (b === at) seen.add(a!)
        }
      expect([seed, seen.size, open.length]).toEqual([seed, priorities.size, priorities.size - 1])
    }
    expect(loops).toBeGreaterThan(20)
  })
  it('plans of before are taken to run it where they were taken to before', () => {
    const old = JSON.parse(JSON.stringify({ ...quayside(), version: 4 })) as Record<string, never>
    const { groups, forwards, ...rest } = old
    const brought = migrate({
      ...rest,
      profiles: Object.fromEntries(
        Object.entries(quayside().profiles).map(([id, p]) => [
          id,
          { ...p, abilities: p.abilities.filter((a) => a !== 'spanning-tree') },
        ]),
      ),
      site: {
        ...quayside().site,
        preferences: { ...quayside().site.preferences, spanningTreeRootId: undefined },
      },
    })
    expect([groups, forwards]).toEqual([{}, {}])
    const parsed = brought.ok ? parsePlan(brought.document) : { ok: false as const }
    expect(
      parsed.ok && parsed.plan.profiles['switch-8-poe-65']!.abilities.includes('spanning-tree'),
    ).toBe(true)
  })
})
