/** The server's routes from outside: who may call them, what they refuse, what they say. */
import { createHash, randomBytes } from 'node:crypto'
import { readdirSync } from 'node:fs'
import { connect } from 'node:net'
import { request as playwrightRequest, type APIRequestContext } from '@playwright/test'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'routes' })

const hello = (serial: string, claimSecret: string, more: object = {}): object => ({
  serial, hardwareAddress: '02:44:53:00:00:20', model: 'switch-8-poe-65', firmware: '3.1.0', address: '10.44.10.3', factoryPassword: true,
  claimSecretDigest: createHash('sha256').update(claimSecret).digest('hex'), ...more,
})
const report = (sequence: number, more: object = {}): object => ({
  sequence, phase: 'running', firmware: '3.6.2', configurationDigest: null, uptimeSeconds: 1, address: '10.44.10.3', factoryPassword: false, ports: [], line: null, done: [], message: null, ...more,
})

/** Every route of the application, from its files. */
function routes(folder = 'server/api'): { method: string; path: string }[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.isDirectory()) return routes(`${folder}/${entry.name}`)
    const [, name, method] = /^(.*)\.(get|post|put|delete)\.ts$/.exec(entry.name)!
    const path = `${folder.replace('server', '')}/${name === 'index' ? '' : name}`.replace(/\/$/, '')
    return [{ method: method!.toUpperCase(), path: path.replace('[site]', 'dunlin-slipway').replace('[device]', 'switch').replace('[step]', 'prove').replace('[ref]', 'site-password') }]
  })
}
const open = ['GET /api/session', 'POST /api/session', 'DELETE /api/session', 'POST /api/setup']

let signedIn: APIRequestContext
let stranger: APIRequestContext
test.beforeAll(async ({ system }) => {
  signedIn = await playwrightRequest.newContext({ baseURL: system.origin })
  stranger = await playwrightRequest.newContext({ baseURL: system.origin })
  const setup = await signedIn.post('/api/setup', { data: { name: NAME, password: PASSWORD } })
  if (setup.status() === 409) await signedIn.post('/api/session', { data: { name: NAME, password: PASSWORD } })
  await signedIn.post('/api/sites', { data: { name: 'Dunlin Slipway', plan: dunlinSlipway() } })
})
test.afterAll(async () => { await signedIn.dispose(); await stranger.dispose() })

test('no route but those of signing in answers a stranger', async () => {
  const all = routes()
  expect(all.length).toBeGreaterThan(25)
  for (const { method, path } of all) {
    if (open.includes(`${method} ${path}`)) continue
    const reply = await stranger.fetch(path, { method, ...(method === 'GET' || method === 'DELETE' ? {} : { data: {} }) })
    expect(reply.status(), `${method} ${path}`).toBe(401)
  }
})

test('the first account is made once; a wrong password is refused, then slowed down', async () => {
  expect((await stranger.post('/api/setup', { data: { name: 'second', password: 'another-long-one' } })).status()).toBe(409)
  const tries = []
  for (let i = 0; i < 12; i++) tries.push((await stranger.post('/api/session', { data: { name: 'nobody at all', password: 'guess' } })).status())
  expect(tries[0]).toBe(401)
  expect(tries.at(-1)).toBe(429)
})

test('pages carry a content policy without inline scripts, and the usual headers', async () => {
  const reply = await stranger.get('/enter')
  const policy = reply.headers()['content-security-policy'] ?? ''
  expect(policy).toContain("default-src 'self'")
  expect(policy).toContain("frame-ancestors 'none'")
  expect(/script-src [^;]*/.exec(policy)![0]).not.toContain('unsafe')
  expect(reply.headers()['x-content-type-options']).toBe('nosniff')
})

test('a page of another origin cannot act', async () => {
  const foreign: Record<string, string>[] = [{ 'origin': 'http://elsewhere.example' }, { 'sec-fetch-site': 'cross-site' }]
  for (const headers of foreign) expect((await signedIn.post('/api/sites', { data: { name: 'x' }, headers })).status()).toBe(403)
})

test('saving names its base; what is stale or wrong is refused whole', async () => {
  const at = '/api/sites/dunlin-slipway'
  const { revision } = (await (await signedIn.get(at)).json()) as { revision: number }
  const rename = { kind: 'edit', name: 'changeSite', args: { name: 'Dunlin Slipway' } }
  const vlan = (vlanId: number) => ({ kind: 'edit', name: 'changeSegment', args: { id: 'crew', changes: { vlanId } } })
  expect((await signedIn.post(`${at}/edits`, { data: { base: revision, changes: [vlan(21), vlan(4095)] } })).status()).toBe(422)
  expect(((await (await signedIn.get(at)).json()) as { revision: number }).revision).toBe(revision)
  expect((await signedIn.post(`${at}/edits`, { data: { base: revision, changes: [vlan(21)] } })).status()).toBe(200)
  expect((await signedIn.post(`${at}/edits`, { data: { base: revision, changes: [rename] } })).status()).toBe(409)
  expect((await signedIn.post(`${at}/edits`, { data: { base: revision + 1, changes: [{ kind: 'patches', summary: 'x', patches: [{ op: 'replace', path: ['version'], value: 9 }] }] } })).status()).toBe(422)
  expect((await signedIn.post(`${at}/edits`, { data: { base: 0, changes: [] } })).status()).toBe(400)
  await signedIn.post(`${at}/edits`, { data: { base: revision + 1, changes: [vlan(20)] } })
  expect((await signedIn.get('/api/sites/no-such-site')).status()).toBe(404)
  expect((await signedIn.post('/api/sites', { data: { name: 'broken', plan: { version: 1 } } })).status()).toBe(422)
})

test('a device is heard, claimed, given its token and configuration; what is not in order is refused', async () => {
  const secret = randomBytes(32).toString('hex')
  const call = (path: string, data: object, token?: string) => stranger.post(`/controller/v1/${path}`, { data, headers: token ? { authorization: `Bearer ${token}` } : {} })
  const state = async () => ((await (await signedIn.get('/api/sites/dunlin-slipway/devices')).json()) as { devices: { deviceId: string; state: string }[]; foreign: { serial: string; nearest: string }[] })

  expect(await (await call('hello', hello('AM-SWI-60348', secret))).json()).toEqual({ status: 'unclaimed', retryAfterSeconds: 10 })
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('seen')
  expect((await call('token', { serial: 'AM-SWI-60348', claimSecret: secret })).status()).toBe(401)
  const mistyped = await signedIn.post('/api/sites/dunlin-slipway/devices/switch/claim', { data: { serial: 'AM-SWI-60343' } })
  expect([mistyped.status(), ((await mistyped.json()) as { message: string }).message]).toEqual([422, "AM-SWI-60343 differs from the plan's AM-SWI-60348 in 1 place; read the label again"])
  expect((await signedIn.post('/api/sites/dunlin-slipway/devices/switch/claim', { data: { serial: 'am-swi-60348' } })).status()).toBe(200)

  expect((await call('token', { serial: 'AM-SWI-60348', claimSecret: randomBytes(32).toString('hex') })).status()).toBe(401)
  const { token } = (await (await call('token', { serial: 'AM-SWI-60348', claimSecret: secret })).json()) as { token: string }
  const desired = await stranger.get('/controller/v1/desired', { headers: { authorization: `Bearer ${token}` } })
  const { digest, configuration, firmware } = (await desired.json()) as { digest: string; configuration: unknown; firmware: { path: string; digest: string; version: string } }
  const canonical = (v: unknown): string => (Array.isArray(v) ? `[${v.map(canonical).join(',')}]` : v !== null && typeof v === 'object' ? `{${Object.keys(v).sort().map((k) => `${JSON.stringify(k)}:${canonical((v as Record<string, unknown>)[k])}`).join(',')}}` : JSON.stringify(v))
  expect(createHash('sha256').update(canonical(configuration)).digest('hex')).toBe(digest)
  expect(createHash('sha256').update(await (await stranger.get(firmware.path)).body()).digest('hex')).toBe(firmware.digest)

  expect((await call('report', report(1, { phase: 'loading-firmware' }), token)).status()).toBe(200)
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('loading')
  expect((await call('report', report(2, { configurationDigest: digest }), token)).status()).toBe(200)
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('in-service')
  expect((await stranger.get('/controller/v1/desired', { headers: { 'authorization': `Bearer ${token}`, 'if-none-match': `"${digest}"` } })).status()).toBe(304)

  await test.step('replayed, wrong, malformed, oversized', async () => {
    expect((await call('report', report(2, { configurationDigest: digest }), token)).status()).toBe(409)
    expect((await call('report', report(3), 'x'.repeat(43))).status()).toBe(401)
    expect((await call('report', report(3))).status()).toBe(401)
    expect((await call('report', { ...report(3), surprise: true }, token)).status()).toBe(400)
    expect((await call('report', report(3, { message: 'x'.repeat(40_000) }), token)).status()).toBe(413)
    expect((await call('hello', hello('bad serial!', secret))).status()).toBe(400)
    expect((await stranger.post('/controller/v1/hello', { data: 'not json', headers: { 'content-type': 'application/json' } })).status()).toBe(400)
    expect((await stranger.post('/controller/v1/hello', { data: '{}', headers: { 'content-type': 'text/plain' } })).status()).toBe(415)
  })
  await test.step('drift, a command, a stranger under its serial, a foreign serial', async () => {
    expect((await call('report', report(3, { configurationDigest: 'f'.repeat(64) }), token)).status()).toBe(200)
    expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('drifted')
    await signedIn.post('/api/sites/dunlin-slipway/devices/switch/command', { data: { command: 'restart' } })
    const { commands } = (await (await call('report', report(4, { configurationDigest: digest }), token)).json()) as { commands: { id: string; command: string }[] }
    expect(commands.map((c) => c.command)).toEqual(['restart'])
    expect(((await (await call('report', report(5, { configurationDigest: digest, done: [commands[0]!.id] }), token)).json()) as { commands: unknown[] }).commands).toEqual([])
    expect(await (await call('hello', hello('AM-SWI-60348', randomBytes(32).toString('hex')))).json()).toMatchObject({ status: 'unclaimed' })
    expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('in-service')
    await call('hello', hello('AM-AP-60386', secret, { hardwareAddress: '02:44:53:00:00:99' }))
    expect((await state()).foreign).toMatchObject([{ serial: 'AM-AP-60386', nearest: 'AM-AP-60385' }])
  })
  await test.step('giving up takes the token away', async () => {
    expect((await signedIn.post('/api/sites/dunlin-slipway/devices/switch/release')).status()).toBe(200)
    expect((await call('report', report(6, { configurationDigest: digest }), token)).status()).toBe(401)
  })
})

test('a body that drips in is cut off', async ({ system }) => {
  const { hostname, port } = new URL(system.origin)
  const socket = connect(Number(port), hostname)
  socket.on('error', () => {})
  socket.write('POST /controller/v1/hello HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 400\r\n\r\n{')
  await new Promise<void>((resolve) => { socket.resume(); socket.on('close', () => resolve()) })
})

test('secrets are shown to who may see them, and the log keeps only that they were', async () => {
  const { secret } = (await (await signedIn.get('/api/sites/dunlin-slipway/secrets/site-password')).json()) as { secret: string }
  expect(secret).toMatch(/^[a-z2-9]{4}(-[a-z2-9]{4}){3}$/)
  const log = JSON.stringify(await (await signedIn.get('/api/sites/dunlin-slipway/log')).json())
  expect(log).toContain('Looked at the secret site-password')
  expect(log).not.toContain(secret)
  expect((await signedIn.put('/api/sites/dunlin-slipway/secrets/wifi-slip-wifi', { data: { secret: 'short' } })).status()).toBe(400)
})

test('a site can be removed by its owner, with all that hangs on it', async () => {
  const { id } = (await (await signedIn.post('/api/sites', { data: { name: 'Short Lived' } })).json()) as { id: string }
  expect((await signedIn.delete(`/api/sites/${id}`)).status()).toBe(200)
  expect((await signedIn.get(`/api/sites/${id}`)).status()).toBe(404)
})
