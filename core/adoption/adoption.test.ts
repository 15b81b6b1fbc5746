import { describe, expect, it } from 'vitest'
import { configurationSchema } from '@mast/protocol'
import fc from 'fast-check'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits, catalogue, editCall } from '../plan'
import { siteModel } from '../topology'
import {
  adoptionStates,
  controllerUrl,
  desiredConfiguration,
  editDistance,
  nearestSerial,
  transition,
  transitions,
  waitingFor,
  type AdoptionEvent,
  type AdoptionState,
} from '.'

const walk = (from: AdoptionState, ...events: AdoptionEvent[]): AdoptionState =>
  events.reduce<AdoptionState>((s, e) => {
    const t = transition(s, e)
    if (!t.ok) throw new Error(t.reason)
    return t.state
  }, from)

describe('adoption states', () => {
  it('the usual way leads into service', () =>
    expect(
      walk('planned', 'power', 'hello', 'claim', 'fetch', 'report-loading', 'report-matching'),
    ).toBe('in-service'))
  it('a claim before the first call is kept', () =>
    expect(walk('planned', 'claim', 'hello', 'fetch', 'report-matching')).toBe('in-service'))
  it("drift is only what a device does behind the controller's back", () => {
    expect(walk('in-service', 'report-differing')).toBe('drifted')
    expect(walk('in-service', 'fetch', 'report-differing')).toBe('loading')
    expect(walk('drifted', 'report-matching')).toBe('in-service')
  })
  it('silence loses, a report finds again', () =>
    expect(walk('in-service', 'silence', 'report-matching')).toBe('in-service'))
  it('a claimed device that calls as if lost is not asked for a claim again', () =>
    expect(transition('lost', 'hello', true)).toMatchObject({ state: 'claimed' }))
  it('refuses what makes no sense, with a reason', () => {
    expect(transition('planned', 'report-matching')).toEqual({
      ok: false,
      reason: "a device that is planned cannot take 'report-matching'",
    })
    expect(transition('foreign', 'claim').ok).toBe(false)
  })
  it('every state can be left or is foreign, and every target is a state', () => {
    for (const [state, row] of Object.entries(transitions)) {
      for (const to of Object.values(row)) expect(adoptionStates).toContain(to)
      if (state !== 'foreign') expect(Object.values(row).some((to) => to !== state)).toBe(true)
    }
  })
  it('says one thing that each state waits for, and tells an error from patience', () => {
    const facts = { serial: 'AM-1', firmware: '1', firmwareWanted: '2', isHeard: true }
    expect(waitingFor({ ...facts, state: 'claimed' })).toEqual({
      text: 'the device to call for its configuration',
      isError: false,
    })
    expect(waitingFor({ ...facts, state: 'claimed', isHeard: false }).text).toMatch(/^power, and/)
    expect(waitingFor({ ...facts, state: 'loading' }).text).toBe('the device to load firmware 2')
    expect(adoptionStates.filter((state) => waitingFor({ ...facts, state }).isError)).toEqual([
      'drifted',
      'lost',
      'foreign',
    ])
    expect(waitingFor({ ...facts, state: 'planned', serial: null })).toMatchObject({
      isError: true,
    })
  })
})

describe('desired configuration', () => {
  const plan = quayside()
  const model = siteModel(plan)
  const secrets = { 'wifi-visitor-wifi': 'seagull-on-the-bollard' }
  const of = (id: string, m = model) => {
    const o = desiredConfiguration(m, id, secrets)
    if (!o.ok) throw new Error(o.missing.join())
    return o.desired
  }

  it('is what the protocol allows, for each adoptable device', () => {
    for (const id of ['gateway', 'switch', 'quay-ap'])
      expect(configurationSchema.safeParse(of(id).configuration).success).toBe(true)
  })
  it('of a radio for bridges says each path, and how its page arrives through what passes on', () => {
    const { adoptable } = catalogue['bridge-5ghz-managed']!
    const harbour = siteModel(
      applyEdits(kittiwakeHarbour(), [
        editCall('changeProfile', { id: 'bridge-5ghz-dish', changes: { adoptable } }),
      ]),
    )
    const light = harbour.plan.bridges['light-bridge']!
    const missing = desiredConfiguration(harbour, 'light-bridge-rock', {})
    expect(missing).toEqual({ ok: false, missing: ['the key of Light bridge'] })
    const known = desiredConfiguration(harbour, 'light-bridge-rock', {
      [light.b.keyRef]: 'eleven-geese-on-a-quay',
    })
    if (!known.ok) throw new Error(known.missing.join())
    const { configuration } = known.desired
    expect(configurationSchema.safeParse(configuration).success).toBe(true)
    const { role, channel, widthMhz, powerDbm, distance } = light.b
    expect(configuration).toMatchObject({
      kind: 'bridge-radio',
      ports: [],
      country: 'GB',
      paths: [
        {
          port: 'air',
          key: 'eleven-geese-on-a-quay',
          ...{ role, channel, widthMhz, powerDbm, distance },
        },
      ],
    })
    // The switch sends management to it with its tag or without, and so the page has to listen.
    const into = harbour.plan.ports['switch.8']!
    expect(configuration.kind === 'bridge-radio' && configuration.page.vlan).toBe(
      into.untaggedSegmentId === 'management' ? null : 10,
    )
  })
  it('says of every socket what it is there for, and whom it lets speak', () => {
    const c = of('switch').configuration
    const port = (name: string) => c.ports.find((p) => p.name === name)!
    expect(port('1')).toMatchObject({
      mode: 'trunk',
      description: 'Harbour gateway port 1',
      edgeGuard: false,
      leaseGuard: false,
      routerGuard: false,
      stormPercent: null,
    })
    expect(
      c.ports
        .filter((p) => p.mode === 'access' && !p.description.includes('AP'))
        .map((p) => [p.edgeGuard, p.leaseGuard, p.routerGuard, p.stormPercent]),
    ).toEqual(expect.arrayContaining([[true, true, true, 1]]))
    const parked = c.ports.filter((p) => p.mode === 'parked')
    expect(parked.length).toBeGreaterThan(0)
    for (const p of parked) expect([p.untagged, p.tagged, p.description]).toEqual([null, [], ''])
  })
  it('asks of a device only what its profile can', () => {
    const plain = siteModel(
      applyEdits(plan, [
        { name: 'changeProfile', args: { id: 'switch-8-poe-65', changes: { abilities: [] } } },
        {
          name: 'changeSite',
          args: {
            management: {
              banner: 'Ours',
              logTo: '10.20.10.2',
              backupEveryDays: null,
              monitoring: {
                user: 'watch',
                authenticationRef: 'monitoring-authentication',
                privacyRef: 'monitoring-privacy',
              },
            },
          },
        },
      ]),
    )
    const c = of('switch', plain).configuration
    expect(c.system).toMatchObject({
      hostName: 'cupboard-switch',
      timeZone: plan.site.timeZone,
      banner: 'Ours',
      logTo: null,
      monitoring: null,
      neighbours: false,
    })
    expect(
      c.ports.every(
        (p) => !p.edgeGuard && !p.leaseGuard && !p.routerGuard && p.stormPercent === null,
      ),
    ).toBe(true)
    expect(desiredConfiguration(plain, 'quay-ap', secrets)).toEqual({
      ok: false,
      missing: ['the passwords of monitoring'],
    })
    const withKeys = desiredConfiguration(plain, 'quay-ap', {
      ...secrets,
      'monitoring-authentication': 'halyard-and-cleat',
      'monitoring-privacy': 'cleat-and-halyard',
    })
    expect(withKeys).toMatchObject({
      ok: true,
      desired: {
        configuration: {
          system: {
            logTo: '10.20.10.2',
            monitoring: { user: 'watch', authentication: 'halyard-and-cleat' },
            neighbours: true,
          },
        },
      },
    })
  })
  it('lets a page answer to those who may administer and to whom an intent lets in', () => {
    expect(of('switch').configuration.system.pageFrom).toEqual([plan.segments.management!.subnet])
    const let1 = siteModel(
      applyEdits(plan, [
        {
          name: 'stateIntent',
          args: {
            id: 'in',
            from: 'office-net',
            to: 'management',
            services: ['svc-web'],
            action: 'allow',
          },
        },
      ]),
    )
    const pages = of('switch', let1).configuration.system.pageFrom
    expect(pages).toContain(let1.plan.segments['office-net']!.subnet)
    expect(pages).not.toContain(let1.plan.segments.visitors!.subnet)
  })
  it('has one digest for one intent, another when it changes', () => {
    expect(of('switch').digest).toBe(of('switch').digest)
    const changed = siteModel(
      applyEdits(plan, [
        { name: 'addTag', args: { segmentId: 'visitors', portIds: ['switch.2'] } },
      ]),
    )
    expect(of('switch', changed).digest).not.toBe(of('switch').digest)
    expect(of('gateway', changed).digest).toBe(of('gateway').digest)
  })
  it("gives the gateway leases with reservations, the line with its tag, and the controller's exact address", () => {
    const c = of('gateway').configuration
    if (c.kind !== 'gateway') throw new Error('not a gateway')
    expect(c.lines).toMatchObject([{ port: 'wan1', vlan: 35, priority: 1, mode: 'automatic' }])
    expect(c.segments[0]!.dhcp).toMatchObject({
      controllerUrl: 'http://10.20.10.2:8043',
      reservations: [
        { hardwareAddress: '02:4b:48:00:00:20' },
        { hardwareAddress: '02:4b:48:00:00:30' },
      ],
    })
    expect(c.segments[1]!.dhcp!.controllerUrl).toBeNull()
    expect(c.rules.at(-1)).toMatchObject({ chain: 'forward', verdict: 'drop' })
  })
  it('says what is missing instead of making something up', () => {
    expect(desiredConfiguration(model, 'quay-ap', {})).toEqual({
      ok: false,
      missing: ["the key of 'Berth and Breakfast'"],
    })
    const unknown = siteModel(
      applyEdits(plan, [
        { name: 'recordHandOff', args: { uplinkId: 'fibre', facts: { vlan: null } } },
      ]),
    )
    expect(desiredConfiguration(unknown, 'gateway', secrets)).toEqual({
      ok: false,
      missing: ['the hand-off tag of Harbour fibre'],
    })
    expect(desiredConfiguration(model, 'printer', secrets).ok).toBe(false)
  })
  it('the controller has no address while its host has none', () =>
    expect(
      controllerUrl(
        siteModel(applyEdits(plan, [{ name: 'setController', args: { hostDeviceId: null } }])),
      ),
    ).toBeNull())
})

describe('serials', () => {
  it('knows the distances of textbooks (Damerau 1964: one change, insertion, deletion or exchange)', () => {
    expect(editDistance('AM-1234', 'AM-1243')).toBe(1)
    expect(editDistance('kitten', 'sitting')).toBe(3)
    expect(editDistance('', 'abc')).toBe(3)
  })
  it('is symmetric and zero only for the same', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 8 }), fc.string({ maxLength: 8 }), (a, b) => {
        expect(editDistance(a, b)).toBe(editDistance(b, a))
        expect(editDistance(a, b) === 0).toBe(a === b)
      }),
    )
  })
  it('names the nearest within two edits', () => {
    expect(nearestSerial('AM-SWI-48275', ['AM-SWI-48274', 'AM-AP-48311'])).toEqual({
      serial: 'AM-SWI-48274',
      distance: 1,
    })
    expect(nearestSerial('ZZ-99', ['AM-SWI-48274'])).toBeUndefined()
  })
})
