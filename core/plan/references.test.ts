import { enablePatches, produceWithPatches, type Draft } from 'immer'
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { chanceOf } from '../generator'
import { runPatches } from './edit'
import { applyEdits, editCall } from './edits'
import { kinds, singles } from './kinds'
import { idsAt, referenceProblems, referenceProblemsAfter } from './references'
import type { SitePlan } from './schema'

enablePatches()

type Pick = (of: object) => string
/**
 * Writes into every place where a plan refers to something: `own` picks an entity that is there,
 * `ref` an id that may not be.
 */
const writers: readonly ((d: Draft<SitePlan>, own: Pick, ref: Pick) => void)[] = [
  (d, own, ref) => {
    d.devices[own(d.devices)]!.addressing.segmentId = ref(d.segments)
  },
  (d, own, ref) => {
    d.devices[own(d.devices)]!.serviceIds.push(ref(d.services))
  },
  (d, own) => {
    d.devices[own(d.devices)]!.licencesHeld.push('routing')
  },
  (d, own, ref) => {
    d.devices[own(d.devices)]!.profileId = ref(d.profiles)
  },
  (d, own, ref) => {
    d.devices[own(d.devices)]!.locationId = ref(d.locations)
  },
  (d, own, ref) => {
    d.ports[own(d.ports)]!.untaggedSegmentId = ref(d.segments)
  },
  (d, own, ref) => {
    d.ports[own(d.ports)]!.taggedSegmentIds.push(ref(d.segments))
  },
  (d, own) => {
    d.ports[own(d.ports)]!.name = 'left'
  },
  (d, own, ref) => {
    d.ports[own(d.ports)]!.deviceId = ref(d.devices)
  },
  (d, own, ref) => {
    d.links[own(d.links)]!.a = ref(d.ports)
  },
  (d, own) => {
    d.links[own(d.links)]!.id = 'other'
  },
  (d, own, ref) => {
    d.uplinks[own(d.uplinks)]!.portId = ref(d.ports)
  },
  (d, own) => {
    d.segments[own(d.segments)]!.dhcp = { mode: 'relay', relayTo: null }
  },
  (d, own, ref) => {
    d.wirelessNetworks[own(d.wirelessNetworks)]!.accessPointIds.push(ref(d.devices))
  },
  (d, own, ref) => {
    d.wirelessNetworks[own(d.wirelessNetworks)]!.segmentId = ref(d.segments)
  },
  (d, own, ref) => {
    d.intents[own(d.intents)]!.to = ref(d.segments)
  },
  (d, own) => {
    d.services[own(d.services)]!.ports = []
  },
  (d, _, ref) => {
    d.controller.hostDeviceId = ref(d.devices)
  },
  (d, own) => {
    delete d.segments[own(d.segments)]
  },
  (d, own) => {
    delete d.devices[own(d.devices)]
  },
  (d, own) => {
    delete d.profiles[own(d.profiles)]
  },
  (d, own) => {
    d.links['twice'] = { ...d.links[own(d.links)]!, id: 'twice' }
  },
  (d, own) => {
    delete d.links[own(d.links)]
  },
  (d, own) => {
    delete d.intents[own(d.intents)]
  },
  (d, own) => {
    delete d.ports[own(d.ports)]
  },
  (d, own) => {
    const id = own(d.devices)
    d.segments[id] = { ...d.segments[own(d.segments)]!, id }
  },
  (d, own) => {
    const id = own(d.segments)
    d.locations[id] = { ...d.locations[own(d.locations)]!, id }
  },
  (d, own, ref) => {
    d.intents['new'] = { ...d.intents[own(d.intents)]!, id: 'new', to: ref(d.segments) }
  },
  (d, own, ref) => {
    d.uplinks['new'] = { ...d.uplinks[own(d.uplinks)]!, id: 'new', portId: ref(d.ports) }
  },
  (d, own) => {
    d.services['new'] = { ...d.services[own(d.services)]!, id: 'newer' }
  },
  (d, own, ref) => {
    const id = own(d.intents)
    d.intents[id] = { ...d.intents[id]!, from: ref(d.segments) }
  },
  (d, own) => {
    d.profiles[own(d.profiles)]!.ports.pop()
  },
  (d) => {
    d.site.name = 'Elsewhere'
  },
]

it(
  'after an edit, what its patches touch is enough: the same problems as in the whole, with ' +
    'random ids written into a plan that has everything',
  () => {
    const met = { without: 0, with: 0 }
    const plan = kittiwakeHarbour()
    expect(referenceProblems(plan)).toEqual([])
    for (let seed = 1; seed <= 20; seed++) {
      const chance = chanceOf(seed)
      for (const write of writers)
        for (let n = 0; n < 2; n++) {
          const own: Pick = (of) => chance.one(Object.keys(of))
          const ref: Pick = (of) => (chance.happens(0.2) ? 'gone' : own(of))
          const [next, patches] = produceWithPatches(plan, (d) => write(d, own, ref))
          const texts = (list: typeof whole): string[] =>
            list.map((p) => `${p.path.join('.')}: ${p.reason}`).sort()
          const whole = referenceProblems(next)
          expect(texts(referenceProblemsAfter(next, patches)), write.toString()).toEqual(
            texts(whole),
          )
          met[whole.length > 0 ? 'with' : 'without']++
        }
    }
    expect(Math.min(met.with, met.without)).toBeGreaterThan(200)
  },
)

describe('an id that leads nowhere', () => {
  const all = [
    ...kinds.map((k) => ({ top: k.collection as string, references: k.references })),
    ...singles.map((k) => ({ top: k.top as string, references: k.references })),
  ].flatMap(({ top, references }) => references.map((r) => [top, r.at, r] as const))
  it.each(all)('in %s, %s, is refused however it is written there', (top, at, reference) => {
    const harbour = kittiwakeHarbour()
    const plan = applyEdits(harbour, [
      editCall('setController', {
        elsewhere: { peerId: Object.keys(harbour.peers)[0]!, address: '10.99.0.5' },
      }),
      editCall('addGroup', {
        id: 'g',
        name: 'Group',
        memberIds: [Object.keys(harbour.devices)[0]!],
      }),
    ])
    // Found sound once: from then on only what patches touch is looked at.
    const sound = runPatches(plan, [{ op: 'replace', path: ['site', 'name'], value: 'X' }], 'x')
    if (!sound.ok) throw new Error('the plan itself is not sound')
    const part = sound.plan[top as 'devices'] as unknown as Record<string, object>
    const isSingle = top === 'site' || top === 'controller'
    const entityPaths = isSingle ? [[top]] : Object.keys(part).map((id) => [top, id])
    const entityOf = (path: string[]): object => (isSingle ? part : part[path[1]!]!)
    const each = entityPaths.map((path) => ({
      path,
      ids: [...idsAt(entityOf(path), reference)],
    }))
    // One that has it; a field that is empty everywhere takes one as well.
    const found = each.find((e) => e.ids.length > 0) ?? (at.endsWith('.*') ? undefined : each[0])
    if (!found) throw new Error(`no ${top} has ${at}`)
    const path = [...found.path, ...(found.ids[0]?.path ?? at.split('.'))]
    for (const op of ['add', 'replace'] as const) {
      const outcome = runPatches(sound.plan, [{ op, path, value: 'leads-nowhere' }], 'x')
      expect(outcome.ok, `${op} ${path.join('.')}`).toBe(false)
      if (!outcome.ok)
        expect(JSON.stringify(outcome.problems)).toMatch(/there is no .*leads-nowhere/)
    }
  })
})
