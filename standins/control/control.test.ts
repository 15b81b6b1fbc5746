import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { faultKey, snapshotSchema, type Snapshot } from './messages'
import { sealingWith } from './seal'
import { controlServer } from './server'
import { WorldStore } from './worldStore'

const TOKEN = 'a-token-for-the-test'
const KEY = Buffer.alloc(32, 7)
const description = {
  plan: dunlinSlipway(),
  keys: { 'slip-wifi': 'seagull-on-the-bollard' },
  seed: 1,
}
const closing: (() => void)[] = []
afterEach(() => {
  for (const c of closing.splice(0)) c()
})

async function door(folder = mkdtempSync(join(tmpdir(), 'able-mast-worlds-'))) {
  const complaints: string[] = []
  const store = new WorldStore(
    folder,
    () => Promise.resolve(null),
    (t) => complaints.push(t),
    sealingWith(KEY),
  )
  const server = controlServer(store, TOKEN)
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r))
  closing.push(() => {
    store.close()
    server.close()
  })
  const ask = async (
    method: string,
    path: string,
    body?: unknown,
    token = TOKEN,
  ): Promise<{ status: number; body: unknown }> => {
    const r = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`, {
      method,
      headers: { authorization: `Bearer ${token}` },
      ...(body === undefined
        ? {}
        : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
    return { status: r.status, body: await r.json() }
  }
  return { ask, store, folder, complaints }
}

describe('the door of the stand-ins', () => {
  it('opens only to the token', async () => {
    const { ask } = await door()
    expect((await ask('GET', '/ready', undefined, 'guess')).status).toBe(401)
    expect(await ask('GET', '/ready')).toEqual({ status: 200, body: { ready: true } })
  })
  it('refuses what it does not understand, with what is wrong', async () => {
    const { ask } = await door()
    expect((await ask('GET', '/worlds/slip')).status).toBe(404)
    expect((await ask('PUT', '/worlds/slip', '{')).status).toBe(400)
    expect(await ask('PUT', '/worlds/slip', { ...description, seed: -1 })).toMatchObject({
      status: 400,
      body: { message: expect.stringContaining('seed') },
    })
    expect((await ask('GET', '/worlds/..%2f..%2fetc')).status).toBe(404)
    await ask('PUT', '/worlds/slip', description)
    expect((await ask('POST', '/worlds/slip/dance', {})).status).toBe(404)
    expect((await ask('POST', '/worlds/slip/clock', { speed: 5000 })).status).toBe(400)
    expect((await ask('PATCH', '/worlds/slip', {})).status).toBe(405)
  })
  it('shows a world, sets its clock, moves its hands, takes faults in and out', async () => {
    const { ask } = await door()
    const first = snapshotSchema.parse((await ask('PUT', '/worlds/slip', description)).body)
    expect(first.devices.every((d) => !d.powered)).toBe(true)
    expect((await ask('POST', '/worlds/slip/clock', { speed: 200 })).body).toMatchObject({
      speed: 200,
    })
    expect(
      (await ask('POST', '/worlds/slip/hand', { kind: 'power', deviceIds: ['switch'], on: true }))
        .body,
    ).toMatchObject({ ok: true })
    expect(
      (await ask('POST', '/worlds/slip/hand', { kind: 'power', deviceIds: ['kettle'], on: true }))
        .body,
    ).toEqual({ ok: false, text: 'there is no kettle here' })
    const fault = { kind: 'dead-line' } as const
    await ask('POST', '/worlds/slip/fault', { fault, on: true })
    const seen = (await ask('GET', '/worlds/slip')).body as Snapshot
    expect(seen.faults.map(faultKey)).toEqual(['dead-line'])
    expect(seen.devices.find((d) => d.id === 'switch')).toMatchObject({
      powered: true,
      light: 'starting',
    })
    await ask('POST', '/worlds/slip/fault', { fault, on: false })
    expect(((await ask('GET', '/worlds/slip')).body as Snapshot).faults).toEqual([])
    expect(
      (
        await ask('POST', '/worlds/slip/fault', {
          fault: { kind: 'mistyped-serial', deviceId: 'crew-desk' },
          on: true,
        })
      ).body,
    ).toMatchObject({ ok: false })
  })
  it('keeps worlds over a restart, and drops them for good when told', async () => {
    const one = await door()
    await one.ask('PUT', '/worlds/slip', description)
    await one.ask('POST', '/worlds/slip/hand', { kind: 'plug', deviceIds: ['switch'] })
    one.store.close()
    const two = await door(one.folder)
    expect((await two.ask('GET', '/worlds/slip')).body).toMatchObject({
      devices: expect.arrayContaining([
        expect.objectContaining({ id: 'switch', powered: true, placed: true }),
      ]),
    })
    await two.ask('DELETE', '/worlds/slip')
    expect((await two.ask('GET', '/worlds/slip')).status).toBe(404)
    expect(readdirSync(one.folder).filter((f) => f.endsWith('.json'))).toEqual([])
  })
  it(
    'keeps nothing of it in clear: keys, tokens and secrets are sealed, under this key and ' +
      'this name alone',
    async () => {
      const one = await door()
      await one.ask('PUT', '/worlds/slip', description)
      one.store.close()
      const file = join(one.folder, 'slip.json')
      const bytes = readFileSync(file)
      for (const secret of [
        'seagull-on-the-bollard',
        'claimSecret',
        one.store.get('slip')!.save().boxes.switch!.flash!.claimSecret,
      ])
        expect(bytes.includes(secret)).toBe(false)
      expect(JSON.parse(sealingWith(KEY).open(bytes, 'slip.json'))).toMatchObject({
        description: { keys: { 'slip-wifi': 'seagull-on-the-bollard' } },
      })
      expect(() => sealingWith(Buffer.alloc(32, 8)).open(bytes, 'slip.json')).toThrow()
      expect(() => sealingWith(KEY).open(bytes, 'other.json')).toThrow()
    },
  )
  it('reads what an earlier version left in clear, and seals it with the next writing', async () => {
    const one = await door()
    await one.ask('PUT', '/worlds/slip', description)
    const saved = JSON.stringify(one.store.get('slip')!.save())
    one.store.close()
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-worlds-'))
    writeFileSync(join(folder, 'slip.json'), saved)
    const two = await door(folder)
    expect((await two.ask('GET', '/worlds/slip')).status).toBe(200)
    two.store.saveAll()
    expect(readFileSync(join(folder, 'slip.json')).includes('seagull')).toBe(false)
  })
  it(
    "a profile of one's own kind, without a factory address or a socket for a line, starts " +
      'like any other',
    async () => {
      const { ask, store } = await door()
      const plan = structuredClone(description.plan)
      const gateway = Object.values(plan.devices).find(
        (d) => plan.profiles[d.profileId]!.kind === 'gateway',
      )!
      const profile = plan.profiles[gateway.profileId]!
      profile.factory.address = null
      for (const p of profile.ports) if (p.role === 'wan') p.role = 'lan'
      await ask('PUT', '/worlds/slip', { ...description, plan })
      await ask('POST', '/worlds/slip/hand', { kind: 'power', deviceIds: [gateway.id], on: true })
      const world = store.get('slip')!
      while (world.queue.now < 600 && world.queue.step(600));
      expect([
        world.stopped,
        world.snapshot().devices.find((d) => d.id === gateway.id)!.powered,
      ]).toEqual([null, true])
    },
  )
  it(
    'what goes wrong in one world stops that one and is said; the others go on, and another ' +
      'plan sets it going again',
    async () => {
      const { ask, store, folder } = await door()
      await ask('PUT', '/worlds/slip', description)
      await ask('PUT', '/worlds/quay', description)
      const broken = store.get('slip')!
      const waiting = ask('POST', '/worlds/slip/probes', {
        probes: [{ id: 'p', from: 'crew-desk', kind: 'lease', target: null, port: null }],
      })
      broken.queue.after(0, () => {
        throw new Error('a socket that is not there')
      })
      expect(await waiting).toMatchObject({
        status: 409,
        body: { message: expect.stringContaining('a socket that is not there') },
      })
      expect((await ask('GET', '/worlds/slip')).body).toMatchObject({
        stopped: 'a socket that is not there',
      })
      expect(
        await ask('POST', '/worlds/slip/hand', { kind: 'power', deviceIds: ['switch'], on: true }),
      ).toMatchObject({
        status: 409,
        body: { message: expect.stringMatching(/stand still.*Change the plan, or put them back/) },
      })
      expect(
        await ask('POST', '/worlds/quay/hand', { kind: 'power', deviceIds: ['switch'], on: true }),
      ).toMatchObject({ status: 200, body: { ok: true } })
      expect(
        (await ask('PUT', '/worlds/slip', { ...description, revision: 1 })).body,
      ).toMatchObject({
        stopped: null,
        revision: 1,
      })
      expect(
        await ask('POST', '/worlds/slip/hand', { kind: 'power', deviceIds: ['switch'], on: true }),
      ).toMatchObject({ status: 200 })
      expect(await ask('GET', '/worlds')).toEqual({
        status: 200,
        body: { sites: ['slip', 'quay'] },
      })
      store.saveAll()
      expect(readdirSync(folder).sort()).toEqual(['quay.json', 'slip.json'])
    },
  )
  it('puts a file that it cannot read aside, and says so', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-worlds-'))
    writeFileSync(join(folder, 'broken.json'), '{')
    const { complaints } = await door(folder)
    expect(complaints[0]).toMatch(/the stand-ins of broken could not be read and start anew/)
    expect(readdirSync(folder)).toContain('broken.json.unreadable')
  })
  it('a changed plan moves cables and keeps what devices remember', async () => {
    const { ask, store } = await door()
    await ask('PUT', '/worlds/slip', description)
    const flash = (): string => {
      const saved = store.get('slip')!.save().boxes.switch!.flash!
      return `${saved.serial} ${saved.claimSecret}`
    }
    const before = flash()
    const plan = structuredClone(description.plan)
    delete plan.links['l-board']
    delete plan.devices['tide-board']
    delete plan.ports['tide-board.eth0']
    await ask('PUT', '/worlds/slip', { ...description, plan })
    expect(flash()).toBe(before)
    expect(
      ((await ask('GET', '/worlds/slip')).body as Snapshot).devices.some(
        (d) => d.id === 'tide-board',
      ),
    ).toBe(false)
  })
})
