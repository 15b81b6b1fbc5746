/**
 * What strangers at the door, pages elsewhere and people with an account did, and what comes of it
 * now.
 */
import { randomUUID } from 'node:crypto'
import { connect } from 'node:net'
import { request } from 'node:http'
import { readFileSync } from 'node:fs'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createPlan } from '@mast/core/plan'
import { Caller } from '../caller'
import { change, NAME, PASSWORD, throwaway } from '../load/system'
import type { System } from '../../scripts/start/system.mjs'

let system: System
let close: () => Promise<void>
let owner: Caller
beforeAll(async () => {
  ;({ system, close } = await throwaway())
})
afterAll(() => close())

const json = { 'content-type': 'application/json' }
const post = (
  path: string,
  body: unknown,
  headers: Record<string, string> = {},
): Promise<Response> =>
  fetch(system.origin + path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { ...json, ...headers },
  })
/** With a Host of one's choice, which fetch does not let one choose. */
const withHost = (host: string, path: string, body?: string): Promise<number> =>
  new Promise((resolve, reject) => {
    const { hostname, port } = new URL(system.origin)
    const r = request(
      {
        hostname,
        port,
        path,
        method: body ? 'POST' : 'GET',
        headers: { host, ...(body ? { ...json, 'content-length': Buffer.byteLength(body) } : {}) },
      },
      (response) => {
        response.resume()
        response.on('end', () => resolve(response.statusCode!))
      },
    )
    r.on('error', reject)
    r.end(body)
  })
const residentMb = (): number =>
  Number(
    /VmRSS:\s+(\d+)/.exec(
      readFileSync(
        `/proc/${system.parts.find((p) => p.name === 'the server')!.pid}/status`,
        'utf8',
      ),
    )![1],
  ) / 1024

async function forgetTries(): Promise<void> {
  const client = new pg.Client({ connectionString: system.url })
  await client.connect()
  await client.query('delete from tries')
  await client.end()
}

describe('before the first account', () => {
  it('a page that let its name point here reaches neither the set-up nor anything else', async () => {
    const setup = JSON.stringify({ name: 'mallory', password: 'a-password-of-theirs' })
    for (const host of [
      'rebound.example',
      `rebound.example:${new URL(system.origin).port}`,
      '127.0.0.1.rebound.example',
    ]) {
      expect(await withHost(host, '/api/setup', setup)).toBe(421)
      expect(await withHost(host, '/api/session')).toBe(421)
      expect(await withHost(host, '/enter')).toBe(421)
    }
    expect(await withHost('localhost', '/api/session')).toBe(200)
    owner = await Caller.first(system.origin, NAME, PASSWORD)
  })
})

describe('the door', () => {
  it('two hundred callers at the set-up do not keep a person from signing in: it looks before it hashes', async () => {
    const crowd = Promise.all(
      Array.from({ length: 200 }, (_, n) =>
        post('/api/setup', { name: `caller ${n}`, password: 'a-long-password-of-theirs' }).then(
          (r) => r.status,
        ),
      ),
    )
    const person = await Caller.first(system.origin, NAME, PASSWORD)
    expect(await person.status('GET', '/api/sites')).toBe(200)
    expect(new Set(await crowd)).toEqual(new Set([409]))
  })
  it('more passwords at once than can be checked are told to come again, and then it goes on', async () => {
    const statuses = await Promise.all(
      Array.from({ length: 300 }, (_, n) =>
        post('/api/session', { name: `nobody ${n}`, password: 'a guess' }).then((r) => r.status),
      ),
    )
    expect(statuses.every((s) => [401, 429, 503].includes(s))).toBe(true)
    expect(statuses.filter((s) => s === 401).length).toBeLessThanOrEqual(100)
    await forgetTries()
    expect(
      await (await Caller.first(system.origin, NAME, PASSWORD)).status('GET', '/api/sites'),
    ).toBe(200)
  })
  it('slow bodies of strangers take no memory to speak of: what is open takes 8 KiB', async () => {
    for (const path of [
      '/api/setup',
      '/api/session',
      `/api/invitations/${'x'.repeat(43)}`,
      '/controller/v1/hello',
      '/controller/v1/token',
    ])
      expect(
        (
          await fetch(system.origin + path, {
            method: 'POST',
            headers: json,
            body: `{"name":"${'x'.repeat(9000)}"}`,
          })
        ).status,
        path,
      ).toBe(413)
    const { hostname, port } = new URL(system.origin)
    const before = residentMb()
    const closed: Promise<void>[] = []
    for (let n = 0; n < 200; n++) {
      const socket = connect(Number(port), hostname)
      socket.on('error', () => {})
      socket.resume()
      closed.push(new Promise((r) => socket.on('close', () => r())))
      socket.write(
        `POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: ` +
          `application/json\r\nTransfer-Encoding: ` +
          `chunked\r\n\r\n200000\r\n${'x'.repeat(0x200000)}`,
      )
    }
    await Promise.all(closed)
    expect(residentMb() - before).toBeLessThan(150)
  })
  it('pages elsewhere cannot lock anybody out by pictures that point at invitations', async () => {
    const path = `/api/invitations/${'p'.repeat(43)}`
    for (let n = 0; n < 150; n++)
      expect(
        (
          await fetch(system.origin + path, {
            headers: {
              'sec-fetch-site': 'cross-site',
              'sec-fetch-mode': 'no-cors',
              'sec-fetch-dest': 'image',
            },
          })
        ).status,
      ).toBe(403)
    // A browser that says nothing of where it comes from: looking at invitations that are none is
    // counted apart.
    const looks: number[] = []
    for (let n = 0; n < 80; n++) looks.push((await fetch(system.origin + path)).status)
    expect([looks[0], looks.at(-1)]).toEqual([404, 429])
    expect(
      await (await Caller.first(system.origin, NAME, PASSWORD)).status('GET', '/api/sites'),
    ).toBe(200)
    await forgetTries()
  })
})

describe('an owner who was taken off', () => {
  it.each(['taken off', 'made viewer'])(
    '%s does not come back by an invitation made before',
    async (how) => {
      const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Ours' })
      const other = await Caller.invited(owner, id, `former owner ${how}`, PASSWORD, 'owner')
      const { token } = await other.read<{ token: string }>(
        'POST',
        `/api/sites/${id}/invitations`,
        { role: 'owner', note: 'for myself' },
      )
      const { members, you } = await other.read<{ members: object[]; you: string }>(
        'GET',
        `/api/sites/${id}/members`,
      )
      expect(members).toHaveLength(2)
      await (how === 'taken off'
        ? owner.read('DELETE', `/api/sites/${id}/members/${you}`)
        : owner.read('PUT', `/api/sites/${id}/members/${you}`, { role: 'viewer' }))
      expect(await other.status('GET', `/api/invitations/${token}`)).toBe(404)
      expect(await other.status('POST', `/api/invitations/${token}`, { newAccount: null })).toBe(
        404,
      )
      expect(await owner.read('GET', `/api/sites/${id}/invitations`)).toEqual([])
      const { entries } = await owner.read<{ entries: { what: string }[] }>(
        'GET',
        `/api/sites/${id}/log`,
      )
      expect(entries.some((e) => e.what.includes('1 open invitation of theirs ended'))).toBe(true)
    },
  )
})

describe('what is kept and what is told', () => {
  it('that somebody looked at a configuration with its keys stands in the audit trail', async () => {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: 'Trail',
      plan: (await import('../../demo/dunlinSlipway')).dunlinSlipway(),
    })
    const device = 'switch'
    expect(await owner.status('GET', `/api/sites/${id}/devices/${device}/configuration`)).toBe(200)
    const { entries } = await owner.read<{ entries: { what: string; who: string }[] }>(
      'GET',
      `/api/sites/${id}/log`,
    )
    expect(
      entries.find((e) => e.what === `Looked at the configuration of ${device}, with its keys`)
        ?.who,
    ).toBe(NAME)
  })
  it('answers are kept by no browser, and photographs only for who may still see them', async () => {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Pictures' })
    for (const path of [
      '/api/session',
      '/api/sites',
      `/api/sites/${id}`,
      `/api/sites/${id}/log`,
      `/api/sites/${id}/devices`,
    ])
      expect((await owner.call('GET', path)).headers.get('cache-control'), path).toBe('no-store')
    const photo = {
      id: randomUUID(),
      kind: 'photo',
      at: new Date().toISOString(),
      stepId: null,
      text: '',
      mediaType: 'image/png',
      file: 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGBgAAAABQABpfZFQAAAAABJRU5ErkJggg==',
    }
    await owner.read('POST', `/api/sites/${id}/evidence`, photo)
    const file = `/api/sites/${id}/evidence/${photo.id}/file`
    const reply = await owner.call('GET', file)
    expect([reply.headers.get('cache-control'), reply.headers.get('etag')]).toEqual([
      'private, no-cache',
      `"${photo.id}"`,
    ])
    expect(
      (await owner.call('GET', file, undefined, { 'if-none-match': `"${photo.id}"` })).status,
    ).toBe(304)
    expect(
      (await fetch(system.origin + file, { headers: { 'if-none-match': `"${photo.id}"` } })).status,
    ).toBe(401)
  })
  it('ids of evidence tell nothing of other sites', async () => {
    const [a, b] = [
      await owner.read<{ id: string }>('POST', '/api/sites', { name: 'One' }),
      await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Other' }),
    ]
    const note = {
      id: randomUUID(),
      kind: 'note',
      at: new Date().toISOString(),
      stepId: null,
      text: 'of the first',
    }
    expect(await owner.status('POST', `/api/sites/${a.id}/evidence`, note)).toBe(200)
    expect(
      await owner.status('POST', `/api/sites/${b.id}/evidence`, { ...note, text: 'of the other' }),
    ).toBe(200)
    const text = async (id: string): Promise<string> =>
      (await owner.read<{ body: { text: string } }[]>('GET', `/api/sites/${id}/evidence`))[0]!.body
        .text
    expect([await text(a.id), await text(b.id)]).toEqual(['of the first', 'of the other'])
  })
  it('two sites opened at once under one name get one id each', async () => {
    const ids = await Promise.all(
      Array.from({ length: 5 }, () =>
        owner.read<{ id: string }>('POST', '/api/sites', { name: 'Twins' }),
      ),
    )
    expect(new Set(ids.map((s) => s.id)).size).toBe(5)
  })
})

describe('what nothing can store', () => {
  it('is refused as what it is, not as an error of ours', async () => {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Strange texts' })
    const send = (method: string, path: string, body?: string): Promise<number> =>
      owner.raw(method, path, body)
    for (const text of ['"a\\u0000b"', '"\\ud800"', '"\\udc00\\ud800"']) {
      expect(await send('POST', '/api/sites', `{"name":${text}}`)).toBe(400)
      expect(
        await send('POST', `/api/sites/${id}/invitations`, `{"role":"viewer","note":${text}}`),
      ).toBe(400)
      expect(
        await send(
          'POST',
          `/api/sites/${id}/edits`,
          JSON.stringify({ base: 1, changes: [change('changeSite', { name: 'N' })] }).replace(
            '"N"',
            text,
          ),
        ),
      ).toBe(400)
    }
    expect(
      await send(
        'POST',
        `/api/sites/${id}/invitations`,
        '{"role":"viewer","note":"\\\\u0000 typed"}',
      ),
    ).toBe(200)
    for (const path of [
      'devices/a%00b/configuration',
      'secrets/a%00b',
      'revisions/99999999999999999999',
      'revisions/2147483648',
      'revisions?before=4294967296',
      'devices/%ff/configuration',
    ]) {
      const status = await send('GET', `/api/sites/${id}/${path}`)
      expect(status, path).toBeGreaterThanOrEqual(400)
      expect(status, path).toBeLessThan(500)
    }
    expect(
      await send(
        'PUT',
        `/api/sites/${id}/steps/a%00b`,
        JSON.stringify({ by: 'person', acknowledged: true }),
      ),
    ).toBe(400)
    expect(
      await send(
        'POST',
        '/api/sites',
        `{"name":"x","plan":${'['.repeat(5000)}${']'.repeat(5000)}}`,
      ),
    ).toBe(400)
    expect(
      (
        await fetch(`${system.origin}/api/session`, {
          method: 'POST',
          headers: json,
          body: Buffer.from([0x7b, 0xff, 0x7d]),
        })
      ).status,
    ).toBe(400)
  })
  it('more streams than one account watches are told so', async () => {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: 'Streams',
      plan: createPlan('Streams'),
    })
    const streams: Response[] = []
    for (let n = 0; n < 60; n++) streams.push(await owner.call('GET', `/api/sites/${id}/events`))
    expect(streams.map((s) => s.status)).toContain(429)
    for (const s of streams) await s.body?.cancel()
    // Their places are free again when they have ended.
    for (let isFree = false; !isFree;) {
      const s = await owner.call('GET', `/api/sites/${id}/events`)
      isFree = s.status === 200
      await s.body?.cancel()
    }
  })
})

describe('what one account or one site may fill', () => {
  /** Fills a table up to a limit, as a patient account would. */
  async function filled(sql: string): Promise<void> {
    const client = new pg.Client({ connectionString: system.url })
    await client.connect()
    await client.query(sql)
    await client.end()
  }
  const refusal = async (
    method: string,
    path: string,
    body: unknown,
  ): Promise<[number, string]> => {
    const r = await owner.call(method, path, body)
    return [r.status, ((await r.json()) as { message: string }).message]
  }

  it('has an end, and says so', async () => {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Full up' })
    await filled(
      `insert into evidence (site_id, kind, source, revision, body) select '${id}', 'note', ` +
        `'person', 1, '{}' from generate_series(1, 10000)`,
    )
    expect(
      await refusal('POST', `/api/sites/${id}/evidence`, {
        id: randomUUID(),
        kind: 'note',
        at: new Date().toISOString(),
        stepId: null,
        text: 'one more',
      }),
    ).toEqual([422, expect.stringMatching(/^this site keeps 10000 pieces of evidence/)])
    await filled(
      `insert into secrets (site_id, ref, sealed) select '${id}', 'ref-' || n, '' from generate_series(1, 1000) n`,
    )
    expect(await refusal('PUT', `/api/sites/${id}/secrets/one-more`, { secret: null })).toEqual([
      422,
      expect.stringMatching(/the most are 1000$/),
    ])
    expect(
      await owner.status('PUT', `/api/sites/${id}/secrets/ref-7`, {
        secret: 'a-new-one-for-an-old',
      }),
    ).toBe(200)
    await filled(
      'insert into invitations (token_hash, site_id, role, invited_by, expires_at) select ' +
        `'hash-' || n, '${id}', 'viewer', (select id from accounts limit 1), now() + interval ` +
        `'1 day' from generate_series(1, 100) n`,
    )
    expect(
      await refusal('POST', `/api/sites/${id}/invitations`, { role: 'viewer', note: '' }),
    ).toEqual([422, expect.stringContaining('as many open invitations as it may')])
    const { plan } = await owner.read<{ plan: object }>('GET', `/api/sites/${id}`)
    await filled(
      `insert into sites (id, name, head) select 'many-' || n, 'Many', 1 from ` +
        'generate_series(1, 200) n; insert into members (site_id, account_id, role) select ' +
        `'many-' || n, (select account_id from members where site_id = '${id}'), 'owner' from ` +
        'generate_series(1, 200) n',
    )
    for (const [path, body] of [
      ['/api/sites', { name: 'One more' }],
      ['/api/sites', { name: 'One more', plan }],
      ['/api/sites/import', { file: {}, passphrase: null }],
    ] as const)
      expect(await refusal('POST', path, body)).toEqual([
        422,
        expect.stringMatching(/^you own 2\d\d sites and the most are 200/),
      ])
    await filled(`delete from sites where id like 'many-%'`)
  })
})
