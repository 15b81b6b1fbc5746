/** The server's routes from outside: who may call them, what they refuse, what they say. */
import { readEvidence } from '@mast/api'
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { connect } from 'node:net'
import pg from 'pg'
import { request as playwrightRequest, type APIRequestContext } from '@playwright/test'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'routes' })

const hello = (serial: string, claimSecret: string, more: object = {}): object => ({
  serial,
  hardwareAddress: '02:44:53:00:00:20',
  model: 'switch-8-poe-65',
  firmware: '3.1.0',
  address: '10.44.10.3',
  factoryPassword: true,
  claimSecretDigest: createHash('sha256').update(claimSecret).digest('hex'),
  ...more,
})
const report = (sequence: number, more: object = {}): object => ({
  sequence,
  phase: 'running',
  firmware: '3.6.2',
  configurationDigest: null,
  uptimeSeconds: 1,
  address: '10.44.10.3',
  factoryPassword: false,
  ports: [],
  lines: [],
  done: [],
  message: null,
  ...more,
})

let signedIn: APIRequestContext
let stranger: APIRequestContext
test.beforeAll(async ({ system }) => {
  signedIn = await playwrightRequest.newContext({ baseURL: system.origin })
  stranger = await playwrightRequest.newContext({ baseURL: system.origin })
  const setup = await signedIn.post('/api/setup', { data: { name: NAME, password: PASSWORD } })
  if (setup.status() === 409)
    await signedIn.post('/api/session', { data: { name: NAME, password: PASSWORD } })
  await signedIn.post('/api/sites', { data: { name: 'Dunlin Slipway', plan: dunlinSlipway() } })
})
test.afterAll(async () => {
  await signedIn.dispose()
  await stranger.dispose()
})

test('the first account is made once; a wrong password is refused, then slowed down', async () => {
  expect(
    (
      await stranger.post('/api/setup', { data: { name: 'second', password: 'another-long-one' } })
    ).status(),
  ).toBe(409)
  const tries = []
  for (let i = 0; i < 12; i++)
    tries.push(
      (
        await stranger.post('/api/session', { data: { name: 'nobody at all', password: 'guess' } })
      ).status(),
    )
  expect(tries[0]).toBe(401)
  expect(tries.at(-1)).toBe(429)
})

test('pages carry a content policy without inline scripts, and the usual headers', async () => {
  const reply = await stranger.get('/enter')
  const policy = reply.headers()['content-security-policy'] ?? ''
  expect(policy).toContain("default-src 'none'")
  expect(policy).toContain("frame-ancestors 'none'")
  expect(policy).not.toMatch(/unsafe|\*|https?:|wss?:/)
  expect(reply.headers()['x-content-type-options']).toBe('nosniff')
})

test(
  'connections are kept longer than proxies commonly keep theirs (60 s; from memory), so that ' +
    'none is closed under a request',
  async () => {
    const kept = Number(
      /timeout=(\d+)/.exec((await stranger.get('/enter')).headers()['keep-alive'] ?? '')?.[1],
    )
    expect(kept).toBeGreaterThan(60)
  },
)

test('a page of another origin cannot act', async () => {
  const foreign: Record<string, string>[] = [
    { origin: 'http://elsewhere.example' },
    { 'sec-fetch-site': 'cross-site' },
  ]
  for (const headers of foreign)
    expect((await signedIn.post('/api/sites', { data: { name: 'x' }, headers })).status()).toBe(403)
})

test(
  'saving names its base: what touches other things is merged, the same thing comes back as a ' +
    'conflict, what is wrong is refused whole',
  async () => {
    const at = '/api/sites/dunlin-slipway'
    const head = async () =>
      (await (await signedIn.get(at)).json()) as {
        revision: number
        plan: { segments: Record<string, { vlanId: number; expectedHosts: number }> }
      }
    const edit = (name: string, args: object) => ({ id: randomUUID(), kind: 'edit', name, args })
    const segment = (changes: object) => edit('changeSegment', { id: 'crew', changes })
    const save = async (base: number, ...changes: object[]) => {
      const reply = await signedIn.post(`${at}/edits`, { data: { base, changes } })
      return { status: reply.status(), body: (await reply.json()) as Record<string, unknown> }
    }
    const { revision } = await head()
    expect((await save(revision, segment({ vlanId: 21 }), segment({ vlanId: 4095 }))).status).toBe(
      422,
    )
    expect((await head()).revision).toBe(revision)

    expect(await save(revision, segment({ vlanId: 21 }))).toMatchObject({
      status: 200,
      body: { revision: revision + 1, merged: false },
    })
    const merged = segment({ expectedHosts: 33 })
    expect(await save(revision, merged)).toMatchObject({
      status: 200,
      body: { revision: revision + 2, merged: true },
    })
    expect((await head()).plan.segments.crew).toMatchObject({ vlanId: 21, expectedHosts: 33 })
    const conflict = await save(revision, segment({ vlanId: 22 }))
    expect(conflict).toMatchObject({
      status: 409,
      body: {
        data: {
          revision: revision + 2,
          conflicts: [
            {
              by: [{ number: revision + 1, author: NAME }],
              things: [{ top: 'segments', id: 'crew', part: 'vlanId', mine: 22, theirs: 21 }],
            },
          ],
        },
      },
    })
    expect((await head()).plan.segments.crew!.vlanId).toBe(21)

    // The answer to a save was lost and it is sent again: nothing is done twice.
    expect(await save(revision, merged)).toMatchObject({
      status: 200,
      body: { revision: revision + 2, made: [{ number: revision + 2 }] },
    })
    const third = segment({ expectedHosts: 34 })
    expect(await save(revision, merged, third)).toMatchObject({
      status: 200,
      body: { revision: revision + 3 },
    })
    expect((await head()).revision).toBe(revision + 3)

    expect(
      (
        await save(revision + 3, {
          id: randomUUID(),
          kind: 'patches',
          summary: 'x',
          patches: [{ op: 'replace', path: ['version'], value: 99 }],
        })
      ).status,
    ).toBe(422)
    expect((await save(0)).status).toBe(400)
    await save(revision + 3, segment({ vlanId: 20 }))
    const history = (await (await signedIn.get(`${at}/revisions`)).json()) as {
      number: number
      summary: string
      author: string
    }[]
    expect(history.slice(0, 2).map((r) => [r.number, r.summary, r.author])).toEqual([
      [revision + 4, 'Change vlanId of segment Crew', NAME],
      [revision + 3, 'Change expectedHosts of segment Crew', NAME],
    ])
    expect(
      (
        (await (await signedIn.get(`${at}/revisions/${revision + 1}`)).json()) as {
          plan: { segments: { crew: { vlanId: number } } }
        }
      ).plan.segments.crew.vlanId,
    ).toBe(21)
    expect((await signedIn.get(`${at}/revisions/999`)).status()).toBe(404)
    expect((await signedIn.get('/api/sites/no-such-site')).status()).toBe(404)
    expect(
      (
        await signedIn.post('/api/sites', { data: { name: 'broken', plan: { version: 1 } } })
      ).status(),
    ).toBe(422)
  },
)

test('a tick stands as long as its step says the same; a proof is not said before it ran', async () => {
  const site = '/api/sites/ticks'
  await signedIn.post('/api/sites', { data: { name: 'Ticks', plan: dunlinSlipway() } })
  const tick = (step: string) =>
    signedIn.put(`${site}/steps/${step}`, {
      data: { by: 'person', acknowledged: true, note: '' },
    })
  const inDrawer = async (): Promise<number> => {
    const sites = (await (await signedIn.get('/api/sites')).json()) as {
      id: string
      isLooking: boolean
      stepsDone: number
    }[]
    const line = sites.find((s) => s.id === 'ticks')!
    return line.isLooking ? -1 : line.stepsDone
  }
  const setSerial = async (base: number, serial: string): Promise<void> => {
    const edit = { name: 'changeDevice', args: { id: 'switch', changes: { serial } } }
    const saved = await signedIn.post(`${site}/edits`, {
      data: { base, changes: [{ id: randomUUID(), kind: 'edit', ...edit }] },
    })
    expect(saved.status()).toBe(200)
  }
  const before = dunlinSlipway().devices.switch!.serial!
  expect((await tick('read-labels')).status()).toBe(200)
  await expect.poll(inDrawer).toBe(1)
  await setSerial(1, 'AM-SWI-60999')
  await expect.poll(inDrawer).toBe(0)
  const early = await tick('gateway.bench-power')
  expect([early.status(), await early.text()]).toEqual([
    422,
    expect.stringContaining('first: read-labels'),
  ])
  // What it said before, it says again: the first tick stands.
  await setSerial(2, before)
  await expect.poll(inDrawer).toBe(1)
  await setSerial(3, 'AM-SWI-60999')
  expect((await tick('read-labels')).status()).toBe(200)
  await expect.poll(inDrawer).toBe(1)
  expect((await tick('gateway.bench-power')).status()).toBe(200)
  expect((await tick('prove')).status()).toBe(422)
  expect((await signedIn.delete(site)).status()).toBe(200)
})

test('evidence is kept once, pictures only if they are pictures', async () => {
  const at = '/api/sites/dunlin-slipway/evidence'
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGBgAAAABQABpfZFQAAAAABJRU5ErkJggg==',
    'base64',
  )
  const photo = {
    id: randomUUID(),
    kind: 'photo',
    at: new Date().toISOString(),
    stepId: 'read-labels',
    text: 'the label',
    mediaType: 'image/png',
    file: png.toString('base64'),
  }
  for (let i = 0; i < 2; i++) expect((await signedIn.post(at, { data: photo })).status()).toBe(200)
  const mine = readEvidence.reply
    .parse(await (await signedIn.get(at)).json())
    .filter((e) => e.id === photo.id)
  expect(mine).toMatchObject([{ kind: 'photo', mediaType: 'image/png', stepId: 'read-labels' }])
  const file = await signedIn.get(`${at}/${photo.id}/file`)
  expect([file.headers()['content-type'], file.headers()['content-security-policy']]).toEqual([
    'image/png',
    "default-src 'none'; sandbox",
  ])
  expect((await file.body()).equals(png)).toBe(true)
  const other = { ...photo, id: randomUUID() }
  // Under a plan of the place lies a picture of the same kinds; nothing that says it is enormous.
  const picture = { ...photo, kind: 'picture', id: randomUUID(), stepId: null, text: 'the slip' }
  expect((await signedIn.post(at, { data: picture })).status()).toBe(200)
  const enormous = Buffer.from(png)
  enormous.writeUInt32BE(10_000, 16)
  enormous.writeUInt32BE(10_000, 20)
  const refused = await signedIn.post(at, {
    data: { ...other, file: enormous.toString('base64') },
  })
  expect([refused.status(), ((await refused.json()) as { message: string }).message]).toEqual([
    400,
    expect.stringMatching(/10000 x 10000 points, 100 megapixels; the most are 40/),
  ])
  expect((await signedIn.post(at, { data: { ...other, mediaType: 'image/jpeg' } })).status()).toBe(
    400,
  )
  expect(
    (
      await signedIn.post(at, {
        data: {
          ...other,
          mediaType: 'image/svg+xml',
          file: Buffer.from('<svg onload="x()"/>').toString('base64'),
        },
      })
    ).status(),
  ).toBe(400)
  expect(
    (await signedIn.post(at, { data: { ...other, at: '2031-01-01T00:00:00Z' } })).status(),
  ).toBe(400)
  expect(
    (
      await signedIn.post(at, {
        data: { ...other, file: Buffer.alloc(4 * 1024 * 1024).toString('base64') },
      })
    ).status(),
  ).toBe(413)
})

test('a site goes out as one file and comes in again, the same; what was changed in the file is found', async () => {
  type Site = {
    plan: { site: { name: string } }
    revision: number
    revisions: { summary: string }[]
  }
  const get = async <T>(path: string): Promise<T> => (await (await signedIn.get(path)).json()) as T
  const out = await signedIn.post('/api/sites/dunlin-slipway/export', {
    data: { passphrase: 'low-water-springs' },
  })
  const file = (await out.json()) as {
    content: { steps: unknown[]; revisions: { summary: string }[] }
  }
  expect(JSON.stringify(file)).not.toContain(
    (await get<{ secret: string }>('/api/sites/dunlin-slipway/secrets/site-password')).secret,
  )
  const bringIn = async (data: object) => {
    const r = await signedIn.post('/api/sites/import', { data })
    return { status: r.status(), body: (await r.json()) as { id: string; message: string } }
  }
  expect(await bringIn({ file, passphrase: null })).toMatchObject({
    status: 422,
    body: { message: 'the secrets of this file are sealed; give its passphrase' },
  })
  expect(await bringIn({ file, passphrase: 'high-water' })).toMatchObject({
    status: 422,
    body: { message: 'the passphrase does not open the secrets of this file' },
  })
  const {
    status,
    body: { id },
  } = await bringIn({ file, passphrase: 'low-water-springs' })
  expect([status, id]).toEqual([200, 'dunlin-slipway-2'])
  const [was, is] = [
    await get<Site>('/api/sites/dunlin-slipway'),
    await get<Site>(`/api/sites/${id}`),
  ]
  // Whoever made a revision there is a name in a file here, even where somebody here has that name.
  expect([is.plan, is.revision, is.revisions]).toEqual([
    was.plan,
    was.revision,
    was.revisions.map((r) => ({ ...r, author: `${NAME} (from a file)` })),
  ])
  for (const ref of ['site-password', 'wifi-slip-wifi'])
    expect(await get(`/api/sites/${id}/secrets/${ref}`)).toEqual(
      await get(`/api/sites/dunlin-slipway/secrets/${ref}`),
    )
  const evidence = await get<{ id: string; kind: string; body: { text: string } }[]>(
    `/api/sites/${id}/evidence`,
  )
  expect(evidence.filter((e) => e.kind === 'photo')).toHaveLength(1)
  // A plan names its picture by its id, which is the same here.
  const [picture] = evidence.filter((e) => e.kind === 'picture')
  const there = await signedIn.get(`/api/sites/dunlin-slipway/evidence/${picture!.id}/file`)
  expect(there.status()).toBe(200)

  const changed = structuredClone(file)
  changed.content.revisions[1]!.summary = 'something else'
  expect(await bringIn({ file: changed, passphrase: 'low-water-springs' })).toMatchObject({
    status: 422,
    body: { message: 'the file was changed or damaged: its digest does not fit' },
  })
  expect(
    (await bringIn({ file: { format: 'able-mast-site', version: 99 }, passphrase: null })).status,
  ).toBe(422)
  // Its devices have the same serials; nobody could tell whose calls.
  expect((await signedIn.delete(`/api/sites/${id}`)).status()).toBe(200)
})

test('the audit trail cannot be changed, and shows where somebody did it all the same', async ({
  system,
}) => {
  const client = new pg.Client({ connectionString: system.url })
  await client.connect()
  for (const statement of [
    "update log set what = 'nothing happened'",
    'delete from log',
    'truncate log',
  ])
    await expect(client.query(statement)).rejects.toThrow(/the log is written once/)
  const broken = async () =>
    (
      (await (await signedIn.get('/api/sites/dunlin-slipway/log')).json()) as {
        brokenAt: number | null
      }
    ).brokenAt
  expect(await broken()).toBeNull()
  const {
    rows: [row],
  } = await client.query<{ id: string; what: string }>(
    "select id, what from log where site_id = 'dunlin-slipway' order by id offset 2 limit 1",
  )
  // Who owns the database can switch the triggers off; the chain then tells.
  const forge = (what: string) =>
    client
      .query('begin; alter table log disable trigger log_rows_stay')
      .then(() => client.query('update log set what = $1 where id = $2', [what, row!.id]))
      .then(() => client.query('alter table log enable trigger log_rows_stay; commit'))
  await forge('nothing happened')
  expect(await broken()).toBe(Number(row!.id))
  await forge(row!.what)
  expect(await broken()).toBeNull()
  await client.end()
})

test('a device is heard, claimed, given its token and configuration; what is not in order is refused', async () => {
  const secret = randomBytes(32).toString('hex')
  const call = (path: string, data: object, token?: string) =>
    stranger.post(`/controller/v1/${path}`, {
      data,
      headers: token ? { authorization: `Bearer ${token}` } : {},
    })
  const state = async () =>
    (await (await signedIn.get('/api/sites/dunlin-slipway/devices')).json()) as {
      devices: { deviceId: string; state: string }[]
      foreign: { serial: string; nearest: string }[]
    }

  expect(await (await call('hello', hello('AM-SWI-60348', secret))).json()).toEqual({
    status: 'unclaimed',
    retryAfterSeconds: 10,
  })
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('seen')
  expect((await call('token', { serial: 'AM-SWI-60348', claimSecret: secret })).status()).toBe(401)
  const mistyped = await signedIn.post('/api/sites/dunlin-slipway/devices/switch/claim', {
    data: { serial: 'AM-SWI-60343' },
  })
  expect([mistyped.status(), ((await mistyped.json()) as { message: string }).message]).toEqual([
    422,
    "AM-SWI-60343 differs from the plan's AM-SWI-60348 in 1 place; read the label again",
  ])
  expect(
    (
      await signedIn.post('/api/sites/dunlin-slipway/devices/switch/claim', {
        data: { serial: 'am-swi-60348' },
      })
    ).status(),
  ).toBe(200)

  expect(
    (
      await call('token', { serial: 'AM-SWI-60348', claimSecret: randomBytes(32).toString('hex') })
    ).status(),
  ).toBe(401)
  const { token } = (await (
    await call('token', { serial: 'AM-SWI-60348', claimSecret: secret })
  ).json()) as { token: string }
  const desired = await stranger.get('/controller/v1/desired', {
    headers: { authorization: `Bearer ${token}` },
  })
  const { digest, configuration, firmware } = (await desired.json()) as {
    digest: string
    configuration: unknown
    firmware: { path: string; digest: string; version: string }
  }
  const canonical = (v: unknown): string =>
    Array.isArray(v)
      ? `[${v.map(canonical).join(',')}]`
      : v !== null && typeof v === 'object'
        ? `{${Object.keys(v)
            .sort()
            .map((k) => `${JSON.stringify(k)}:${canonical((v as Record<string, unknown>)[k])}`)
            .join(',')}}`
        : JSON.stringify(v)
  expect(createHash('sha256').update(canonical(configuration)).digest('hex')).toBe(digest)
  expect(
    createHash('sha256')
      .update(
        await (
          await stranger.get(firmware.path, { headers: { authorization: `Bearer ${token}` } })
        ).body(),
      )
      .digest('hex'),
  ).toBe(firmware.digest)

  expect((await stranger.get(firmware.path)).status()).toBe(401)
  expect(
    (
      await stranger.get(firmware.path.replace(firmware.version, '9.9.9'), {
        headers: { authorization: `Bearer ${token}` },
      })
    ).status(),
  ).toBe(404)

  expect((await call('report', report(1, { phase: 'loading-firmware' }), token)).status()).toBe(200)
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('loading')
  expect((await call('report', report(2, { configurationDigest: digest }), token)).status()).toBe(
    200,
  )
  expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('in-service')
  expect(
    (
      await stranger.get('/controller/v1/desired', {
        headers: { authorization: `Bearer ${token}`, 'if-none-match': `"${digest}"` },
      })
    ).status(),
  ).toBe(304)

  await test.step('replayed, wrong, malformed, oversized', async () => {
    expect((await call('report', report(2, { configurationDigest: digest }), token)).status()).toBe(
      409,
    )
    expect((await call('report', report(3), 'x'.repeat(43))).status()).toBe(401)
    expect((await call('report', report(3))).status()).toBe(401)
    expect((await call('report', { ...report(3), surprise: true }, token)).status()).toBe(400)
    expect((await call('report', report(3, { message: 'x'.repeat(40_000) }), token)).status()).toBe(
      413,
    )
    expect((await call('hello', hello('bad serial!', secret))).status()).toBe(400)
    expect(
      (
        await stranger.post('/controller/v1/hello', {
          data: 'not json',
          headers: { 'content-type': 'application/json' },
        })
      ).status(),
    ).toBe(400)
    expect(
      (
        await stranger.post('/controller/v1/hello', {
          data: '{}',
          headers: { 'content-type': 'text/plain' },
        })
      ).status(),
    ).toBe(415)
  })
  await test.step('drift, a command, a stranger under its serial, a foreign serial', async () => {
    expect(
      (await call('report', report(3, { configurationDigest: 'f'.repeat(64) }), token)).status(),
    ).toBe(200)
    expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('drifted')
    await signedIn.post('/api/sites/dunlin-slipway/devices/switch/command', {
      data: { command: 'restart' },
    })
    const { commands } = (await (
      await call('report', report(4, { configurationDigest: digest }), token)
    ).json()) as { commands: { id: string; command: string }[] }
    expect(commands.map((c) => c.command)).toEqual(['restart'])
    expect(
      (
        (await (
          await call(
            'report',
            report(5, { configurationDigest: digest, done: [commands[0]!.id] }),
            token,
          )
        ).json()) as { commands: unknown[] }
      ).commands,
    ).toEqual([])
    expect(
      await (await call('hello', hello('AM-SWI-60348', randomBytes(32).toString('hex')))).json(),
    ).toMatchObject({ status: 'unclaimed' })
    expect((await state()).devices.find((d) => d.deviceId === 'switch')!.state).toBe('in-service')
    await call('hello', hello('AM-AP-60386', secret, { hardwareAddress: '02:44:53:00:00:99' }))
    expect((await state()).foreign).toMatchObject([
      { serial: 'AM-AP-60386', nearest: 'AM-AP-60385' },
    ])
  })
  await test.step('giving up takes the token away', async () => {
    expect((await signedIn.post('/api/sites/dunlin-slipway/devices/switch/give-up')).status()).toBe(
      200,
    )
    expect((await call('report', report(6, { configurationDigest: digest }), token)).status()).toBe(
      401,
    )
  })
})

test('a body that drips in is cut off', async ({ system }) => {
  const { hostname, port } = new URL(system.origin)
  const answer = (host: string): Promise<string> =>
    new Promise((resolve) => {
      const socket = connect(Number(port), hostname)
      let said = ''
      socket.on('error', () => {})
      socket.on('data', (d: Buffer) => {
        said += d.toString()
      })
      socket.on('close', () => resolve(said))
      socket.write(
        `POST /controller/v1/hello HTTP/1.1\r\nHost: ${host}\r\nContent-Type: ` +
          `application/json\r\nContent-Length: 400\r\n\r\n{`,
      )
    })
  expect(await answer(`${hostname}:${port}`)).toMatch(/^HTTP\/1\.1 408 /)
  expect(await answer('elsewhere.example')).toMatch(/^HTTP\/1\.1 421 [^]*connection: close/i)
})

test('secrets are shown to who may see them, and the log keeps only that they were', async () => {
  const { secret } = (await (
    await signedIn.get('/api/sites/dunlin-slipway/secrets/site-password')
  ).json()) as { secret: string }
  expect(secret).toMatch(/^[a-z2-9]{4}(-[a-z2-9]{4}){3}$/)
  const log = JSON.stringify(await (await signedIn.get('/api/sites/dunlin-slipway/log')).json())
  expect(log).toContain('Looked at the secret site-password')
  expect(log).not.toContain(secret)
  expect(
    (
      await signedIn.put('/api/sites/dunlin-slipway/secrets/wifi-slip-wifi', {
        data: { secret: 'short' },
      })
    ).status(),
  ).toBe(400)
})

test('a site can be removed by its owner, with all that hangs on it', async () => {
  const { id } = (await (
    await signedIn.post('/api/sites', { data: { name: 'Short Lived' } })
  ).json()) as { id: string }
  expect((await signedIn.delete(`/api/sites/${id}`)).status()).toBe(200)
  expect((await signedIn.get(`/api/sites/${id}`)).status()).toBe(404)
})
