/**
 * ./mast backup and ./mast restore as a person runs them: what comes back is what was there, and a
 * file that is not whole is refused.
 */
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { editCall } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { freePort } from '../../scripts/start/ports.mjs'
import { Caller } from '../caller'

const folder = mkdtempSync(join(tmpdir(), 'able-mast-backup-'))
test.afterAll(() => rmSync(folder, { recursive: true, force: true }))
const NAME = 'keeper'
const PASSWORD = 'lamp-lens-log-book'

async function running(
  state: string,
  work: (origin: string) => Promise<void>,
  at?: number,
): Promise<void> {
  const port = at ?? (await freePort())
  const child = spawn('./mast', ['start', '--port', String(port)], {
    env: { ...process.env, MAST_STATE: state },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const ended = new Promise<void>((resolve) => child.on('close', () => resolve()))
  await new Promise<void>((resolve) =>
    child.stdout.on('data', (c: Buffer) => {
      if (c.toString().includes('Ctrl-C stops it.')) resolve()
    }),
  )
  try {
    await work(`http://127.0.0.1:${port}`)
  } finally {
    child.kill('SIGTERM')
    await ended
  }
}
const mast = (state: string, ...args: string[]): { status: number | null; said: string } => {
  const { status, stdout, stderr } = spawnSync('./mast', args, {
    env: { ...process.env, MAST_STATE: state },
    encoding: 'utf8',
  })
  return { status, said: stdout + stderr }
}
/** Everything that a person can see of a system. */
async function whole(origin: string): Promise<unknown> {
  const caller = await Caller.first(origin, NAME, PASSWORD)
  const out: Record<string, unknown> = {}
  for (const { id } of await caller.read<{ id: string }[]>('GET', '/api/sites'))
    for (const what of [
      '',
      '/revisions',
      '/steps',
      '/evidence',
      '/devices',
      '/members',
      '/secrets',
      '/secrets/site-password',
    ])
      out[`${id}${what}`] = await caller.read('GET', `/api/sites/${id}${what}`)
  return JSON.parse(
    JSON.stringify(out, (key, value: unknown) => (key === 'since' ? undefined : value)),
  )
}

/** Keys of a tunnel: of its own end, shared, and of a peer whose file was opened. */
async function tunnelKeys(caller: Caller): Promise<string[]> {
  const at = '/api/sites/dunlin-slipway'
  const save = async (edits: object[]): Promise<void> => {
    const { revision } = await caller.read<{ revision: number }>('GET', at)
    await caller.read('POST', `${at}/edits`, {
      base: revision,
      changes: [{ id: crypto.randomUUID(), kind: 'edits', summary: 'A tunnel', edits }],
    })
  }
  const { id: hostDeviceId } = siteModel(dunlinSlipway()).gateway!
  await save([
    editCall('recordHandOff', {
      uplinkId: Object.keys(dunlinSlipway().uplinks)[0]!,
      facts: { addressKind: 'public' },
    }),
    editCall('addTunnel', {
      ...{ id: 'road', name: 'Road', hostDeviceId, subnet: '10.250.30.0/24' },
      ...{ listenPort: 51_820, endpointName: 'slip.example.org' },
      dynamicName: { how: 'web', server: 'names.example.org', ttlSeconds: 300 },
    }),
    editCall('addPeer', {
      ...{ id: 'laptop', name: 'Laptop', tunnelId: 'road', address: '10.250.30.2' },
      ...{ sharedKeyRef: 'shared-laptop' },
    }),
  ])
  const shared = Buffer.alloc(32, 7).toString('base64')
  await caller.read('PUT', `${at}/secrets/shared-laptop`, { secret: shared })
  const made = async (of: 'tunnel' | 'peer', id: string): Promise<object> =>
    caller.read<object>('POST', `${at}/tunnels/keys`, { of, id })
  await save([
    editCall('changeTunnel', {
      id: 'road',
      changes: await made('tunnel', 'road'),
    }),
    editCall('changePeer', { id: 'laptop', changes: await made('peer', 'laptop') }),
  ])
  const set: unknown = await caller.read('GET', `${at}/devices/${hostDeviceId}/configuration`)
  const own = /"privateKey":"(\S{44})"/.exec(JSON.stringify(set))![1]!
  const { token } = await caller.read<{ token: string }>('POST', `${at}/hand-outs`, {
    peerId: 'laptop',
    hours: 1,
  })
  const { text } = await caller.read<{ text: string }>('POST', `/api/hand-outs/${token}`)
  return [own, shared, /^PrivateKey = (\S{44})$/m.exec(text)![1]!]
}

test('a backup taken while it runs comes back elsewhere as it was, secrets and audit trail too', async () => {
  const [here, there] = [join(folder, 'here'), join(folder, 'there')]
  const file = join(folder, 'harbour.backup')
  const phrase = join(folder, 'phrase')
  writeFileSync(phrase, 'a-long-line-of-rope\n')
  let before: unknown
  let wifiKey = ''
  let secrets: string[] = []
  expect(mast(here, 'backup', file)).toMatchObject({
    status: 1,
    said: 'There is nothing to back up here yet; ./mast start makes the first data.\n',
  })
  await running(here, async (origin) => {
    const caller = await Caller.first(origin, NAME, PASSWORD)
    await caller.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
    await caller.read('POST', '/api/sites/dunlin-slipway/edits', {
      base: 1,
      changes: [
        { id: crypto.randomUUID(), kind: 'edit', name: 'changeSite', args: { country: 'NO' } },
      ],
    })
    await caller.read('PUT', '/api/sites/dunlin-slipway/steps/read-labels', {
      by: 'person',
      acknowledged: true,
      note: 'all legible',
    })
    wifiKey = (
      await caller.read<{ secret: string }>(
        'GET',
        '/api/sites/dunlin-slipway/secrets/wifi-slip-wifi',
      )
    ).secret
    secrets = [
      wifiKey,
      (
        await caller.read<{ secret: string }>(
          'GET',
          '/api/sites/dunlin-slipway/secrets/site-password',
        )
      ).secret,
      ...(await tunnelKeys(caller)),
      'claimSecret',
      '"token"',
    ]
    // The stand-ins are asked for, and write down what they know.
    await caller.read('POST', '/api/sites/dunlin-slipway/standins/clock', { speed: 60 })
    const kept = join(here, 'standins', 'dunlin-slipway.json')
    await expect.poll(() => existsSync(kept)).toBe(true)
    before = await whole(origin)
    const made = mast(here, 'backup', file, '--passphrase-file', phrase)
    expect(made.status, made.said).toBe(0)
    expect(mast(here, 'restore', file).said).toMatch(
      /^Able Mast runs from this folder \(process \d+\); stop it before restoring\.\n$/,
    )
  })
  const bytes = readFileSync(file)
  expect(bytes.includes('a-long-line-of-rope')).toBe(false)

  await test.step(
    'what the stand-ins remember is in it, and is sealed like the rest: keys, tokens, what was ' +
      'sealed by no earlier version',
    async () => {
      const { unzipSync } = await import('fflate')
      const world = join(here, 'standins', 'dunlin-slipway.json')
      // As a version before this one left it.
      const plain = JSON.stringify({ description: { keys: { 'slip-wifi': wifiKey } }, boxes: {} })
      const sealed = readFileSync(world)
      for (const content of [sealed, Buffer.from(plain)]) {
        writeFileSync(world, content)
        const bare = join(folder, 'bare.backup')
        expect(mast(here, 'backup', bare).status).toBe(0)
        const parts = unzipSync(readFileSync(bare))
        expect(Object.keys(parts)).toContain('standins/dunlin-slipway.json')
        for (const [name, part] of Object.entries(parts))
          for (const secret of secrets)
            expect(Buffer.from(part).includes(secret), `${name} has ${secret}`).toBe(false)
      }
      writeFileSync(world, sealed)
    },
  )

  expect(mast(there, 'restore', file)).toMatchObject({
    status: 1,
    said: expect.stringContaining('is under a passphrase; give --passphrase-file.'),
  })
  writeFileSync(phrase, 'another-line-of-rope')
  expect(mast(there, 'restore', file, '--passphrase-file', phrase).said).toContain(
    'The passphrase does not open the key of',
  )
  writeFileSync(phrase, 'a-long-line-of-rope')
  const restored = mast(there, 'restore', file, '--passphrase-file', phrase)
  expect(restored.status, restored.said).toBe(0)
  await running(there, async (origin) => {
    expect(await whole(origin)).toEqual(before)
    const caller = await Caller.first(origin, NAME, PASSWORD)
    expect(
      (await caller.read<{ brokenAt: number | null }>('GET', '/api/sites/dunlin-slipway/log'))
        .brokenAt,
    ).toBeNull()
    await caller.read('POST', '/api/sites', { name: 'Made After' })
  })
  expect(mast(there, 'restore', file, '--passphrase-file', phrase).said).toBe(
    'There is data here already; --replace throws it away for that of the backup.\n',
  )
  expect(mast(there, 'restore', file, '--replace').status).toBe(0)
  await running(there, async (origin) => expect(await whole(origin)).toEqual(before))

  const broken = Buffer.from(bytes)
  broken[Math.floor(bytes.length / 2)]! ^= 1
  writeFileSync(join(folder, 'broken.backup'), broken)
  expect(mast(there, 'restore', join(folder, 'broken.backup'), '--replace').said).toMatch(
    /damaged: the digest of .* does not fit|no backup, or it is cut off/,
  )
  writeFileSync(join(folder, 'short.backup'), bytes.subarray(0, bytes.length - 400))
  expect(mast(there, 'restore', join(folder, 'short.backup'), '--replace').said).toMatch(
    /no backup, or it is cut off/,
  )
  expect(mast(there, 'restore', join(folder, 'nothing.backup')).said).toMatch(/is not there\.\n$/)
})

test(
  'a browser that saw more than the backup has follows it back, and what it had not sent waits ' +
    'for a person',
  async ({ page }) => {
    const state = join(folder, 'set-back')
    const file = join(folder, 'early.backup')
    const port = await freePort()
    const origin = `http://127.0.0.1:${port}`
    const status = page.getByRole('banner').getByRole('status')
    const name = page.getByRole('region', { name: 'Site' }).getByLabel('Name', { exact: true })
    const rename = async (text: string): Promise<void> => {
      await name.fill(text)
      await name.press('Enter')
    }
    await running(
      state,
      async () => {
        const caller = await Caller.first(origin, NAME, PASSWORD)
        await caller.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
        await page.goto(`${origin}/s/dunlin-slipway/survey`)
        await page.getByLabel('Name').fill(NAME)
        await page.getByLabel('Password').fill(PASSWORD)
        await page.getByRole('button', { name: 'Sign in' }).click()
        await expect(status).toContainText('rev 1 saved')
        await page.getByRole('button', { name: 'Facts of the site' }).click()
        expect(mast(state, 'backup', file).status).toBe(0)
        for (const [text, revision] of [
          ['Dunlin One', 2],
          ['Dunlin Two', 3],
        ] as const) {
          await rename(text)
          await expect(status).toContainText(`rev ${revision} saved`)
        }
      },
      port,
    )
    await rename('Dunlin Three')
    await expect(status).toContainText('1 kept here, server away')
    expect(mast(state, 'restore', file, '--replace').status).toBe(0)
    await running(
      state,
      async () => {
        const conflicts = page.getByLabel('Conflicts')
        await expect(conflicts).toContainText(
          'made before the server was set back to an earlier state',
        )
        await expect(status).toContainText('rev 1')
        await expect(name).toHaveValue('Dunlin Slipway')
        await conflicts.getByRole('button', { name: 'Keep mine' }).click()
        await expect(status).toContainText('rev 2 saved')
        const caller = await Caller.first(origin, NAME, PASSWORD)
        expect(
          (
            await caller.read<{ plan: { site: { name: string } } }>(
              'GET',
              '/api/sites/dunlin-slipway',
            )
          ).plan.site.name,
        ).toBe('Dunlin Three')
      },
      port,
    )
  },
)
