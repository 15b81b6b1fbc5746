/** What strangers and devices did to the controller, and what comes of it now. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createPlan, wirelessNetworks, type SitePlan } from '@mast/core/plan'
import { Caller } from '../caller'
import { change, NAME, PASSWORD, planWith, serialOf, throwaway } from '../load/system'
import type { System } from '../../scripts/start/system.mjs'
import { Device } from './device'

let system: System
let close: () => Promise<void>
let owner: Caller
let tenant: Caller
let next = 0
beforeAll(async () => {
  ;({ system, close } = await throwaway())
  owner = await Caller.first(system.origin, NAME, PASSWORD)
  const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Meeting place' })
  tenant = await Caller.invited(owner, id, 'another tenant', PASSWORD, 'viewer')
})
afterAll(() => close())

interface Roll {
  devices: {
    deviceId: string
    state: string
    claimed: boolean
    plannedElsewhere: boolean
    claimedElsewhere: boolean
    firmware: string | null
    callers: { address: string }[]
  }[]
  foreign: { serial: string }[]
}
/** A site with so many devices of its own, with the Wi-Fi key that thieves want. */
async function site(
  who: Caller,
  count: number,
  { from = next, speed = 1000 }: { from?: number; speed?: number } = {},
) {
  if (from === next) next += count
  const plan = planWith(from, count, createPlan('Fleet'))
  plan.segments.crew = {
    id: 'crew',
    name: 'Crew',
    purpose: 'staff',
    vlanId: 20,
    expectedHosts: 10,
    growthPercent: 0,
    subnet: '10.9.0.0/24',
    gateway: '10.9.0.1',
    fixedBlock: null,
    pools: [],
    leaseSeconds: 3600,
    subnet6: null,
    locked: false,
    alignLength: null,
    dhcp: { mode: 'off', relayTo: null },
    options: { nameServers: [], timeServers: [], routes: [] },
    churn: null,
  }
  plan.wirelessNetworks.wifi = {
    ...wirelessNetworks.blank,
    id: 'wifi',
    name: 'Wi-Fi',
    segmentId: 'crew',
    security: 'wpa3',
    keyRef: 'wifi',
    clientIsolation: false,
    accessPointIds: Object.keys(plan.devices),
  }
  const { id } = await who.read<{ id: string }>('POST', '/api/sites', { name: 'Fleet', plan })
  if (speed !== 1) await who.read('POST', `/api/sites/${id}/standins/clock`, { speed })
  const { secret: key } = await who.read<{ secret: string }>('GET', `/api/sites/${id}/secrets/wifi`)
  const roll = (): Promise<Roll> => who.read('GET', `/api/sites/${id}/devices`)
  const of = async (n: number): Promise<Roll['devices'][number]> =>
    (await roll()).devices.find((d) => d.deviceId === `unit-${n}`)!
  const claim = async (n: number): Promise<{ status: number; message?: string }> => {
    const r = await who.call('POST', `/api/sites/${id}/devices/unit-${n}/claim`, {
      serial: serialOf(n),
    })
    return { status: r.status, ...((await r.json()) as { message?: string }) }
  }
  const edit = (name: string, args: object): Promise<{ revision: number }> =>
    who.read<{ revision: number }>('GET', `/api/sites/${id}`).then(({ revision }) =>
      who.read('POST', `/api/sites/${id}/edits`, {
        base: revision,
        changes: [change(name, args)],
      }),
    )
  const send = async (): Promise<void> => {
    const { revision } = await who.read<{ revision: number }>('GET', `/api/sites/${id}`)
    await who.read('POST', `/api/sites/${id}/releases`, { revision, note: '' })
  }
  return { id, key, from, roll, of, claim, edit, send }
}
async function adopted(s: Awaited<ReturnType<typeof site>>, n = s.from): Promise<Device> {
  const d = Device.numbered(system.origin, n)
  await d.hello()
  expect((await s.claim(n)).status).toBe(200)
  expect(await d.askToken()).toBe(200)
  return d
}
/** Calls until something is so, as a device that does not give up. */
async function until(call: () => Promise<unknown>, isSo: () => Promise<boolean>): Promise<void> {
  for (const deadline = Date.now() + 60_000; !(await isSo()); await call())
    if (Date.now() > deadline) throw new Error('it never came to that')
}

describe('the pool of connections', () => {
  it('is not held by many devices that fetch their configuration at once, each time a new one', async () => {
    const s = await site(owner, 40)
    const devices: Device[] = []
    for (let n = s.from; n < s.from + 40; n++) devices.push(await adopted(s, n))
    for (let round = 0; round < 3; round++) {
      // A new revision and new secrets: nothing that was made before helps.
      await s.edit('addLocation', {
        id: `place-${round}`,
        name: `Place ${round}`,
        kind: 'building',
        mains: true,
      })
      await owner.read('PUT', `/api/sites/${s.id}/secrets/wifi`, { secret: null })
      const replies = await Promise.all(devices.map((d) => d.fetchDesired()))
      expect(new Set(replies.map((r) => r.status))).toEqual(new Set([200]))
    }
    expect((await owner.call('GET', '/api/sites')).status).toBe(200)
  })
})

describe('a stranger without a token', () => {
  it(
    'cannot keep the reports of others from being written: what cannot be stored is refused, ' +
      'and the token is asked for first',
    async () => {
      const s = await site(owner, 1)
      const d = await adopted(s)
      const stranger = new Device(system.origin, d.serial)
      stranger.token = 'w'.repeat(43)
      const bad = [
        { sequence: 2 ** 31 },
        { sequence: 2 ** 53 },
        { uptimeSeconds: 1e300 },
        { firmware: '5\u0000' },
        { message: '\ud800' },
        { address: '999.1.1.1' },
        { ports: [{ name: 'a\u0000', up: true, heard: [] }] },
      ]
      const attack = async (who: Device): Promise<number[]> =>
        Promise.all(bad.map((more) => who.report(more)))
      for (let round = 0; round < 10; round++) {
        const [strange, own] = await Promise.all([attack(stranger), d.report()])
        expect(own).toBe(200)
        expect(new Set(strange)).toEqual(new Set([401]))
      }
      // The token comes before the body: what a stranger sends is not even read.
      expect((await stranger.send('POST', 'report', 'x'.repeat(30_000))).status).toBe(401)
      const sequence = d.sequence
      expect(new Set(await attack(d))).toEqual(new Set([400]))
      d.sequence = sequence
      expect(await d.report()).toBe(200)
    },
  )
  it('gets no firmware, and what it sends open is small', async () => {
    expect(
      (await new Device(system.origin, 'AM-NONE-1').send('GET', 'firmware/ap-indoor-2x2/5.4.1'))
        .status,
    ).toBe(401)
    expect(
      (
        await new Device(system.origin, 'AM-NONE-1').send(
          'POST',
          'hello',
          `{"x":"${'y'.repeat(9000)}"}`,
        )
      ).status,
    ).toBe(413)
  })
})

describe('two that call under one serial', () => {
  it(
    'the first is kept, both are shown, nobody is claimed until one is silent, and the keys go ' +
      'to the one that is left',
    async () => {
      const s = await site(owner, 1)
      const real = Device.numbered(system.origin, s.from, '10.9.0.7')
      const thief = Device.numbered(system.origin, s.from, '10.9.0.66')
      await real.hello()
      await thief.hello()
      expect((await s.of(s.from)).callers.map((c) => c.address)).toEqual(['10.9.0.7', '10.9.0.66'])
      const refused = await s.claim(s.from)
      expect(refused).toMatchObject({
        status: 422,
        message: expect.stringMatching(/^2 devices call as .*10\.9\.0\.7 .*10\.9\.0\.66/),
      })
      // The thief gives up; the device goes on calling.
      await until(
        () => real.hello(),
        async () => (await s.of(s.from)).callers.length === 1,
      )
      expect((await s.claim(s.from)).status).toBe(200)
      expect(await thief.askToken()).toBe(401)
      expect(await real.askToken()).toBe(200)
      expect(JSON.stringify((await real.fetchDesired()).body)).toContain(s.key)
    },
  )
  it('a second one after the claim gets nothing, however often it calls', async () => {
    const s = await site(owner, 1)
    const real = await adopted(s)
    const thief = Device.numbered(system.origin, s.from)
    for (let i = 0; i < 20; i++) expect(await thief.hello()).toBe('unclaimed')
    expect(await thief.askToken()).toBe(401)
    expect(await real.report()).toBe(200)
    expect((await s.of(s.from)).callers).toHaveLength(1)
  })
})

describe('a device that the plan no longer has in its place', () => {
  it.each<[string, (s: Awaited<ReturnType<typeof site>>) => Promise<unknown>]>([
    [
      'since its serial is another one',
      (s) => s.edit('changeDevice', { id: `unit-${s.from}`, changes: { serial: 'AM-LOAD-NEW' } }),
    ],
    ['since it was removed', (s) => s.edit('removeDevice', { id: `unit-${s.from}` })],
  ])('loses its token, %s', async (_, away) => {
    const s = await site(owner, 2)
    const stolen = await adopted(s)
    const stays = await adopted(s, s.from + 1)
    expect((await stolen.fetchDesired()).status).toBe(200)
    await away(s)
    await owner.read('PUT', `/api/sites/${s.id}/secrets/wifi`, {
      secret: 'the-new-key-of-the-wifi',
    })
    expect((await stolen.fetchDesired()).status).toBe(401)
    expect(await stolen.report()).toBe(401)
    expect(await stolen.askToken()).toBe(401)
    // A key that is typed reaches no device until it is sent.
    expect(JSON.stringify((await stays.fetchDesired()).body)).not.toContain(
      'the-new-key-of-the-wifi',
    )
    await s.send()
    expect(JSON.stringify((await stays.fetchDesired()).body)).toContain('the-new-key-of-the-wifi')
  })
})

describe('one serial in the plans of two tenants', () => {
  it('is hidden from neither, told to both, and claimed by nobody before it calls', async () => {
    const mine = await site(owner, 1)
    const theirs = await site(tenant, 1, { from: mine.from })
    expect((await mine.of(mine.from)).plannedElsewhere).toBe(true)
    expect((await theirs.of(mine.from)).plannedElsewhere).toBe(true)
    expect(await theirs.claim(mine.from)).toMatchObject({
      status: 422,
      message: expect.stringContaining('another site here has'),
    })
    const d = Device.numbered(system.origin, mine.from)
    await d.hello()
    expect([(await mine.of(mine.from)).state, (await theirs.of(mine.from)).state]).toEqual([
      'seen',
      'seen',
    ])
    expect((await mine.claim(mine.from)).status).toBe(200)
    expect(await theirs.of(mine.from)).toMatchObject({ claimedElsewhere: true, claimed: false })
    expect((await theirs.claim(mine.from)).status).toBe(422)
    const { entries } = await tenant.read<{ entries: { what: string }[] }>(
      'GET',
      `/api/sites/${theirs.id}/log`,
    )
    expect(entries.map((e) => e.what)).toContain(
      `The serial of Unit ${mine.from} (${serialOf(mine.from)}) was claimed by another site`,
    )
    expect(await d.askToken()).toBe(200)
    expect(JSON.stringify((await d.fetchDesired()).body)).toContain(mine.key)
  })
  it('two claims at the same moment leave one', async () => {
    const mine = await site(owner, 1)
    const theirs = await site(tenant, 1, { from: mine.from })
    await Device.numbered(system.origin, mine.from).hello()
    const outcomes = await Promise.all([mine.claim(mine.from), theirs.claim(mine.from)])
    expect(outcomes.map((o) => o.status).sort()).toEqual([200, 422])
  })
})

describe('a call without a token under a serial that is claimed', () => {
  it('by a stranger does not unclaim a device that writes firmware', async () => {
    // At 30 times the clock a device is silent after 6 s, and may write firmware for 30.
    const s = await site(owner, 1, { speed: 30 })
    const d = await adopted(s)
    expect((await d.fetchDesired()).status).toBe(200)
    expect(await d.report({ phase: 'loading-firmware' })).toBe(200)
    const stranger = Device.numbered(system.origin, s.from)
    const silentAt = Date.now() + 8000
    while (Date.now() < silentAt) expect(await stranger.hello()).toBe('unclaimed')
    expect(await s.of(s.from)).toMatchObject({ claimed: true, state: 'loading' })
    expect(await d.report()).toBe(200)
  })
  it('said again by who heard it changes nothing of a device in service', async () => {
    const s = await site(owner, 1)
    const d = await adopted(s)
    const { digest, firmware } = (await d.fetchDesired()).body as {
      digest: string
      firmware: { version: string }
    }
    expect(await d.report({ configurationDigest: digest, firmware: firmware.version })).toBe(200)
    const before = await s.of(s.from)
    expect(before.state).toBe('in-service')
    const echo = new Device(system.origin, d.serial)
    expect(
      (await echo.send('POST', 'hello', { ...d.greeting, firmware: '0.0.1', address: '10.66.6.6' }))
        .body,
    ).toMatchObject({ status: 'claimed' })
    expect(await s.of(s.from)).toEqual(before)
  })
  it(
    'by the device itself, reset while nobody heard of the old one, gets it its place back to ' +
      'be claimed again',
    async () => {
      const s = await site(owner, 1)
      await adopted(s)
      const reset = Device.numbered(system.origin, s.from)
      expect(await reset.hello()).toBe('unclaimed')
      expect((await s.of(s.from)).claimed).toBe(true)
      await until(
        () => reset.hello(),
        async () => !(await s.of(s.from)).claimed,
      )
      await reset.hello()
      expect((await s.claim(s.from)).status).toBe(200)
      expect(await reset.askToken()).toBe(200)
    },
  )
})

it("a device of a profile of one's own gets its firmware", async () => {
  const s = await site(owner, 1)
  const { plan, revision } = await owner.read<{ plan: SitePlan; revision: number }>(
    'GET',
    `/api/sites/${s.id}`,
  )
  const profile = {
    ...plan.profiles['ap-indoor-2x2']!,
    id: 'own-kind',
    name: 'Own kind',
    firmware: { shipped: '1.0', wanted: '1.1 b', minimum: '' },
  }
  await owner.read('POST', `/api/sites/${s.id}/edits`, {
    base: revision,
    changes: [
      change('addProfile', profile),
      change('replaceDevice', { id: `unit-${s.from}`, profileId: 'own-kind' }),
      change('changeDevice', {
        id: `unit-${s.from}`,
        changes: { serial: serialOf(s.from), power: 'outlet' },
      }),
    ],
  })
  const d = await adopted(s)
  const { firmware } = (await d.fetchDesired()).body as {
    firmware: { path: string; version: string }
  }
  expect(firmware.version).toBe('1.1 b')
  expect((await d.send('GET', firmware.path.replace('/controller/v1/', ''))).status).toBe(200)
  expect((await d.send('GET', 'firmware/constructor/1.0')).status).toBe(404)
})
