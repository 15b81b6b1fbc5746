import { describe, expect, it } from 'vitest'
import { controllerUrl } from '@mast/core/adoption'
import { findingsOf } from '@mast/core/findings'
import { outsideAsks, trace } from '@mast/core/forwarding'
import { applyEdits, catalogue, editCall, type EditCall, type SitePlan } from '@mast/core/plan'
import { proofTestsOf } from '@mast/core/proof'
import { siteModel } from '@mast/core/topology'
import { drillExpected, drillKinds, judgeDrill, turnOf, type Drill } from '@mast/core/uplinks'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { quayside } from '../../tests/sites/quayside'
import { sharingWith } from '../air/radios'
import { faultsOffered, type Fault } from '../control/messages'
import type { AccessPoint } from '../devices/accessPoint'
import type { HostBox } from '../devices/hostBox'
import { toNumber, toText } from '../frames/frame'
import type { Host } from '../net/host'
import { broughtUp, labelled, mended, pass, prove, until } from '../../tests/sites/broughtUp'
import { World } from './world'

describe('a site on the stand-ins', () => {
  it('comes up by the run sheet and proves as planned', async () => {
    const up = await broughtUp(mended())
    const { wrong, count } = await prove(up)
    expect(wrong).toEqual([])
    expect(count.proven).toBe(true)
  })

  it.each<[string, () => SitePlan]>([
    ['the whole harbour, over PPPoE and two radio bridges', kittiwakeHarbour],
    ['the training site', dunlinSlipway],
  ])(
    '%s comes up once its findings are mended, and proves as planned',
    async (_, site) => {
      const up = await broughtUp(labelled(mended(site())))
      const { wrong, count } = await prove(up)
      expect(wrong).toEqual([])
      expect(count.proven).toBe(true)
    },
    120_000,
  )

  it('radios that the controller adopts take their settings from it, and report what they hear', async () => {
    const { adoptable, factory, lights } = catalogue['bridge-5ghz-managed']!
    const plan = labelled(
      mended(
        applyEdits(kittiwakeHarbour(), [
          editCall('changeProfile', {
            id: 'bridge-5ghz-dish',
            changes: { adoptable, factory, lights },
          }),
        ]),
      ),
    )
    const up = await broughtUp(plan)
    const { wrong, count } = await prove(up)
    expect(wrong).toEqual([])
    expect(count.proven).toBe(true)
    const report = (id: string) => up.controller.reports.get(plan.devices[id]!.serial!)!
    const now = up.world.bridges.now('light-bridge')!
    expect(report('light-bridge-office').paths).toEqual([
      {
        port: 'air',
        dbm: Math.round(now.atA! * 10) / 10,
        sendsMbps: now.toB,
        hearsMbps: now.toA,
      },
    ])
    expect(report('light-bridge-rock').paths[0]!.dbm).toBeCloseTo(now.atB!, 1)
    // As from its box it hears nobody, and nothing passes until it is set again.
    await up.world.hand({ kind: 'reset', deviceIds: ['light-bridge-rock'] })
    await pass(up.world, 60)
    expect(up.world.bridges.now('light-bridge')).toMatchObject({
      isUp: false,
      why: 'an end starts, or is as from its box',
    })
  }, 120_000)

  /** A failover on the stand-ins, held against what the plan foretells. */
  async function drilled(
    { world, plan }: Awaited<ReturnType<typeof broughtUp>>,
    kind: (typeof drillKinds)[number],
  ) {
    const model = siteModel(plan)
    const turn = turnOf(model)!
    const expected = drillExpected(model, turn, kind)
    const seen = await until(
      world,
      world.drill({
        lineId: turn.line.id,
        away: [],
        kind,
        outageSeconds: Math.ceil(expected.over?.worst ?? 300) + 120,
        returnSeconds: (expected.back?.worst ?? 0) + 60,
        asks: outsideAsks(model),
      }),
    )
    expect(seen).toMatchObject({ ok: true })
    const drill: Drill = {
      lineId: turn.line.id,
      kind,
      overSeconds: seen.overSeconds,
      backSeconds: seen.backSeconds,
      measuredBy: 'stand-ins',
      isAfterRestart: false,
      segments: seen.segments,
    }
    expect(judgeDrill(model, drill), JSON.stringify([kind, expected, seen])).toMatchObject({
      isAsForetold: true,
    })
    const of = (id: string, serviceId: string | null = null) =>
      seen.segments.find((s) => s.segmentId === id && s.serviceId === serviceId)?.seconds
    return { seen, of }
  }

  it('the harbour goes on taking cards when its fibre is cut, its visitors stop, and all as foretold', async () => {
    const up = await broughtUp(labelled(mended(kittiwakeHarbour())))
    for (const kind of drillKinds) {
      const { of } = await drilled(up, kind)
      expect(of('payments', 'svc-acquirer')).toBeGreaterThan(0)
      expect(of('visitors')).toBeNull()
    }
  }, 120_000)

  it('the shop, whose modem alone is asked, stays on a dead line; asked beyond it, it takes cards', async () => {
    const plan = labelled(mended(petrelStreet()))
    const as = await broughtUp(plan)
    expect((await drilled(as, 'path')).seen.overSeconds).toBeNull()
    expect((await drilled(as, 'modem')).seen.overSeconds).toBeGreaterThan(29)
    const { watch } = plan.uplinks.cable!
    const tests = ['198.51.100.53', '192.0.2.200'].map((target) => ({
      ...{ kind: 'ping' as const, target, port: null },
    }))
    const beyond = await broughtUp(
      applyEdits(plan, [
        editCall('changeUplink', { id: 'cable', changes: { watch: { ...watch!, tests } } }),
      ]),
    )
    const { of } = await drilled(beyond, 'path')
    expect(of('shop-net', 'acquirer')).toBeGreaterThan(50)
    expect(of('shop-net')).toBeNull()
  }, 120_000)

  it('what is read in the harbour is as reckoned, until a metal wall stands there that nobody drew', async () => {
    const up = await broughtUp(labelled(mended(kittiwakeHarbour())))
    const read = proofTestsOf(siteModel(up.plan)).filter((t) => t.kind === 'air')
    expect(read.map((t) => t.id)).toEqual(
      expect.arrayContaining(['visitor-phone:air@pontoon-a', 'visitor-phone:air@pontoon-c']),
    )
    const wall = { kind: 'hidden-wall', floorId: 'yard', depthM: 130 } as const
    // On both sides of the pontoon that lies between those with access points.
    for (const x of [87, 91]) up.world.setFault({ ...wall, x }, true)
    const middle = read.find((t) => t.id.endsWith('pontoon-b'))!
    const [found] = await until(up.world, up.world.probe([middle.probe!]))
    expect(found).toMatchObject({ outcome: 'too-weak' })
    for (const x of [87, 91]) up.world.setFault({ ...wall, x }, false)
    const [again] = await until(up.world, up.world.probe([middle.probe!]))
    expect(again).toMatchObject({ outcome: 'works' })
  }, 120_000)

  it('faults of access points, and of a hand at a page, are seen and named as what they are', async () => {
    const up = await broughtUp(labelled(mended(kittiwakeHarbour())))
    const { world, plan } = up
    const offered = faultsOffered(plan).map((o) => o.fault)
    const of = <K extends Fault['kind']>(kind: K): Extract<Fault, { kind: K }> =>
      offered.find((f): f is Extract<Fault, { kind: K }> => f.kind === kind)!
    const wrong = of('wrong-key')
    const cases: [Fault, string, string][] = [
      [wrong, 'wrong-key', wrong.deviceId],
      [of('point-off'), 'device-missing', of('point-off').deviceId],
      [of('changed-by-hand'), 'drift', plan.ports[of('changed-by-hand').portId]!.deviceId],
    ]
    // Where areas were to be served best by it, and nobody else is as loud.
    const best = Object.values(plan.devices).find((d) => d.id === 'pontoon-c-ap')!
    cases.push([{ kind: 'point-moved', deviceId: best.id, x: 1, y: 1 }, 'point-elsewhere', best.id])
    for (const [fault, kind, deviceId] of cases) {
      expect(world.setFault(fault, true)).toMatchObject({ ok: true })
      await pass(world, 900)
      const { causes, wrong } = await prove(up)
      expect(
        causes.some((c) => c.kind === kind && c.subjects.includes(deviceId)),
        JSON.stringify([fault, causes.map((c) => c.text), wrong]),
      ).toBe(true)
      expect(world.setFault(fault, false)).toMatchObject({ ok: true })
      await pass(world, 900)
    }
    const { wrong: left } = await prove(up)
    expect(left).toEqual([])
  }, 240_000)

  it('on the channel of its neighbour an access point is slower', async () => {
    const up = await broughtUp(labelled(mended(kittiwakeHarbour())))
    const fault = faultsOffered(up.plan).find((o) => o.fault.kind === 'other-channel')!.fault
    const deviceId = 'deviceId' in fault ? fault.deviceId : ''
    const sharing = (): number => {
      const { radios, air } = up.world.onAir
      const own = radios.find((r) => r.deviceId === deviceId && r.sending.band === '5')!
      return sharingWith(air, radios, own)
    }
    const before = sharing()
    up.world.setFault(fault, true)
    expect(sharing()).toBeGreaterThan(before)
    up.world.setFault(fault, false)
    expect(sharing()).toBe(before)
  }, 120_000)

  it('guests are held back by the page, pass it, and see it again when their time is over', async () => {
    const site = labelled(mended(kittiwakeHarbour()))
    const network = site.wirelessNetworks['visitor-wifi']!
    const printer = Object.values(site.devices).find(
      (d) => d.addressing.address && d.addressing.segmentId !== network.segmentId,
    )!
    const up = await broughtUp(
      applyEdits(site, [
        editCall('changeWirelessNetwork', {
          id: network.id,
          changes: {
            portal: {
              ...network.portal!,
              sessionMinutes: 30,
              before: [`${printer.addressing.address}/32`],
            },
          },
        }),
      ]),
    )
    const { world } = up
    const phone = world.boxes.get('visitor-phone') as HostBox
    const reaches = (address: string): Promise<string> =>
      until(world, new Promise((resolve) => phone.host.endpoint.ping(toNumber(address), resolve)))
    const out = '198.51.100.53'
    world.guests.forget(network.name, phone.setup.mac)
    expect(await reaches(out)).toBe('no-answer')
    // What is open before is reached, by the page and by the gateway.
    expect(await reaches(printer.addressing.address!)).toBe('works')
    const point = world.onAir.pointOf('visitor-phone')!
    expect(point.passPage('visitor-phone', phone.setup.mac, null)).toBe(30)
    expect(await reaches(out)).toBe('works')
    await pass(world, 31 * 60)
    expect(await reaches(out)).toBe('no-answer')
    const test = proofTestsOf(siteModel(up.plan)).find((t) => t.kind === 'page')!
    expect(test.title).toMatch(/is held back by the page of .*let through for 30 min/)
    const [found] = await until(world, world.probe([test.probe!]))
    expect(found).toMatchObject({ outcome: 'works' })
    // A page that lets go for another time than was planned is told.
    const [other] = await until(world, world.probe([{ ...test.probe!, sessionMinutes: 45 }]))
    expect(other).toMatchObject({ outcome: 'other-session' })
  }, 120_000)

  it('an extender passes on what it hears, slower with one radio, and nothing where it hears nothing', async () => {
    const site = labelled(mended(kittiwakeHarbour()))
    const reads = async (changes: object, oneRadio = false) => {
      const plan = applyEdits(site, [
        editCall('changeDevice', { id: 'slipway-extender', changes }),
        ...(oneRadio
          ? [
              editCall('changeProfile', {
                id: 'extender-2x2',
                changes: { air: site.profiles['extender-2x2']!.air.slice(0, 1) },
              }),
            ]
          : []),
      ])
      const { world } = await broughtUp(plan)
      const { x, y } = plan.devices['slipway-extender']!.place!
      const spot = { floorId: 'yard', x: x + 2, y, leastDbm: -60, leastMbps: 0 }
      const [found] = await until(
        world,
        world.probe([
          { ...{ id: 'read', from: 'visitor-phone', kind: 'air', target: null, port: null }, spot },
        ]),
      )
      return found!.reading
    }
    const place = { ...site.devices['slipway-extender']!.place! }
    const ice = site.devices['ice-ap']!.place!
    const near = { ...place, x: ice.x + 12, y: ice.y + 4 }
    const two = await reads({ place: near })
    expect(two?.deviceId).toBe('slipway-extender')
    const one = await reads({ place: near }, true)
    expect(one?.deviceId).toBe('slipway-extender')
    expect(one!.mbps).toBeLessThan(0.75 * two!.mbps)
    const far = await reads({ place: { ...place, x: 239, y: 5, degrees: 0 } })
    expect(far?.deviceId).not.toBe('slipway-extender')
  }, 240_000)

  it('a network that leads up is joined in 5 GHz; access points restart at their minute', async () => {
    const site = labelled(mended(kittiwakeHarbour()))
    const quay = site.devices['quay-ap']?.place ?? site.devices['ice-ap']!.place!
    const at = { floorId: 'yard', x: quay.x + 3, y: quay.y + 3, heightM: 1.2 }
    const bandsHeard = async (leadsUp: boolean, leadsUpDbm = -70) => {
      const { world } = await broughtUp(
        applyEdits(site, [
          editCall('changeWirelessNetwork', {
            id: 'visitor-wifi',
            changes: { leadsUp, leadsUpDbm },
          }),
        ]),
      )
      const heard = world.onAir.hears('visitor-phone', at)
      const own = heard.filter((h) => h.radio.deviceId === heard[0]!.radio.deviceId)
      return new Set(own.map((h) => h.radio.sending.band))
    }
    expect(await bandsHeard(false)).toContain('2.4')
    expect(await bandsHeard(true)).not.toContain('2.4')
    // Nobody is heard so well.
    expect(await bandsHeard(true, -40)).toContain('2.4')

    const nightly = await broughtUp(
      applyEdits(site, [
        editCall('changeSite', { wireless: { restart: { day: null, minute: 241 } } }),
      ]),
    )
    let starts = 0
    const states = new Set<string>()
    for (let minute = 0; minute < 24 * 60 + 10; minute++) {
      await pass(nightly.world, 60)
      const { light } = nightly.world.accessPoint('ice-ap')!
      if (light === 'starting' && !states.has('starting')) starts++
      states.delete('starting')
      if (light === 'starting') states.add('starting')
    }
    expect(starts).toBe(1)
    expect(nightly.world.accessPoint('ice-ap')!.light).toBe('in-service')
  }, 240_000)

  it('a phone that is carried along goes from one access point to the next, and not for a little', async () => {
    const { world } = await broughtUp(labelled(mended(kittiwakeHarbour())))
    const at = (): string[] =>
      [...world.boxes].flatMap(([id, b]) =>
        (b as Partial<AccessPoint>).has?.('visitor-phone') ? [id] : [],
      )
    const walk: string[] = []
    for (let x = 50; x <= 130; x += 2) {
      world.onAir.carry('visitor-phone', { floorId: 'yard', x, y: 72, heightM: 1.2 })
      expect(at()).toHaveLength(1)
      if (walk.at(-1) !== at()[0]) walk.push(at()[0]!)
    }
    expect(walk[0]).toBe('pontoon-a-ap')
    expect(walk.at(-1)).toBe('pontoon-c-ap')
    // Once over and no to and fro.
    expect(walk.length).toBeLessThanOrEqual(3)
    // Behind everything it hears nothing, and joins nothing.
    world.onAir.carry('visitor-phone', { floorId: 'yard', x: 213, y: 18, heightM: 1.2 })
    const inside = world.onAir.hears('visitor-phone')
    const [loudest] = inside.map((h) => h.radio.deviceId)
    expect(at()).toEqual(loudest ? [world.plan.devices[loudest]!.listensToId ?? loudest] : [])
  }, 120_000)

  it('who is heard weaker than is asked, or is not on the list, is not let in', async () => {
    const site = labelled(mended(kittiwakeHarbour()))
    const at = { floorId: 'yard', x: 88, y: 100, heightM: 1.2 }
    const hears = async (changes: object): Promise<number> => {
      const { world } = await broughtUp(
        applyEdits(site, [editCall('changeWirelessNetwork', { id: 'visitor-wifi', changes })]),
      )
      return world.onAir.hears('visitor-phone', at).length
    }
    const all = await hears({})
    expect(all).toBeGreaterThan(2)
    const loud = await hears({ leastDbm: -65 })
    expect(loud).toBeLessThan(all)
    expect(await hears({ bands: ['5'] })).toBeLessThan(all)
    expect(await hears({ allowed: ['02:00:00:00:00:99'] })).toBe(0)
    const own = site.devices['visitor-phone']!.hardwareAddress!
    expect(await hears({ allowed: [own] })).toBe(all)
  }, 120_000)

  it.each([
    ['kept apart', true, 'switch-8-poe-65', 'no-answer'],
    ['not kept apart', false, 'switch-8-poe-65', 'works'],
    ['kept apart behind a switch that cannot', true, 'switch-5-plain', 'works'],
  ] as const)(
    'clients of two access points: %s',
    async (_, clientIsolation, between, expected) => {
      const device = (id: string, profileId: string, n: number, more: object = {}): EditCall =>
        editCall('addDevice', {
          id,
          name: id,
          profileId,
          hardwareAddress: `02:4b:48:0a:00:${String(n).padStart(2, '0')}`,
          ...more,
        })
      const inManagement = {
        addressing: { mode: 'automatic', segmentId: 'management', address: null, gateway: null },
      }
      const phone = {
        wirelessNetworkId: 'visitor-wifi',
        addressing: { mode: 'automatic', segmentId: 'visitors', address: null, gateway: null },
      }
      const cable = (id: string, a: string, b: string): EditCall =>
        editCall('addLink', { id, a, b, medium: 'copper', lengthM: 5 })
      const isManaged = between === 'switch-8-poe-65'
      const trunks = [
        'gateway.3',
        'east.eth0',
        'west.eth0',
        ...(isManaged ? ['middle.1', 'middle.2', 'middle.3'] : []),
      ]
      const plan = labelled(
        applyEdits(mended(), [
          device('middle', between, 10, isManaged ? inManagement : {}),
          device('east', 'ap-indoor-2x2', 20, inManagement),
          device('west', 'ap-indoor-2x2', 40, inManagement),
          cable('l-m', 'gateway.3', 'middle.1'),
          cable('l-e', 'middle.2', 'east.eth0'),
          cable('l-w', 'middle.3', 'west.eth0'),
          { name: 'setUntagged', args: { segmentId: 'management', portIds: trunks } },
          { name: 'addTag', args: { segmentId: 'visitors', portIds: trunks } },
          {
            name: 'changeWirelessNetwork',
            args: {
              id: 'visitor-wifi',
              changes: { clientIsolation, accessPointIds: ['east', 'west'] },
            },
          },
          device('second-phone', 'handset', 60, phone),
        ]),
      )
      const up = await broughtUp(plan)
      const { world } = up
      const power = async (deviceIds: string[], on: boolean): Promise<void> => {
        await until(world, world.hand({ kind: 'power', deviceIds, on }))
        await pass(world, 300)
      }
      // Both go to the western access point while the eastern is dark; one starts anew when it is
      // back.
      await power(['east'], false)
      await power(['east'], true)
      await pass(world, 600)
      await power(['visitor-phone'], false)
      await power(['visitor-phone'], true)
      expect(
        ['east', 'west'].map((ap) =>
          ['visitor-phone', 'second-phone'].filter((p) =>
            (world.boxes.get(ap) as AccessPoint).has(p),
          ),
        ),
      ).toEqual([['visitor-phone'], ['second-phone']])
      const [seen] = await until(
        world,
        world.probe([
          {
            id: 'a',
            from: 'visitor-phone',
            kind: 'ping',
            target: { kind: 'host', deviceId: 'second-phone' },
            port: null,
          },
        ]),
      )
      expect(seen!.outcome).toBe(expected)
      // The proof walks the clients from one to the other: an address at each, and the same on
      // silence between them.
      const walks = proofTestsOf(siteModel(plan)).filter((t) => t.probe?.via)
      const outcomes = new Map(
        (await until(world, world.probe(walks.map((t) => t.probe!)))).map((o) => [o.id, o.outcome]),
      )
      const at = (id: string): string | undefined => outcomes.get(id)
      expect(['east', 'west'].map((ap) => at(`visitor-phone:lease@${ap}`))).toEqual([
        'works',
        'works',
      ])
      if (clientIsolation)
        expect(
          ['east', 'west'].map(
            (ap) =>
              at(`visitor-phone>second-phone:apart@${ap}`) ??
              at(`second-phone>visitor-phone:apart@${ap}`),
          ),
        ).toEqual(['no-answer', expected])
      const traced = trace(
        siteModel(plan),
        { kind: 'device', id: 'visitor-phone' },
        { kind: 'device', id: 'second-phone' },
        plan.services['svc-ping']!,
      )
      expect(traced.verdict).toBe(expected === 'works' ? 'delivered' : 'blocked')
    },
    60_000,
  )

  it('the shop, which has no controller, reaches what it should', async () => {
    const withOne = labelled(mended(petrelStreet()))
    const plan = applyEdits(withOne, [{ name: 'setController', args: { elsewhere: null } }])
    const { wrong } = await prove(await broughtUp(plan))
    expect(wrong).toEqual([])
  })

  const relayed = (): SitePlan =>
    mended(
      applyEdits(quayside(), [
        {
          name: 'changeSegment',
          args: {
            id: 'cameras',
            changes: { dhcp: { mode: 'relay', relayTo: '10.20.20.2' }, leaseSeconds: 3600 },
          },
        },
      ]),
    )
  const camera = (world: World): Host => (world.boxes.get('gate-camera') as HostBox).host
  it(
    'requests of a segment are passed on to a server in another one, which answers; without it ' +
      'addresses end with their leases',
    async () => {
      const plan = relayed()
      expect(findingsOf(plan).filter((f) => f.severity !== 'note')).toEqual([])
      const up = await broughtUp(plan)
      expect((await prove(up)).wrong).toEqual([])
      expect([
        toText(camera(up.world).dhcp.lease!.server),
        toText(camera(up.world).address!).startsWith('10.20.40.'),
      ]).toEqual(['10.20.20.2', true])
      await pass(up.world, 3 * 3600)
      expect(camera(up.world).address).not.toBeNull()
      up.world.boxes.get('printer')!.setPower(false)
      await pass(up.world, 3700)
      expect(camera(up.world).address).toBeNull()
      up.world.boxes.get('printer')!.setPower(true)
      await pass(up.world, 300)
      expect(camera(up.world).address).not.toBeNull()
    },
  )

  it(
    'where the policy keeps renewals from the server, hosts go on by asking everybody at seven ' +
      'eighths of the lease',
    async () => {
      const plan = applyEdits(relayed(), [{ name: 'removeIntent', args: { id: 'lease-cameras' } }])
      expect(
        findingsOf(plan)
          .filter((f) => f.severity !== 'note')
          .map((f) => [f.ruleId, f.severity]),
      ).toEqual([['addressing/relay-unreachable', 'caution']])
      const up = await broughtUp(plan)
      const first = camera(up.world).address
      expect(first).not.toBeNull()
      let keeps = 0
      for (let m = 0; m < 6 * 60; m += 5) {
        await pass(up.world, 300)
        if (camera(up.world).address === first) keeps++
      }
      expect(keeps).toBe(72)
    },
  )

  it('runs the same with the same seed, otherwise with another', async () => {
    const frames = async (seed: number): Promise<number> =>
      (await broughtUp(mended(), seed)).world.snapshot().frames
    const [a, b, c] = [await frames(3), await frames(3), await frames(4)]
    expect(a).toBe(b)
    expect(c).not.toBe(a)
  })

  const faults: [Fault, string, RegExp][] = [
    [{ kind: 'dead-line' }, 'dead-line', /is dead/],
    [
      { kind: 'small-packets', octets: 1400 },
      'packet-size',
      /does not carry packets of 1500 octets whole, and says nothing of it/,
    ],
    [{ kind: 'wrong-hand-off-tag', vlan: 7 }, 'hand-off', /tag on the hand-off/],
    [
      { kind: 'missing-tag', portId: 'switch.2', vlan: 90 },
      'missing-tag',
      /VLAN 90 Visitors has no tag between Cupboard switch port 2 and Quay AP port eth0/,
    ],
    [
      { kind: 'swapped-cables', portIds: ['switch.4', 'switch.5'] },
      'swapped-cables',
      /Gate camera and Harbour office desk are exchanged/,
    ],
    [{ kind: 'mistyped-serial', deviceId: 'quay-ap' }, 'mistyped-serial', /Quay AP was mistyped/],
  ]
  it.each(faults)('names the cause of %o', async (fault, kind, text) => {
    const up = await broughtUp(mended())
    expect(up.world.setFault(fault, true).ok).toBe(true)
    await pass(up.world, 400)
    const { causes, count } = await prove(up)
    expect(count.proven).toBe(false)
    expect(causes[0]).toMatchObject({ kind })
    expect(causes[0]!.text).toMatch(text)
    up.world.setFault(fault, false)
    await pass(up.world, 600)
    expect((await prove(up)).wrong).toEqual([])
  })

  it.each([
    ['drops', true],
    ['lets through', false],
  ] as const)(
    'a switch that guards its sockets %s what a stray lease server says',
    async (_, guarded) => {
      const profile = quayside().profiles['switch-8-poe-65']!
      const plan = mended(
        applyEdits(quayside(), [
          {
            name: 'changeProfile',
            args: {
              id: profile.id,
              changes: {
                abilities: profile.abilities.filter((a) => guarded || a !== 'lease-guard'),
              },
            },
          },
        ]),
      )
      const up = await broughtUp(plan)
      expect(up.world.setFault({ kind: 'rogue-server', deviceId: 'printer' }, true).ok).toBe(true)
      const { count, causes } = await prove(up)
      expect(causes.map((c) => c.kind)).toEqual(guarded ? [] : ['rogue-server'])
      expect(count.proven).toBe(guarded)
      if (!guarded)
        expect(causes[0]!.text).toMatch(
          /192\.168\.66\.1 hands out leases in .*, and is no server of this site/,
        )
      up.world.setFault({ kind: 'rogue-server', deviceId: 'printer' }, false)
      await pass(up.world, 1200)
      expect((await prove(up)).count.proven).toBe(true)
    },
  )

  it('puts a saved world back with its memory, its faults and its cables', async () => {
    const up = await broughtUp(mended())
    up.world.setFault({ kind: 'dead-line' }, true)
    const saved = JSON.parse(JSON.stringify(up.world.save()))
    const again = new World(saved.description, up.controller.http)
    again.restore(saved)
    const next = { ...up, world: again }
    await pass(again, 900)
    expect((await prove(next)).causes.map((c) => c.kind)).toEqual(['dead-line'])
    again.setFault({ kind: 'dead-line' }, false)
    await pass(again, 100)
    expect((await prove(next)).wrong).toEqual([])
  })

  it('goes on with devices as from their boxes where what they keep is of an earlier form', async () => {
    const up = await broughtUp(mended())
    const saved = JSON.parse(JSON.stringify(up.world.save()))
    for (const box of Object.values(
      saved.boxes as Record<
        string,
        { flash: { configuration: { rules?: unknown } | null } | null }
      >,
    ))
      if (box.flash?.configuration?.rules)
        box.flash.configuration.rules = [{ state: 'new', verdict: 'accept' }]
    const again = new World(saved.description, up.controller.http)
    again.restore(saved)
    await pass(again, 600)
    expect(again.stopped).toBeNull()
    expect(again.snapshot().devices.find((d) => d.id === 'gateway')).toMatchObject({
      address: '192.168.1.1',
    })
  })

  it('gives devices the exact controller address', () => {
    expect(controllerUrl(siteModel(mended()))).toBe('http://10.20.10.2:8043')
  })
})
