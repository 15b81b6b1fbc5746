/** How a managed device behaves where something is not as it should be. */
import { describe, expect, it } from 'vitest'
import { desiredConfiguration } from '@mast/core/adoption'
import { applyEdits, digestOf, editCall, type EditCall } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { runningSchema, type Configuration, type GatewayConfiguration } from '@mast/protocol'
import { faultsOffered } from '../control/messages'
import type { HttpReply, HttpRequest } from '../devices/appliance'
import { toNumber } from '../frames/frame'
import { ControllerDouble, type Wanted } from './controllerDouble'
import { World, type ControllerHttp, type Saved } from './world'

const secrets = { 'wifi-slip-wifi': 'seagull-on-the-bollard' }

async function pass(world: World, seconds: number): Promise<void> {
  const end = world.queue.now + seconds
  for (let n = 0; world.queue.step(end); n++)
    if (n % 4 === 0) await new Promise((r) => setImmediate(r))
  world.queue.now = end
  await new Promise((r) => setImmediate(r))
}
async function act<T>(world: World, promise: Promise<T>): Promise<T> {
  let reply: T | undefined
  void promise.then((r) => {
    reply = r
  })
  for (let i = 0; i < 400 && !reply; i++) await pass(world, 5)
  return reply!
}

function site(
  edits: EditCall[] = [],
  change: (http: ControllerHttp) => ControllerHttp = (h) => h,
  { typed = 'rope-and-tide', issued = 'rope-and-tide' } = {},
) {
  const plan = applyEdits(dunlinSlipway(), edits)
  const model = siteModel(plan)
  const wanted = new Map(
    ['gateway', 'switch', 'hut-ap'].map((id): [string, Wanted] => {
      const outcome = desiredConfiguration(model, id, { ...secrets, 'line-line': typed })
      if (!outcome.ok) throw new Error(outcome.missing.join())
      return [
        plan.devices[id]!.serial!,
        { ...outcome.desired, firmware: model.profileOf(id).firmware.wanted },
      ]
    }),
  )
  const controller = new ControllerDouble(wanted)
  const asked: HttpRequest[] = []
  const http = change(controller.http)
  const world = new World(
    {
      plan,
      keys: { 'slip-wifi': secrets['wifi-slip-wifi'] },
      linePasswords: { line: issued },
      seed: 5,
      revision: 1,
      release: 0,
      keysVersion: 0,
    },
    (request) => {
      asked.push(request)
      return http(request)
    },
  )
  const lamp = (id: string): string | null =>
    world.snapshot().devices.find((d) => d.id === id)!.light
  const configuration = (id: string): unknown =>
    wanted.get(plan.devices[id]!.serial!)!.configuration
  const send = (id: string, change: (c: Configuration) => Configuration): void => {
    const was = wanted.get(plan.devices[id]!.serial!)!
    const next = change(was.configuration)
    wanted.set(plan.devices[id]!.serial!, { ...was, configuration: next, digest: digestOf(next) })
  }
  return { plan, world, controller, asked, lamp, configuration, send }
}
/**
 * The gateway configured on the bench and in place, with the line in, the controller and the switch
 * cabled.
 */
async function placed(s: ReturnType<typeof site>): Promise<void> {
  const { world } = s
  await world.hand({ kind: 'power', deviceIds: ['gateway'], on: true })
  await world.hand({ kind: 'laptop', plugInto: 'gateway', address: '192.168.1.10/24' })
  expect(
    await act(
      world,
      world.hand({ kind: 'page', deviceId: 'gateway', address: '192.168.1.1', act: 'firmware' }),
    ),
  ).toMatchObject({ ok: true })
  await pass(world, 400)
  expect(
    await act(
      world,
      world.hand({
        kind: 'page',
        deviceId: 'gateway',
        address: '192.168.1.1',
        act: 'configuration',
        configuration: s.configuration('gateway'),
      }),
    ),
  ).toMatchObject({ ok: true })
  await pass(world, 200)
  await world.hand({ kind: 'plug-line', lineId: 'line' })
  await world.hand({ kind: 'power', deviceIds: ['controller'], on: true })
  await world.hand({ kind: 'plug', deviceIds: ['gateway', 'switch'] })
  await pass(world, 600)
}

describe('a new device', () => {
  it('shows by its lamp how far it is, and answers on its factory address where nobody gives it a lease', async () => {
    const { world, lamp } = site()
    expect(lamp('switch')).toBe('off')
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    expect(lamp('switch')).toBe('starting')
    await pass(world, 120)
    expect(lamp('switch')).toBe('seeking-address')
    expect(world.snapshot().devices.find((d) => d.id === 'switch')!.address).toBe('192.168.2.1')
  })
  it('is not reached by a laptop on another subnet, and the reply says what to look at', async () => {
    const { world } = site()
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    await world.hand({ kind: 'laptop', plugInto: 'switch', address: '192.168.1.10/24' })
    const reply = await act(
      world,
      world.hand({ kind: 'page', deviceId: 'switch', address: '192.168.2.1', act: 'password' }),
    )
    expect(reply).toEqual({
      ok: false,
      text:
        'no page answers on 192.168.2.1; is the laptop plugged into the device, with an ' +
        'address of the same subnet?',
    })
    await world.hand({ kind: 'laptop', plugInto: 'switch', address: '192.168.2.10/24' })
    expect(
      await act(
        world,
        world.hand({ kind: 'page', deviceId: 'switch', address: '192.168.2.1', act: 'password' }),
      ),
    ).toMatchObject({ ok: true })
    expect(world.save().boxes.switch!.flash!.factoryPassword).toBe(false)
  })
  it('refuses a configuration that is for another kind of device', async () => {
    const { world, configuration } = site()
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    await world.hand({ kind: 'laptop', plugInto: 'switch', address: '192.168.2.10/24' })
    expect(
      await act(
        world,
        world.hand({
          kind: 'page',
          deviceId: 'switch',
          address: '192.168.2.1',
          act: 'configuration',
          configuration: configuration('gateway'),
        }),
      ),
    ).toEqual({ ok: false, text: 'this file is not for this kind of device' })
    expect(world.save().boxes.switch!.flash!.configuration).toBeNull()
  })
  it('loses nothing that it had written when its power is cut', async () => {
    const { world } = site()
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    await world.hand({ kind: 'laptop', plugInto: 'switch', address: '192.168.2.10/24' })
    await act(
      world,
      world.hand({ kind: 'page', deviceId: 'switch', address: '192.168.2.1', act: 'firmware' }),
    )
    await pass(world, 10)
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: false })
    expect(world.save().boxes.switch!.flash!.firmware).toBe('3.1.0')
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    await act(
      world,
      world.hand({ kind: 'page', deviceId: 'switch', address: '192.168.2.1', act: 'firmware' }),
    )
    await pass(world, 400)
    expect(world.save().boxes.switch!.flash!.firmware).toBe('3.6.2')
  })
})

describe('changed at its own page', () => {
  const port = (c: unknown, name: string) =>
    (c as { ports: { name: string; untagged: number }[] }).ports.find((p) => p.name === name)!
  async function changed() {
    const s = site()
    await placed(s)
    const { world, plan, controller } = s
    const fault = faultsOffered(plan).find((o) => o.fault.kind === 'changed-by-hand')!.fault
    if (fault.kind !== 'changed-by-hand') throw new Error('none')
    const serial = plan.devices.switch!.serial!
    expect(world.setFault(fault, true)).toMatchObject({ ok: true })
    await pass(world, 300)
    const flash = () => world.save().boxes.switch!.flash!
    return { ...s, fault, serial, flash, socket: plan.ports[fault.portId]!.name, controller }
  }
  it('goes on running that, says so, and sends what it runs once', async () => {
    const { world, controller, serial, fault, socket, asked, lamp } = await changed()
    expect(controller.reports.get(serial)).toMatchObject({ changedHere: true, phase: 'running' })
    const sent = controller.running.get(serial)!
    expect(sent.digest).toBe(controller.reports.get(serial)!.configurationDigest)
    expect(runningSchema.safeParse(sent).success).toBe(true)
    expect(port(sent.configuration, socket).untagged).toBe(fault.vlan)
    await pass(world, 600)
    expect(asked.filter((r) => r.path.endsWith('/running'))).toHaveLength(1)
    expect(controller.reports.get(serial)!.changedHere).toBe(true)
    expect(lamp('switch')).toBe('in-service')
  })
  it('takes nothing at its page while it writes', async () => {
    const { world, fault } = await changed()
    expect(world.setFault(fault, false)).toMatchObject({ ok: true })
    expect(world.setFault(fault, true)).toEqual({ ok: false, text: 'it is writing; wait' })
    // It neither calls meanwhile nor forgets that it writes.
    await pass(world, 8)
    expect(world.setFault(fault, true)).toEqual({ ok: false, text: 'it is writing; wait' })
  })
  it('keeps it over a restart, and loads what it was sent when it is told to fetch', async () => {
    const { world, controller, serial, fault, socket, flash } = await changed()
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: false })
    await world.hand({ kind: 'power', deviceIds: ['switch'], on: true })
    await pass(world, 300)
    expect(port(flash().configuration, socket).untagged).toBe(fault.vlan)
    controller.commands.set(serial, [{ id: 'again', command: 'fetch' }])
    await pass(world, 400)
    expect(port(flash().configuration, socket).untagged).toBe(fault.was)
    expect(controller.reports.get(serial)).toMatchObject({ changedHere: false })
  })
  it('loads something newer when that is sent, and needs nothing where it was set back there', async () => {
    const one = await changed()
    one.world.setFault(one.fault, false)
    await pass(one.world, 300)
    expect(one.controller.reports.get(one.serial)).toMatchObject({ changedHere: false })
    const other = await changed()
    const now = other.controller.reports.get(other.serial)!.configurationDigest
    other.send('switch', (c) => ({ ...c, name: 'Renamed meanwhile' }) as typeof c)
    await pass(other.world, 400)
    const report = other.controller.reports.get(other.serial)!
    expect(report.changedHere).toBe(false)
    expect(report.configurationDigest).not.toBe(now)
    expect(other.flash().configuration!.name).toBe('Renamed meanwhile')
  })
})

describe('on its way into the controller', () => {
  it('loads firmware before configuration, then reports both', async () => {
    const s = site()
    await placed(s)
    expect(s.lamp('gateway')).toBe('in-service')
    expect(s.lamp('switch')).toBe('in-service')
    const paths = s.asked.map((r) => r.path)
    expect(
      paths.findIndex((p) => p.includes('/firmware/switch')) === -1 ||
        paths.indexOf('/controller/v1/desired') < paths.findIndex((p) => p.includes('/firmware/')),
    ).toBe(true)
    expect(s.controller.reports.get('AM-SWI-60348')).toMatchObject({
      phase: 'running',
      firmware: '3.6.2',
      factoryPassword: true,
    })
    expect(s.controller.reports.get('AM-GAT-60311')!.lines).toEqual([
      {
        port: 'wan1',
        up: true,
        address: '100.64.7.20',
        signIn: null,
        alive: null,
      },
    ])
  })
  it('finds it by name where the site does not tell it by DHCP', async () => {
    const s = site([{ name: 'setController', args: { discovery: 'dns-name' } }])
    await placed(s)
    expect(s.lamp('switch')).toBe('in-service')
  })
  it("calls nobody while the controller's host has no power, though its own lease is fine", async () => {
    const s = site()
    await placed(s)
    await s.world.hand({ kind: 'power', deviceIds: ['controller'], on: false })
    await pass(s.world, 60)
    const before = s.asked.length
    await pass(s.world, 200)
    expect(s.asked.length).toBe(before)
  })
  it('keeps trying while the controller does not answer, and goes on when it does', async () => {
    let away = true
    const s = site([], (http) => (r) => (away ? Promise.resolve(null) : http(r)))
    await placed(s)
    expect(s.lamp('switch')).toBe('seeking-controller')
    away = false
    await pass(s.world, 600)
    expect(s.lamp('switch')).toBe('in-service')
  })
  it('shows a fault where the firmware arrives damaged, and does not write it', async () => {
    const damaged =
      (http: ControllerHttp): ControllerHttp =>
      async (r) => {
        const reply = await http(r)
        return reply && r.path.includes('/firmware/')
          ? ({ ...reply, bytes: Uint8Array.of(1) } satisfies HttpReply)
          : reply
      }
    const s = site([], damaged)
    await placed(s)
    expect(s.world.save().boxes.switch!.flash!.firmware).toBe('3.1.0')
    expect(['fault', 'loading']).toContain(s.lamp('switch'))
  })
  it('asks for a new token when its own is no longer taken', async () => {
    let refuse = false
    const s = site(
      [],
      (http) => (r) =>
        refuse && r.token
          ? Promise.resolve({ status: 401, body: null, bytes: new Uint8Array() })
          : http(r),
    )
    await placed(s)
    refuse = true
    await pass(s.world, 60)
    refuse = false
    await pass(s.world, 120)
    expect(
      s.asked.filter(
        (r) =>
          r.path === '/controller/v1/token' &&
          (r.body as { serial: string }).serial === 'AM-SWI-60348',
      ).length,
    ).toBeGreaterThan(1)
    expect(s.lamp('switch')).toBe('in-service')
  })
})

it('a line with a fixed address works without DHCP', async () => {
  const s = site([
    {
      name: 'recordHandOff',
      args: {
        uplinkId: 'line',
        facts: {
          mode: 'fixed',
          vlan: 'untagged',
          address: '203.0.113.10/29',
          gateway: '203.0.113.9',
          nameServers: ['198.51.100.53'],
        },
      },
    },
  ])
  await placed(s)
  await s.world.hand({ kind: 'power', deviceIds: ['crew-desk'], on: true })
  await pass(s.world, 60)
  let outcomes: string[] = []
  void s.world
    .probe([
      { id: 'a', from: 'crew-desk', kind: 'tcp', target: { kind: 'internet' }, port: 443 },
      { id: 'b', from: 'crew-desk', kind: 'name', target: null, port: null },
      { id: 'c', from: 'internet', kind: 'ping', target: { kind: 'line' }, port: null },
    ])
    .then((o) => {
      outcomes = o.map((x) => x.outcome)
    })
  await pass(s.world, 60)
  expect(outcomes).toEqual(['works', 'works', 'no-answer'])
})

describe('a PPPoE line (RFC 2516)', () => {
  const dialled: EditCall[] = [
    {
      name: 'recordHandOff',
      args: {
        uplinkId: 'line',
        facts: {
          mode: 'pppoe',
          pppoeUser: 'slipway@fibre.example',
          passwordRef: 'line-line',
          vlan: 35,
          mtu: 1492,
          addressKind: 'public',
        },
      },
    },
  ]
  it('is dialled with the account, and carries names and pages', async () => {
    const s = site(dialled)
    await placed(s)
    expect(s.controller.reports.get('AM-GAT-60311')!.lines).toEqual([
      {
        port: 'wan1',
        up: true,
        address: '203.0.113.80',
        signIn: 'accepted',
        alive: null,
      },
    ])
    await s.world.hand({ kind: 'power', deviceIds: ['crew-desk'], on: true })
    await act(s.world, s.world.hand({ kind: 'plug', deviceIds: ['crew-desk'] }))
    await pass(s.world, 60)
    const [name] = await act(
      s.world,
      s.world.probe([{ id: 'n', from: 'crew-desk', kind: 'name', target: null, port: null }]),
    )
    expect(name).toMatchObject({ outcome: 'works' })
  })
  it('stays without an address where the password is another one than the provider issued', async () => {
    const s = site(dialled, undefined, { typed: 'rope-and-tied' })
    await placed(s)
    expect(s.controller.reports.get('AM-GAT-60311')!.lines).toEqual([
      {
        port: 'wan1',
        up: true,
        address: null,
        signIn: 'refused',
        alive: null,
      },
    ])
  })
  it('is dialled again by itself when the provider forgets the session', async () => {
    const s = site(dialled)
    await placed(s)
    await s.world.setFault({ kind: 'dead-line' }, true)
    await pass(s.world, 10)
    expect(s.world.snapshot().devices.find((d) => d.id === 'gateway')).toBeDefined()
    await s.world.setFault({ kind: 'dead-line' }, false)
    await pass(s.world, 400)
    expect(s.controller.reports.get('AM-GAT-60311')!.lines).toEqual([
      {
        port: 'wan1',
        up: true,
        address: '203.0.113.80',
        signIn: 'accepted',
        alive: null,
      },
    ])
  })
})

describe('two lines', () => {
  const second: EditCall[] = [
    editCall('addUplink', { id: 'standby', name: 'Standby', rank: 1, portId: 'gateway.wan2' }),
    editCall('recordHandOff', {
      uplinkId: 'standby',
      facts: {
        mode: 'fixed',
        vlan: 'untagged',
        address: '203.0.113.10/29',
        gateway: '203.0.113.9',
        nameServers: ['198.51.100.53'],
      },
    }),
  ]
  const reported = (s: ReturnType<typeof site>) => s.controller.reports.get('AM-GAT-60311')!.lines
  const outcomes = async (s: ReturnType<typeof site>): Promise<string[]> =>
    (
      await act(
        s.world,
        s.world.probe([
          { id: 'a', from: 'crew-desk', kind: 'tcp', target: { kind: 'internet' }, port: 443 },
          { id: 'b', from: 'crew-desk', kind: 'name', target: null, port: null },
        ]),
      )
    ).map((o) => o.outcome)

  it('are both handed out and brought up; the first carries, the next takes over without a signal', async () => {
    const s = site(second)
    const { lines } = s.configuration('gateway') as GatewayConfiguration
    expect(lines.map((l) => [l.port, l.mode])).toEqual([
      ['wan1', 'automatic'],
      ['wan2', 'fixed'],
    ])
    await placed(s)
    await s.world.hand({ kind: 'plug-line', lineId: 'standby' })
    await s.world.hand({ kind: 'power', deviceIds: ['crew-desk'], on: true })
    await pass(s.world, 60)
    expect(reported(s).map((l) => [l.port, l.up, l.address])).toEqual([
      ['wan1', true, '100.64.7.20'],
      ['wan2', true, '203.0.113.10'],
    ])
    expect(s.world.lineAddress).toBe(toNumber('100.64.7.20'))
    expect(await outcomes(s)).toEqual(['works', 'works'])

    await s.world.setFault({ kind: 'dead-line', lineId: 'line' }, true)
    await pass(s.world, 60)
    expect(s.world.snapshot().lines).toEqual([
      { id: 'line', plugged: true, up: false },
      { id: 'standby', plugged: true, up: true },
    ])
    expect(await outcomes(s)).toEqual(['works', 'works'])

    await s.world.setFault({ kind: 'dead-line', lineId: 'standby' }, true)
    await pass(s.world, 60)
    expect(await outcomes(s)).toEqual(['no-answer', 'no-name'])
  })
  it('a fault is of the line that it names, and of the first where it names none', async () => {
    const s = site(second)
    await placed(s)
    await s.world.hand({ kind: 'plug-line', lineId: 'standby' })
    await s.world.setFault({ kind: 'dead-line', lineId: 'standby' }, true)
    expect(s.world.snapshot().lines.map((l) => l.up)).toEqual([true, false])
    await s.world.setFault({ kind: 'dead-line' }, true)
    expect(s.world.snapshot().lines.map((l) => l.up)).toEqual([false, false])
    await s.world.setFault({ kind: 'dead-line', lineId: 'standby' }, false)
    expect(s.world.snapshot().lines.map((l) => l.up)).toEqual([false, true])
  })
  it('are kept over a restart, and one that an earlier version kept is the first', async () => {
    const s = site(second)
    await placed(s)
    await s.world.hand({ kind: 'plug-line', lineId: 'standby' })
    const plugged = (saved: Saved): boolean[] => {
      const again = new World(saved.description, s.controller.http)
      again.restore(saved)
      return again.snapshot().lines.map((l) => l.plugged)
    }
    const { linesPlugged, ...rest } = s.world.save()
    expect(plugged({ ...rest, linesPlugged: linesPlugged! })).toEqual([true, true])
    expect(plugged({ ...rest, linePlugged: true })).toEqual([true, false])
  })
})
