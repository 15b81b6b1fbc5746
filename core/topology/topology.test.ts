import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { editCall as edit, applyEdits, type EditCall, type SitePlan } from '../plan'
import {
  cablePath,
  carriageOf,
  needsOf,
  outcomeOf,
  pathOf,
  powerOf,
  sourceFor,
  siteModel,
  type SiteModel,
} from '.'

const after = (...calls: EditCall[]): SiteModel => siteModel(applyEdits(quayside(), calls))
const reach = (model: SiteModel, segmentId: string): string[] =>
  carriageOf(model, segmentId).arrivals.map((a) => `${a.deviceId}:${a.inside}`)

describe('carriage', () => {
  it('follows every hop from the gateway, tagged and untagged', () => {
    const model = after(edit('addTag', { segmentId: 'visitors', portIds: ['switch.2'] }))
    const arrival = carriageOf(model, 'visitors').at('quay-ap')[0]!
    expect(pathOf(arrival).map((a) => [a.deviceId, a.form, a.inPortId])).toEqual([
      ['gateway', 'untagged', null],
      ['switch', 90, 'switch.1'],
      ['quay-ap', 90, 'quay-ap.eth0'],
    ])
    const desk = carriageOf(model, 'office-net').at('harbour-desk')[0]!
    expect(pathOf(desk).map((a) => a.form)).toEqual(['untagged', 20, 'untagged'])
  })
  it('stops at the port that does not carry it', () => {
    expect(reach(after(), 'visitors')).not.toContain('quay-ap:90')
    expect(
      outcomeOf(after(), { segmentId: 'visitors', deviceId: 'quay-ap', why: 'wireless network' })
        .break,
    ).toMatchObject({ portId: 'switch.2', kind: 'not sent', missingTagPorts: ['switch.2'] })
  })
  it('a transparent switch passes tags, an unaware one loses them, a host hears only what is untagged', () => {
    const tagged = [edit('addTag', { segmentId: 'cameras', portIds: ['gateway.2'] })]
    expect(reach(after(...tagged), 'cameras')).toContain('kiosk-switch:40')
    expect(reach(after(...tagged), 'cameras')).not.toContain('fuel-till:40')
    const plan = applyEdits(quayside(), tagged)
    const unaware: SitePlan = {
      ...plan,
      profiles: {
        ...plan.profiles,
        'switch-5-plain': { ...plan.profiles['switch-5-plain']!, vlan: 'unaware' },
      },
    }
    expect(reach(siteModel(unaware), 'cameras')).not.toContain('kiosk-switch:40')
    expect(reach(siteModel(unaware), 'management')).toContain('kiosk-switch:untagged')
  })
  it('an untagged VLAN that differs between the ends lands in the other one', () => {
    const model = after(edit('setUntagged', { segmentId: 'cameras', portIds: ['switch.1'] }))
    expect(
      carriageOf(model, 'management')
        .at('switch')
        .map((a) => a.inside),
    ).toEqual([40])
    expect(reach(model, 'management')).toContain('gate-camera:untagged')
  })
  it('comes to an end in a loop', () => {
    const model = after(
      edit('removeLink', { id: 'l-kiosk' }),
      edit('removeLink', { id: 'l-printer' }),
      edit('addLink', { id: 'loop', a: 'gateway.2', b: 'switch.8', medium: 'copper', lengthM: 1 }),
      edit('setUntagged', { segmentId: 'management', portIds: ['switch.8'] }),
    )
    expect(new Set(reach(model, 'management')).size).toBe(reach(model, 'management').length)
  })
  it('needs name every host, page and network once', () => {
    const needs = needsOf(after()).map((n) => `${n.deviceId}/${n.why}`)
    expect(new Set(needs).size).toBe(needs.length)
    expect(needs).toContain('quay-ap/wireless network')
    expect(needs).not.toContain('visitor-phone/host')
  })
  it('the cable path is the shortest, and undefined where there is none', () => {
    expect(cablePath(after(), 'gate-camera')!.map(([a, b]) => `${a.id}>${b.id}`)).toEqual([
      'gateway.1>switch.1',
      'switch.5>gate-camera.eth0',
    ])
    expect(cablePath(after(edit('removeLink', { id: 'l-trunk' })), 'gate-camera')).toBeUndefined()
  })
})

describe('power', () => {
  it('reserves by class and counts sockets', () => {
    expect(powerOf(after()).budgets).toMatchObject([
      { deviceId: 'switch', budgetW: 65, reservedW: 30 + 3 * 15.4, sockets: 8, socketsUsed: 8 },
    ])
  })
  it('says why a device gets none', () => {
    const reasons = (...calls: EditCall[]): string[] =>
      powerOf(after(...calls)).unfed.map((u) => u.reason)
    expect(
      reasons(edit('changeDevice', { id: 'harbour-desk', changes: { power: 'poe' } })),
    ).toEqual(['cannot be powered over its cable'])
    expect(reasons(edit('removeLink', { id: 'l-ap' }))).toEqual([
      'has no cable in its powered socket',
    ])
    const plan = quayside()
    const weak: SitePlan = {
      ...plan,
      profiles: {
        ...plan.profiles,
        'switch-8-poe-65': {
          ...plan.profiles['switch-8-poe-65']!,
          ports: plan.profiles['switch-8-poe-65']!.ports.map((p) => ({
            ...p,
            poeOutType: p.poeOutType && 1,
          })),
        },
      },
    }
    // A class over the type of the socket is demoted, not dark (IEEE 802.3 145.2.8).
    const { unfed, demoted, budgets } = powerOf(siteModel(weak))
    expect(unfed).toEqual([])
    expect(demoted).toEqual([
      {
        deviceId: 'quay-ap',
        portId: 'switch.2',
        poeClass: 4,
        givenClass: 3,
        givenW: 12.95,
        drawW: 19,
      },
    ])
    expect(budgets[0]!.reservedW).toBeCloseTo(4 * 15.4)
  })
  it(
    'sets aside what is asked or measured where the switch does so: the draw, and the loss in ' +
      'the cable with its square',
    () => {
      const plan = quayside()
      const by = (poeAllocation: 'class' | 'lldp'): number =>
        powerOf(
          siteModel({
            ...plan,
            profiles: {
              ...plan.profiles,
              'switch-8-poe-65': { ...plan.profiles['switch-8-poe-65']!, poeAllocation },
            },
          }),
        ).budgets[0]!.reservedW
      // 12.5 ohm of cable pairs at 50 V from the source (IEEE 802.3 33.1.3 type 2): P = U I, loss =
      // R
      // I^2.
      const fromPhysics = (drawW: number): number => {
        const i = (50 - Math.sqrt(50 ** 2 - 4 * 12.5 * drawW)) / (2 * 12.5)
        return 50 * i
      }
      expect(sourceFor(4, 25.5)).toBeCloseTo(30, 1)
      expect(sourceFor(4, 19)).toBeGreaterThan(19)
      expect(Math.abs(sourceFor(4, 19) - fromPhysics(19))).toBeLessThan(0.6)
      expect(by('lldp')).toBeLessThan(by('class'))
      expect(by('lldp')).toBeCloseTo(sourceFor(4, 19) + 3 * sourceFor(3, 12))
    },
  )
})

it('lists devices and ports in one order, whatever the order of the keys in the document', () => {
  const plan = quayside()
  const shuffled: SitePlan = {
    ...plan,
    devices: Object.fromEntries(Object.entries(plan.devices).reverse()),
    ports: Object.fromEntries(Object.entries(plan.ports).reverse()),
  }
  const order = (p: SitePlan): string[] =>
    siteModel(p).devices.flatMap((d) => [
      d.id,
      ...siteModel(p)
        .portsOf(d.id)
        .map((x) => x.id),
    ])
  expect(order(shuffled)).toEqual(order(plan))
  expect(
    siteModel(shuffled)
      .portsOf('gateway')
      .map((p) => p.name),
  ).toEqual(['wan1', '1', '2', '3', 'wan2', 'sfp1'])
})
