import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits, createPlan, plainLine, unknownHandOff, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { gateFacts, mayUnplug } from '../survey'
import {
  inOrder,
  outdatedOn,
  runSheetOf,
  saysOf,
  scheduleOf,
  stepOf,
  travelIn,
  whyBlocked,
  type Step,
} from '.'
import { formatDuration } from '../words'

const step = (id: string, needs: string[], workSeconds: number, waitSeconds: number): Step =>
  stepOf({ id, kind: id, title: id, needs, workSeconds, waitSeconds })

describe('the gate', () => {
  const uplink = {
    id: 'u',
    name: 'Line',
    rank: 0,
    portId: null,
    handOff: unknownHandOff,
    ...plainLine,
  }
  it('is shut while a fact is unknown, and says where to find it', () => {
    expect(mayUnplug(uplink)).toBe(false)
    for (const f of gateFacts(uplink)) expect(f.where.length).toBeGreaterThan(5)
  })
  it('asks for our address only where it is fixed, for a priority only where there is a tag', () => {
    const keys = (h: object): string[] =>
      gateFacts({ ...uplink, handOff: { ...unknownHandOff, ...h } }).map((f) => f.key)
    expect(keys({ mode: 'fixed' })).toContain('address')
    expect(keys({ mode: 'automatic' })).not.toContain('address')
    expect(keys({ vlan: 'untagged' })).not.toContain('priority')
    expect(keys({ vlan: 35 })).toContain('priority')
  })
  it('opens for the harbour', () => expect(mayUnplug(quayside().uplinks.fibre!)).toBe(true))
})

describe('the run sheet', () => {
  const steps = runSheetOf(siteModel(quayside()))
  const at = (id: string): number => steps.findIndex((s) => s.id === id)

  it('puts each step after all that it needs', () =>
    steps.forEach((s, i) =>
      s.needs.forEach((n) => expect(at(n), `${s.id} needs ${n}`).toBeLessThan(i)),
    ))
  it.each([
    ['record-hand-off', 'unplug-old'],
    ['gateway.laptop', 'gateway.password'],
    ['gateway.password', 'gateway.firmware'],
    ['gateway.firmware', 'gateway.configure'],
    ['quay-ap.firmware', 'laptop-automatic'],
    ['laptop-automatic', 'unplug-old'],
    ['unplug-old', 'plug-line'],
    ['gateway.claim', 'gateway.verify'],
    ['gateway.verify', 'gateway.backup'],
    ['switch.verify', 'quay-ap.cable'],
    // Everything is verified behind the new gateway before the old router goes.
    ['quay-ap.verify', 'unplug-old'],
    ['switch.backup', 'unplug-old'],
    ['plug-line', 'switch.hosts-on'],
    ['switch.hosts-on', 'prove'],
    // An unconfigured switch is one VLAN: hosts come after it is verified.
    ['switch.verify', 'switch.host-leads'],
    ['switch.host-leads', 'switch.hosts-on'],
    // Nothing is looked for before what carries it hangs.
    ['gateway.cable', 'controller-on'],
    ['switch.cable', 'controller-on'],
    ['controller-on', 'gateway.claim'],
    ['plain-switches', 'kiosk-switch.hosts-on'],
    ['switch.cable', 'gateway.claim'], // the controller hangs on the switch, so nobody can call it before
  ])('%s comes before %s', (a, b) => expect(at(a)).toBeLessThan(at(b)))
  it("gives the laptop an address of the device's factory subnet that is not the device's own", () => {
    expect(steps.find((s) => s.id === 'gateway.laptop')!.words[0]).toEqual({
      label: 'Laptop address',
      text: '192.168.1.10/24',
    })
    expect(steps.find((s) => s.id === 'switch.laptop')!.words[0]!.text).toBe('192.168.2.10/24')
  })
  it('carries cautions where somebody could be hurt', () => {
    expect(steps.find((s) => s.id === 'quay-ap.cable')!.safety).toMatch(
      /Work at height: never alone/,
    )
    for (const s of steps.filter((x) => /bench-power$/.test(x.id)))
      expect(s.safety).toMatch(/Mains/)
  })
  it('warns not to cut power while firmware is written', () => {
    for (const s of steps.filter((x) => x.id.endsWith('.firmware')))
      expect(s.whileWaiting).toMatch(/do not cut the power/)
  })
  it('is blocked where a serial or a fact is missing', () => {
    const plan = applyEdits(quayside(), [
      { name: 'changeDevice', args: { id: 'switch', changes: { serial: null } } },
      { name: 'recordHandOff', args: { uplinkId: 'fibre', facts: { mtu: null } } },
    ])
    const sheet = runSheetOf(siteModel(plan))
    expect(sheet.find((s) => s.id === 'read-labels')!.blockedBy).toEqual({
      says: 'No serial yet for Cupboard switch: enter it in',
      sheet: 'survey',
    })
    expect(whyBlocked(sheet.find((s) => s.id === 'record-hand-off')!)).toMatch(
      /before anything is unplugged complete them in Survey\./,
    )
  })
  it('records every fact that the gate asks for, the password from the vault', () => {
    const plan = applyEdits(quayside(), [
      {
        name: 'recordHandOff',
        args: {
          uplinkId: 'fibre',
          facts: { mode: 'pppoe', pppoeUser: 'harbour@isp', forcedSpeedMbps: 100 },
        },
      },
    ])
    const words = runSheetOf(siteModel(plan)).find((s) => s.id === 'record-hand-off')!.words
    expect(words.map((w) => w.label)).toEqual(gateFacts(plan.uplinks.fibre!).map((f) => f.label))
    expect(words).toContainEqual({ label: 'PPPoE account', text: 'harbour@isp' })
    expect(words).toContainEqual({ label: 'Speed of the socket', text: '100' })
    expect(words).toContainEqual({ label: 'PPPoE password', text: 'not known yet' })
  })
  it('proves before and after everything was without power, and neither can be said undone', () => {
    expect(steps.slice(-3).map((s) => [s.id, s.follows?.kind ?? s.action?.kind])).toEqual([
      ['prove', 'proof'],
      ['restart', 'plug'],
      ['prove-again', 'proof'],
    ])
  })
  it('without a controller sets everything up by its own page, and claims nothing', () => {
    const plan = applyEdits(quayside(), [{ name: 'setController', args: { hostDeviceId: null } }])
    const alone = runSheetOf(siteModel(plan))
    const kinds = new Set(alone.map((s) => s.kind))
    for (const kind of ['configure', 'place', 'plug-line', 'hosts-on', 'prove'])
      expect(kinds).toContain(kind)
    for (const kind of ['claim', 'verify']) expect(kinds).not.toContain(kind)
    for (const id of ['gateway', 'switch', 'quay-ap'])
      expect(alone.find((s) => s.id === `${id}.configure`)).toMatchObject({
        words: [
          { label: 'File', text: `${id}.json from Adopt` },
          { label: 'Then', text: 'save, apply, and open the page anew: does it stand?' },
        ],
        blockedBy: null,
      })
    const at = (id: string): number => alone.findIndex((s) => s.id === id)
    for (const s of alone) for (const n of s.needs) expect(at(n)).toBeLessThan(at(s.id))
    expect(at('gateway.place')).toBeLessThan(at('unplug-old'))
    expect(at('switch.place')).toBeLessThan(at('switch.hosts-on'))
  })
  it('there is one without adoption in any profile too', () => {
    const plan = structuredClone(quayside())
    for (const p of Object.values(plan.profiles)) p.adoptable = false
    expect(runSheetOf(siteModel(plan)).find((s) => s.id === 'gateway.set')!.words).toContainEqual({
      label: 'Role',
      text: expect.stringMatching(/^gateway: its lines/),
    })
  })
  it('opens a step again once it says something else, unless the device runs', () => {
    const moved = applyEdits(quayside(), [
      {
        name: 'changeDevice',
        args: {
          id: 'controller',
          changes: {
            addressing: { ...quayside().devices.controller!.addressing, address: '10.20.10.9' },
          },
        },
      },
    ])
    const sheet = new Map(runSheetOf(siteModel(moved)).map((s) => [s.id, s]))
    const done = steps.map((s) => ({ stepId: s.id, said: saysOf(s) }))
    const open = (running: string[]): string[] => outdatedOn(sheet, done, new Set(running))
    expect(open([])).toEqual(['gateway.configure', 'controller-on'])
    expect(open(['gateway'])).toEqual(['controller-on'])
    const unknown = steps.map((s) => ({ stepId: s.id, said: null }))
    expect(outdatedOn(sheet, unknown, new Set())).toEqual([])
  })
  it('is empty for an empty site', () => expect(runSheetOf(siteModel(createPlan('x')))).toEqual([]))
  it('never goes in a circle unnoticed', () =>
    expect(() => inOrder([step('a', ['b'], 1, 0), step('b', ['a'], 1, 0)])).toThrow(
      /circle among a, b/,
    ))
})

describe('the cut-over', () => {
  const cut = (
    plan: SitePlan,
    people = 1,
  ): { minutes: number; before: string[]; steps: readonly Step[] } => {
    const steps = runSheetOf(siteModel(plan))
    const s = scheduleOf(steps, people, travelIn(plan))
    return {
      minutes: (s.outage!.toSeconds - s.outage!.fromSeconds) / 60,
      before: s.steps.filter((x) => x.startSeconds < s.outage!.fromSeconds).map((x) => x.stepId),
      steps,
    }
  }
  it.each([
    ['the harbour', kittiwakeHarbour, 30],
    ['the training site', dunlinSlipway, 15],
    ['the small quay', quayside, 15],
  ] as const)(
    '%s is without its line or hosts for less than %3$d min, with everything in service before',
    (_, site, most) => {
      const { minutes, before, steps } = cut(site())
      expect(minutes).toBeLessThan(most)
      expect(
        steps
          .filter((s) => s.id.endsWith('.verify') || s.id.endsWith('.backup'))
          .map((s) => s.id)
          .filter((id) => !before.includes(id)),
      ).toEqual([])
    },
  )
  it('hosts behind a radio path that is new were on no network before, so that they need not wait for it', () => {
    const { before, steps } = cut(kittiwakeHarbour())
    expect(before).toContain('light-switch.hosts-on')
    expect(steps.find((s) => s.id === 'light-switch.hosts-on')).toMatchObject({
      isOutage: false,
      title: expect.stringMatching(/^Connect/),
    })
    expect(steps.find((s) => s.id === 'switch.hosts-on')).toMatchObject({
      isOutage: true,
      title: expect.stringMatching(/^Move/),
    })
  })
  it('radios, extenders and routers for a line are set by their own page, one at a time, and then mounted', () => {
    const steps = runSheetOf(siteModel(kittiwakeHarbour()))
    const set = steps.filter((s) => s.id.endsWith('.set'))
    expect(set.map((s) => s.deviceId).sort()).toEqual([
      'berth-bridge-kiosk',
      'berth-bridge-office',
      'cellular',
      'light-bridge-office',
      'light-bridge-rock',
      'slipway-extender',
    ])
    const words = (id: string): Record<string, string> =>
      Object.fromEntries(steps.find((s) => s.id === id)!.words.map((w) => [w.label, w.text]))
    expect(words('light-bridge-rock.set')).toMatchObject({
      'New password': 'site-password',
      Role: expect.stringMatching(/^far end of the pair with Light bridge, office end/),
    })
    expect(words('light-bridge-office.set').Role).toMatch(/^main end/)
    expect(words('slipway-extender.set')['Lease server']).toBe('off')
    // Two of a kind have one factory address: the laptop is at one of them at a time, and only that
    // one has power.
    const at = (id: string): number => steps.findIndex((s) => s.id === id)
    for (const [i, s] of set.entries())
      if (i > 0)
        expect(steps.find((x) => x.id === `${s.deviceId}.bench-power`)!.needs).toContain(
          steps
            .filter((x) => at(x.id) < at(`${s.deviceId}.bench-power`) && x.id.endsWith('.set'))
            .at(-1)!.id,
        )
    for (const s of set) expect(at(`${s.deviceId}.place`)).toBeGreaterThan(at(s.id))
    // SIM and aerials are in before it has power.
    expect(steps.find((x) => x.id === 'cellular.bench-power')!.needs).toContain(
      'cellular-line.antennas',
    )
  })
})

describe('ways', () => {
  const places = applyEdits(createPlan('x'), [
    { name: 'addLocation', args: { id: 'a', name: 'A', latitude: 52, longitude: 4 } },
    { name: 'addLocation', args: { id: 'b', name: 'B', latitude: 52.01, longitude: 4 } },
    { name: 'addLocation', args: { id: 'c', name: 'C' } },
  ])
  const travel = travelIn(places)
  // A hundredth of a degree of latitude is 1,112 m (mean radius 6,371 km).
  it('are walked along the great circle, at least a minute, and two where nobody noted the distance', () => {
    expect(travel('a', 'b')).toBeGreaterThan(1112 / 1.2)
    expect(travel('a', 'b')).toBeLessThan(1112 / 1)
    expect([travel('a', 'a'), travel('a', null), travel('a', 'c')]).toEqual([0, 0, 120])
  })
  it('count in the day, and are not walked to and fro for what is soon to be done here', () => {
    const at = (s: Step, locationId: string): Step => ({ ...s, locationId })
    const s = scheduleOf(
      [
        at(step('mount', [], 60, 300), 'b'),
        at(step('look', ['mount'], 60, 0), 'b'),
        at(step('elsewhere', [], 50, 0), 'a'),
      ],
      1,
      travel,
    )
    expect(s.steps.map((x) => x.stepId)).toEqual(['mount', 'look', 'elsewhere'])
    expect(s.travelSeconds).toBe(travel('b', 'a'))
  })
})

describe('the schedule', () => {
  it('lets waits pass while hands work elsewhere', () => {
    const s = scheduleOf([
      step('cook', [], 60, 600),
      step('lay', [], 300, 0),
      step('eat', ['cook', 'lay'], 60, 0),
    ])
    expect(s).toMatchObject({ totalSeconds: 720, workSeconds: 420, criticalSeconds: 720 })
    expect(s.steps.filter((x) => x.critical).map((x) => x.stepId)).toEqual(['cook', 'eat'])
  })
  it(
    'two people are never slower than one, nobody does two things at once, nothing starts ' +
      'before what it needs',
    () => {
      const graph = fc
        .array(fc.tuple(fc.nat(100), fc.nat(200), fc.array(fc.nat(20), { maxLength: 3 })), {
          minLength: 1,
          maxLength: 15,
        })
        .map((list) =>
          list.map(([work, wait, needs], i) =>
            step(
              `s${i}`,
              [...new Set(needs.filter((n) => n < i).map((n) => `s${n}`))],
              work + 1,
              wait,
            ),
          ),
        )
      fc.assert(
        fc.property(graph, fc.integer({ min: 1, max: 3 }), (steps, people) => {
          const s = scheduleOf(steps, people)
          const by = new Map(s.steps.map((x) => [x.stepId, x]))
          expect(s.totalSeconds).toBeGreaterThanOrEqual(s.criticalSeconds)
          for (const x of steps)
            for (const n of x.needs)
              expect(by.get(x.id)!.startSeconds).toBeGreaterThanOrEqual(by.get(n)!.endSeconds)
          for (const a of s.steps)
            for (const b of s.steps)
              if (a !== b && a.person === b.person)
                expect(
                  a.handsFreeSeconds <= b.startSeconds || b.handsFreeSeconds <= a.startSeconds,
                ).toBe(true)
        }),
      )
      const sheet = runSheetOf(siteModel(dunlinSlipway()))
      expect(scheduleOf(sheet, 2).totalSeconds).toBeLessThanOrEqual(
        scheduleOf(sheet, 1).totalSeconds,
      )
    },
  )
  it.each([
    [30, '30 s'],
    [60, '1 min'],
    [3600, '1 h 0 min'],
    [5400, '1 h 30 min'],
  ])('%d s reads %s', (s, text) => expect(formatDuration(s)).toBe(text))
})
