import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import first from '../../tests/sites/petrelVersion1.json'
import { quayside } from '../../tests/sites/quayside'
import {
  applyEdit,
  applyEdits,
  editCall,
  canonicalJson,
  catalogue,
  createPlan,
  digestOf,
  doEdit,
  edits,
  emptyHistory,
  migrate,
  parsePlan,
  parsePlanText,
  PLAN_VERSION,
  floors,
  wirelessNetworks,
  type Profile,
  type Uplink,
  redo,
  runPatches,
  undo,
  type EditCall,
  type RawEdit,
  applyRawEdit,
  type SitePlan,
} from '.'

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const problemsOf = (change: (plan: SitePlan) => void): string[] => {
  const plan = copy(quayside())
  change(plan)
  const parsed = parsePlan(plan)
  return parsed.ok ? [] : parsed.problems.map((p) => `${p.path.join('.')}: ${p.reason}`)
}

describe('reading a plan', () => {
  it('accepts what it wrote', () =>
    expect(parsePlan(copy(quayside()))).toEqual({ ok: true, plan: quayside() }))

  it.each<[string, (p: SitePlan) => void, RegExp]>([
    [
      'a dangling profile',
      (p) => {
        p.devices.switch!.profileId = 'nothing'
      },
      /^devices\.switch\.profileId: there is no profile 'nothing'/,
    ],
    [
      'a dangling segment on a port',
      (p) => {
        p.ports['switch.2']!.taggedSegmentIds = ['gone']
      },
      /^ports\.switch\.2\.taggedSegmentIds\.0: there is no segment 'gone'/,
    ],
    [
      'a dangling end of a link',
      (p) => {
        p.links['l-ap']!.b = 'quay-ap.eth9'
      },
      /^links\.l-ap\.b: there is no port 'quay-ap\.eth9'/,
    ],
    [
      'a dangling intent',
      (p) => {
        p.intents['int-visitors-internet']!.from = 'guests'
      },
      /there is no segment, device, group, tunnel or peer 'guests'/,
    ],
    [
      'an id that differs from its key',
      (p) => {
        p.segments.cameras!.id = 'other'
      },
      /^segments\.cameras\.id: the id 'other' differs from its key/,
    ],
    [
      'an id used by two kinds',
      (p) => {
        p.locations.switch = { ...p.locations.quay!, id: 'switch' }
      },
      /^devices\.switch: the id 'switch' is used by a place already/,
    ],
    [
      'two plugs in one port',
      (p) => {
        p.links['l-desk']!.a = 'switch.2'
      },
      /the port 'switch\.2' has the cable 'l-ap' in it already/,
    ],
    [
      'a plug where the line is',
      (p) => {
        p.links['l-desk']!.a = 'gateway.wan1'
      },
      /the port 'gateway\.wan1' has the cable 'l-desk' in it already/,
    ],
    [
      'a cable from a device to itself',
      (p) => {
        p.links['l-desk']!.b = 'switch.3'
        delete p.links['l-controller']
      },
      /both ends are on the same device/,
    ],
    [
      'a VLAN id of 4095',
      (p) => {
        p.segments.cameras!.vlanId = 4095
      },
      /^segments\.cameras\.vlanId: VLAN ids end at 4094/,
    ],
    [
      'host bits in a subnet',
      (p) => {
        p.segments.cameras!.subnet = '10.20.40.1/24'
      },
      /host bits are set; the subnet is 10\.20\.40\.0\/24/,
    ],
    [
      'a cable of no length',
      (p) => {
        p.links['l-ap']!.lengthM = 0
      },
      /a cable has a length/,
    ],
    [
      'a network name beyond 32 octets',
      (p) => {
        p.wirelessNetworks['visitor-wifi']!.name = 'é'.repeat(17)
      },
      /at most 32 octets/,
    ],
    [
      'an intent from a segment to itself',
      (p) => {
        p.intents['int-visitors-internet']!.to = 'visitors'
      },
      /traffic inside a segment does not pass the gateway/,
    ],
    [
      'ports on ICMP',
      (p) => {
        p.services['svc-ping']!.ports = [1]
      },
      /ICMP has no ports/,
    ],
    [
      'something unknown',
      (p) => {
        ;(p.site as Record<string, unknown>).colour = 'red'
      },
      /^site\.colour: .*colour/,
    ],
    [
      'a missing port of a profile',
      (p) => {
        delete p.ports['switch.8']
        delete p.links['l-printer']
      },
      /its profile has a port '8'/,
    ],
  ])('refuses %s with path and reason', (_, change, reason) =>
    expect(problemsOf(change).join('\n')).toMatch(reason),
  )

  it('points at line and column', () => {
    const text = JSON.stringify(quayside(), null, 2).replace('"vlanId": 40', '"vlanId": 0')
    const parsed = parsePlanText(text)
    const line = text.split('\n').findIndex((l) => l.includes('"vlanId": 0')) + 1
    expect(parsed).toMatchObject({
      ok: false,
      problems: [{ line, column: 17, path: ['segments', 'cameras', 'vlanId'] }],
    })
  })
  it('finds ids that stand twice in the text, which JSON.parse would swallow', () => {
    expect(parsePlanText('{\n "version": 1,\n "devices": { "a": 1, "a": 2 }\n}')).toMatchObject({
      ok: false,
      problems: [{ line: 3, column: 23, reason: "'a' stands here twice; ids must be unique" }],
    })
  })
  it.each([
    ['', 'the file is empty'],
    ['{', 'a closing brace is expected'],
    ['[1]', 'a plan is a JSON object'],
    ['{"version": 1, // hm\n}', 'JSON has no comments'],
    ['{"a": }', 'a value is expected'],
  ])('says what is wrong with %j', (text, reason) => {
    const parsed = parsePlanText(text)
    expect(parsed.ok ? [] : parsed.problems.map((p) => p.reason)).toContain(reason)
  })
})

describe('versions', () => {
  it('runs the steps in order and writes the version', () => {
    const steps = {
      1: (d: object) => ({ ...d, one: true }),
      2: (d: object) => ({ ...d, two: 'one' in d }),
    }
    expect(migrate({ version: 1 }, 3, steps)).toEqual({
      ok: true,
      from: 1,
      document: { version: 3, one: true, two: true },
    })
  })
  it('of the second knows in the third what runs on a host, and sets power aside by class', () => {
    const old = copy(quayside()) as unknown as {
      version: number
      profiles: Record<string, Record<string, unknown>>
    }
    old.version = 2
    for (const p of Object.values(old.profiles)) {
      p.radios = (p.air as unknown[]).length
      delete p.system
      delete p.poeAllocation
    }
    old.profiles['own-computer'] = { ...old.profiles['wired-host']!, id: 'own-computer' }
    const parsed = parsePlan(old)
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(
      Object.entries(parsed.plan.profiles)
        .filter(([, p]) => p.system === 'linux')
        .map(([id]) => id)
        .sort(),
    ).toEqual(['controller-host', 'own-computer', 'wired-host'])
    expect(new Set(Object.values(parsed.plan.profiles).map((p) => p.poeAllocation))).toEqual(
      new Set(['class']),
    )
  })
  it('of the fifth knows in the sixth that nobody was asked how lines are tested', () => {
    const old = copy(quayside()) as unknown as {
      version: number
      site: Record<string, unknown>
      uplinks: Record<string, object>
      profiles: Record<string, Record<string, unknown>>
    }
    old.version = 5
    for (const p of Object.values(old.profiles)) p.radios = (p.air as unknown[]).length
    delete old.site.failover
    old.uplinks = Object.fromEntries(
      Object.entries(old.uplinks as Record<string, Uplink>).map(
        ([id, { name, rank, portId, handOff }]) => [id, { id, name, rank, portId, handOff }],
      ),
    )
    const parsed = parsePlan(old)
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    const withoutRadios = (plan: SitePlan) => ({
      ...plan,
      profiles: Object.values(plan.profiles).map((p) => ({ ...p, air: [] })),
    })
    expect(withoutRadios(parsed.plan)).toEqual(withoutRadios(quayside()))
    expect(parsed.plan.uplinks.fibre).toMatchObject({ watch: null, parts: [], standby: 'hot' })
  })
  it('of the seventh has in the eighth a radio for each band that there were radios for', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    for (const c of ['floors', 'walls', 'areas', 'clientTypes']) Reflect.deleteProperty(old, c)
    const counts: Record<string, number> = {}
    old.profiles = Object.fromEntries(
      Object.entries(old.profiles as Record<string, Profile>).map(([id, { air, ...p }]) => {
        counts[id] = air.length
        return [id, { ...p, radios: air.length }]
      }),
    )
    for (const d of Object.values(old.devices!))
      for (const field of ['place', 'radios']) Reflect.deleteProperty(d, field)
    const parsed = parsePlan({ ...old, version: 7 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    for (const [id, p] of Object.entries(parsed.plan.profiles))
      expect(p.air).toHaveLength(counts[id]!)
    expect(parsed.plan.profiles['ap-outdoor-2x2']!.air.map((r) => r.bands)).toEqual([
      ['2.4'],
      ['5'],
    ])
    expect(parsed.plan.floors).toEqual({})
  })
  it('of the eighth has in the ninth access points that stay where they hang, and plain networks', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    for (const c of ['walks', 'scans']) Reflect.deleteProperty(old, c)
    Reflect.deleteProperty(old.site!, 'wireless')
    for (const d of Object.values(old.devices!))
      for (const field of ['mode', 'listensToId']) Reflect.deleteProperty(d, field)
    for (const w of Object.values(old.wirelessNetworks!))
      for (const field of Object.keys(wirelessNetworks.blank)) Reflect.deleteProperty(w, field)
    old.floors = { yard: { ...floors.blank, id: 'yard', name: 'Yard' } }
    Reflect.deleteProperty(old.floors.yard!, 'outlets')
    Object.assign(old.devices!['quay-ap']!, {
      place: { floorId: 'yard', x: 1, y: 2, heightM: 3, degrees: 4 },
    })
    const parsed = parsePlan({ ...old, version: 8 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(parsed.plan.devices['quay-ap']!.place).toEqual({
      floorId: 'yard',
      ...{ x: 1, y: 2, heightM: 3, degrees: 4, stays: true },
    })
    expect(parsed.plan.wirelessNetworks).toEqual(quayside().wirelessNetworks)
    expect(parsed.plan.site).toEqual(quayside().site)
  })
  it('of the ninth has in the tenth the level that was usual from which on networks lead up', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    for (const w of Object.values(old.wirelessNetworks!)) Reflect.deleteProperty(w, 'leadsUpDbm')
    const parsed = parsePlan({ ...old, version: 9 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(parsed.plan.wirelessNetworks).toEqual(quayside().wirelessNetworks)
    expect(Object.values(parsed.plan.wirelessNetworks).map((w) => w.leadsUpDbm)).toContain(-70)
  })
  it('of the eleventh has in the twelfth plans of the place of which nobody said where they lie', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    old.floors = { yard: { ...floors.blank, id: 'yard', name: 'Yard', widthM: 9, depthM: 9 } }
    for (const f of Object.values(old.floors)) Reflect.deleteProperty(f, 'lies')
    for (const c of ['tunnels', 'peers']) Reflect.deleteProperty(old, c)
    const parsed = parsePlan({ ...old, version: 11 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(parsed.plan.floors.yard!.lies).toBeNull()
    expect([parsed.plan.tunnels, parsed.plan.peers]).toEqual([{}, {}])
  })
  it('of the twelfth has in the thirteenth its controller here, and tunnels with their first address', () => {
    const dynamicName = { how: 'update' as const, server: 'ns.example.org', ttlSeconds: 300 }
    const now = applyEdits(
      quayside(),
      ['road', 'shop'].map((id) =>
        editCall('addTunnel', {
          id,
          name: id,
          hostDeviceId: 'gateway',
          dynamicName: id === 'road' ? { ...dynamicName, keyRef: '' } : null,
        }),
      ),
    )
    const old = copy(now) as unknown as Record<string, Record<string, object>>
    Reflect.deleteProperty(old.controller!, 'elsewhere')
    for (const t of Object.values(old.tunnels!)) Reflect.deleteProperty(t, 'address')
    Object.assign(old.tunnels!.road!, { dynamicName })
    const parsed = parsePlan({ ...old, version: 12 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(parsed.plan).toEqual(now)
  })
  it('of the thirteenth has in the fourteenth devices for which nobody chose how they are set up', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    for (const p of Object.values(old.profiles!)) Reflect.deleteProperty(p, 'setUp')
    for (const d of Object.values(old.devices!))
      for (const field of ['school', 'setUpAt', 'setUpBy']) Reflect.deleteProperty(d, field)
    const parsed = parsePlan({ ...old, version: 13 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    expect(parsed.plan.devices).toEqual(quayside().devices)
    expect(parsed.plan.profiles['gateway-4-2']!.setUp).toEqual({
      ways: ['cable'],
      resetSeconds: null,
      lamp: '',
      antennas: [],
      display: [],
    })
  })
  it('of the fourteenth has in the fifteenth a controller that is always on, and no watchdogs', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    for (const field of ['hosted', 'runs', 'accounts', 'bootstrap'])
      Reflect.deleteProperty(old.controller!, field)
    for (const d of Object.values(old.devices!))
      for (const field of ['watchdog', 'firmwareWanted']) Reflect.deleteProperty(d, field)
    Reflect.deleteProperty(old.site!.management!, 'backupEveryDays')
    for (const p of Object.values(old.profiles!) as unknown as { setUp: object }[])
      Reflect.deleteProperty(p.setUp, 'antennas')
    const parsed = parsePlan({ ...old, version: 14 })
    if (!parsed.ok) throw new Error(parsed.problems[0]!.reason)
    const { site } = quayside()
    expect(parsed.plan).toEqual({
      ...quayside(),
      site: { ...site, management: { ...site.management, backupEveryDays: null } },
    })
    expect(parsed.plan.controller).toMatchObject({ runs: 'always', accounts: 'local' })
  })
  it('of the fifteenth has in the sixteenth a controller that serves nobody from their box', () => {
    const old = copy(quayside()) as unknown as Record<string, Record<string, object>>
    Reflect.deleteProperty(old.controller!, 'bootstrap')
    const parsed = parsePlan({ ...old, version: 15 })
    expect(parsed.ok && parsed.plan).toEqual(quayside())
    expect(quayside().controller.bootstrap).toBeNull()
  })
  it('refuses what it cannot bring up', () => {
    expect(migrate({ version: 1 }, 3, {})).toMatchObject({
      ok: false,
      reason: 'there is no way from version 1 to 2',
    })
    expect(migrate({ version: PLAN_VERSION + 1 })).toMatchObject({
      ok: false,
      reason: expect.stringContaining('update the program'),
    })
    expect(migrate({})).toMatchObject({ ok: false })
    expect(parsePlan({ version: 1 })).toMatchObject({
      ok: false,
      problems: [{ reason: expect.stringContaining('this is not a plan of version 1') }],
    })
    expect(parsePlan({ version: 1, site: null, segments: 5, profiles: { a: null } })).toMatchObject(
      { ok: false },
    )
    expect(parsePlan({ ...copy(quayside()), version: PLAN_VERSION + 1 })).toMatchObject({
      ok: false,
      problems: [{ path: ['version'] }],
    })
  })
})

const segmentIds = Object.keys(quayside().segments)
const portIds = ['gateway.1', 'gateway.2', 'switch.1', 'switch.2', 'switch.5', 'quay-ap.eth0']
/** Of names that there are, with arguments of their kinds. */
const anyEdit: fc.Arbitrary<EditCall> = fc.oneof(
  fc.record({
    name: fc.constantFrom('addTag' as const, 'removeTag' as const),
    args: fc.record({
      segmentId: fc.constantFrom(...segmentIds),
      portIds: fc.subarray(portIds, { minLength: 1 }),
    }),
  }),
  fc.record({
    name: fc.constant('setUntagged' as const),
    args: fc.record({
      segmentId: fc.option(fc.constantFrom(...segmentIds)),
      portIds: fc.subarray(portIds, { minLength: 1 }),
    }),
  }),
  fc.record({
    name: fc.constant('allocateSegments' as const),
    args: fc.record({ segmentIds: fc.subarray(segmentIds, { minLength: 1 }) }),
  }),
  fc.record({
    name: fc.constant('changeSegment' as const),
    args: fc.record({
      id: fc.constantFrom(...segmentIds),
      changes: fc.record({
        expectedHosts: fc.integer({ min: 1, max: 900 }),
        vlanId: fc.integer({ min: 1, max: 4094 }),
      }),
    }),
  }),
  fc.record({
    name: fc.constant('removeDevice' as const),
    args: fc.record({ id: fc.constantFrom('switch', 'quay-ap', 'printer', 'controller') }),
  }),
  fc.record({
    name: fc.constant('replaceDevice' as const),
    args: fc.record({
      id: fc.constantFrom('switch', 'gateway', 'quay-ap', 'kiosk-switch', 'controller'),
      profileId: fc.constantFrom(
        'switch-24-poe-190',
        'switch-8-poe-65',
        'switch-5-plain',
        'gateway-4-2',
        'ap-indoor-2x2',
        'wired-host',
      ),
    }),
  }),
  fc.record({
    name: fc.constant('removeSegment' as const),
    args: fc.record({ id: fc.constantFrom(...segmentIds) }),
  }),
  fc.record({
    name: fc.constant('denyPairs' as const),
    args: fc.record({
      from: fc.constant('visitors'),
      to: fc.subarray(['management', 'office-net', 'cameras'], { minLength: 1 }),
      reason: fc.constant(''),
    }),
  }),
  fc.record({
    name: fc.constant('stateIntent' as const),
    args: fc.record({
      id: fc.constant('x-intent'),
      from: fc.constantFrom(...segmentIds),
      to: fc.constant('internet' as const),
      services: fc.constantFrom<'any' | string[]>('any', ['svc-web', 'svc-dns']),
      action: fc.constantFrom('allow' as const, 'deny' as const),
    }),
  }),
)

describe('profiles', () => {
  const change = (id: string, changes: object) =>
    applyEdit(
      applyEdits(quayside(), [
        { name: 'addProfile', args: { ...catalogue['switch-5-plain']!, id: 'own', name: 'Own' } },
      ]),
      { name: 'changeProfile', args: { id, changes } },
    )
  const renamed = catalogue['switch-5-plain']!.ports.map((p) => ({ ...p, name: `x${p.name}` }))
  it('take other sockets and another kind while no device is of them, and keep both while one is', () => {
    expect(change('own', { ports: renamed, kind: 'gateway' }).ok).toBe(true)
    const [sockets, kind] = [
      change('switch-5-plain', { ports: renamed }),
      change('switch-5-plain', { kind: 'gateway' }),
    ]
    expect([sockets, kind].map((o) => (o.ok ? '' : o.problems[0]!.reason))).toEqual([
      expect.stringMatching(/keep their names while a device is of it, and Kiosk switch is/),
      expect.stringMatching(/^Kiosk switch is of this profile/),
    ])
    expect(
      change('switch-5-plain', {
        ports: catalogue['switch-5-plain']!.ports.map((p) => ({ ...p, speedMbps: 2500 })),
      }).ok,
    ).toBe(true)
  })
})

describe('another model in the place of a device', () => {
  const replaced = (id: string, profileId: string) =>
    applyEdit(quayside(), { name: 'replaceDevice', args: { id, profileId } })
  it('keeps the cables, what their sockets carry, the name and the address; what stood on the old label goes', () => {
    const before = quayside()
    const outcome = replaced('switch', 'switch-24-poe-190')
    if (!outcome.ok) throw new Error(outcome.problems[0]!.reason)
    const { plan } = outcome
    expect(plan.links).toEqual(before.links)
    expect(plan.ports['switch.2']).toEqual(before.ports['switch.2'])
    expect(Object.values(plan.ports).filter((p) => p.deviceId === 'switch')).toHaveLength(26)
    expect(plan.devices.switch).toMatchObject({
      name: 'Cupboard switch',
      profileId: 'switch-24-poe-190',
      serial: null,
      hardwareAddress: null,
      addressing: before.devices.switch!.addressing,
    })
  })
  it('moves a plug whose socket the other one has not to the first free socket of its kind', () => {
    const outcome = applyEdit(
      applyEdits(quayside(), [
        {
          name: 'movePlug',
          args: { linkId: 'l-till', fromPortId: 'kiosk-switch.2', toPortId: 'kiosk-switch.5' },
        },
        { name: 'removeLink', args: { id: 'l-kiosk' } },
      ]),
      { name: 'replaceDevice', args: { id: 'kiosk-switch', profileId: 'gateway-4-2' } },
    )
    expect(outcome.ok && outcome.plan.links['l-till']).toMatchObject({ a: 'kiosk-switch.1' })
  })
  it('is refused where it has too few sockets, and where there is no such device or profile', () => {
    const why = (o: ReturnType<typeof applyEdit>): string => (o.ok ? '' : o.problems[0]!.reason)
    expect(why(replaced('switch', 'switch-5-plain'))).toMatch(
      /Switch 5 plain has too few sockets of the kinds that are in use on Cupboard switch/,
    )
    expect(why(replaced('gateway', 'switch-8-poe-65'))).toMatch(/too few sockets of the kinds/)
    expect(why(replaced('nobody', 'switch-5-plain'))).toMatch(/no device 'nobody'/)
    expect(why(replaced('switch', 'nothing'))).toMatch(/no profile 'nothing'/)
  })
})

describe('edits', () => {
  it('leave a valid plan, never change their input, and every inverse takes them back', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { maxLength: 8 }), (calls) => {
        let plan = quayside()
        for (const call of calls) {
          const before = copy(plan)
          const outcome = applyEdit(plan, call)
          expect(plan).toEqual(before)
          if (!outcome.ok) {
            expect(outcome.problems[0]!.reason).not.toBe('')
            continue
          }
          expect(parsePlan(copy(outcome.plan)).ok).toBe(true)
          const back = runPatches(outcome.plan, outcome.inverse, 'back')
          expect(back.ok && back.plan).toEqual(plan)
          const again = runPatches(plan, outcome.patches, 'again')
          expect(again.ok && again.plan).toEqual(outcome.plan)
          plan = outcome.plan
        }
      }),
      { numRuns: 60 },
    )
  })
  it('undo and redo walk the same way back and forth', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { minLength: 1, maxLength: 6 }), (calls) => {
        let plan = quayside()
        let history = emptyHistory
        const states = [plan]
        for (const call of calls) {
          const done = doEdit(plan, history, call)
          if (!done.outcome.ok || done.outcome.patches.length === 0) continue
          plan = done.outcome.plan
          history = done.history
          states.push(plan)
        }
        for (const walk of [undo, redo]) {
          const expected = walk === undo ? [...states].reverse().slice(1) : states.slice(1)
          for (const state of expected) {
            const step = walk(plan, history)!
            if (!step.outcome.ok) throw new Error('refused')
            plan = step.outcome.plan
            history = step.history
            expect(plan).toEqual(state)
          }
          expect(walk(plan, history)).toBeUndefined()
        }
      }),
      { numRuns: 40 },
    )
  })
  it('a new edit forgets what was undone', () => {
    const plan = createPlan('x')
    const done = doEdit(plan, emptyHistory, { name: 'changeSite', args: { name: 'y' } })
    const back = undo((done.outcome as { plan: SitePlan }).plan, done.history)!
    expect(back.history.undone).toHaveLength(1)
    expect(
      doEdit(plan, back.history, { name: 'changeSite', args: { name: 'z' } }).history.undone,
    ).toHaveLength(0)
  })
  it('removing a segment takes along all that would dangle', () => {
    const plan = applyEdits(quayside(), [{ name: 'removeSegment', args: { id: 'visitors' } }])
    expect(JSON.stringify(plan)).not.toContain('"visitors"')
    expect(plan.wirelessNetworks).toEqual({})
    expect(plan.devices['visitor-phone']!.wirelessNetworkId).toBeNull()
  })
  it.each<[string, RawEdit, RegExp]>([
    ['an unknown edit', { name: 'paint', args: {} }, /there is no edit 'paint'/],
    [
      'arguments of the wrong kind',
      { name: 'addTag', args: { segmentId: 'visitors', portIds: [] } },
      /./,
    ],
    [
      'a device twice',
      { name: 'addDevice', args: { id: 'switch', name: 'x', profileId: 'switch-5-plain' } },
      /there is a device 'switch' already/,
    ],
    [
      'an unknown profile',
      { name: 'addDevice', args: { id: 'new', name: 'x', profileId: 'kettle' } },
      /there is no profile 'kettle'; the catalogue has/,
    ],
    [
      'a tag where it is untagged',
      { name: 'addTag', args: { segmentId: 'management', portIds: ['switch.2'] } },
      /carries this segment untagged already/,
    ],
    [
      'a space that is too small',
      { name: 'allocateSegments', args: { segmentIds: ['visitors'] } },
      /no \/23 is left in 10\.20\.0\.0\/24 for Visitors/,
    ],
    [
      'a patch into nowhere',
      { name: 'changeSegment', args: { id: 'none', changes: {} } },
      /there is no segment 'none'/,
    ],
  ])('refuse %s with a reason', (_, call, reason) => {
    const plan =
      call.name === 'allocateSegments'
        ? applyEdits(quayside(), [
            { name: 'setAddressSpace', args: { addressSpace: ['10.20.0.0/24'] } },
          ])
        : quayside()
    const outcome = applyRawEdit(plan, call)
    expect(outcome.ok ? '' : outcome.problems.map((p) => p.reason).join()).toMatch(reason)
  })
  it('patches cannot reach beside the plan', () => {
    expect(
      runPatches(
        createPlan('x'),
        [{ op: 'replace', path: ['version'], value: PLAN_VERSION + 1 }],
        '',
      ).ok,
    ).toBe(false)
    expect(
      runPatches(createPlan('x'), [{ op: 'add', path: ['devices', 'd'], value: { id: 'd' } }], '')
        .ok,
    ).toBe(false)
    expect(({} as Record<string, unknown>).polluted).toBeUndefined()
  })
  it('all say in words what they do', () => {
    for (const [name, e] of edits) expect(e.name).toBe(name)
    const outcome = applyEdit(quayside(), {
      name: 'addTag',
      args: { segmentId: 'visitors', portIds: ['switch.2'] },
    })
    expect(outcome.ok && outcome.summary).toBe('Tag VLAN 90 Visitors on Cupboard switch port 2')
  })
  it('every profile of the catalogue makes a valid device', () => {
    for (const id of Object.keys(catalogue))
      expect(
        applyEdit(createPlan('x'), {
          name: 'addDevice',
          args: { id: 'd', name: 'D', profileId: id },
        }).ok,
        id,
      ).toBe(true)
  })
})

it('equal values have equal texts whatever the order of their keys', () => {
  expect(canonicalJson({ b: [1, { d: null, c: 'x' }], a: undefined })).toBe(
    '{"b":[1,{"c":"x","d":null}]}',
  )
  fc.assert(
    fc.property(fc.dictionary(fc.string(), fc.integer()), (d) => {
      expect(digestOf(d)).toBe(digestOf(Object.fromEntries(Object.entries(d).reverse())))
    }),
  )
})

describe('a plan of version 1', () => {
  it('is brought up with nothing lost', () => {
    const parsed = parsePlan(structuredClone(first))
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems))
    const shop = parsed.plan.segments['shop-net']!
    expect(shop).toMatchObject({
      subnet: '192.168.1.0/24',
      pools: [{ first: '192.168.1.10', last: '192.168.1.254' }],
      dhcp: { mode: 'server', relayTo: null },
      churn: null,
      locked: false,
    })
    expect(parsed.plan.uplinks.cable).toMatchObject({
      rank: 0,
      handOff: { providerLan: '192.168.1.0/24', ipv6: null, cap: null, pppoeUser: null },
    })
    // What was used in VLAN 1 before is not complained of now.
    expect(parsed.plan.site.preferences).toMatchObject({
      vlanOne: 'used',
      gatewayPosition: 'first',
      growthYears: 3,
    })
    expect(Object.keys(parsed.plan.devices)).toEqual(Object.keys(first.devices))
    expect(parsePlan(JSON.parse(JSON.stringify(parsed.plan)))).toEqual(parsed)
  })
  it('leaves out nothing that a segment without a pool was: it hands out no leases', () => {
    const without = structuredClone(first) as unknown as {
      segments: Record<string, { pool: unknown }>
    }
    without.segments['shop-net']!.pool = null
    const parsed = parsePlan(without)
    expect(parsed.ok && parsed.plan.segments['shop-net']).toMatchObject({
      pools: [],
      dhcp: { mode: 'off' },
    })
  })
})
