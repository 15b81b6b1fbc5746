/**
 * Every route asked again and again with what its schema allows, what it nearly allows, and what
 * nobody should send: no error of ours, no hang, nothing broken afterwards.
 */
import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import pg from 'pg'
import { expect, it, onTestFinished } from 'vitest'
import { chanceOf, type Chance } from '@mast/core/generator'
import { digestOf, edits, type SitePlan } from '@mast/core/plan'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Caller } from '../caller'
import { NAME, PASSWORD, throwaway } from '../load/system'
import { bodyOf, spoilt, valueFor, type Words } from './arbitrary'
import { Device } from './device'
import { allRoutes, type Route } from './routes'

/** A million on demand: `./mast test fuzz`. */
const REQUESTS = Number(process.env.MAST_FUZZ ?? 2500)
const SEED = Number(process.env.MAST_FUZZ_SEED ?? 20_261_126)
const AT_ONCE = 8
/** Nothing takes longer; what does hangs. */
const HANG_MS = 30_000
/** But a proof and a failover that is tried, which take virtual time; they end all the same. */
const PROOF = 'POST /api/sites/[site]/proof'
const DRILL = 'POST /api/sites/[site]/drill'
const TRIES: ReadonlySet<string> = new Set([PROOF, DRILL])
const TRY_MS = 280_000

/** Routes that end what the others need are asked for seldom. */
const seldom = new Set([
  'DELETE /api/sites/[site]',
  'DELETE /api/session',
  'DELETE /api/account/sessions',
  'DELETE /api/sites/[site]/standins',
  'DELETE /api/sites/[site]/members/[account]',
  'PUT /api/account/password',
  PROOF,
  DRILL,
])

it(
  `${REQUESTS} requests to all routes: no answer of 500, none that hangs, the same process afterwards`,
  async () => {
    const { system, close } = await throwaway()
    onTestFinished(close)
    const routes = await allRoutes()
    expect(routes.length).toBeGreaterThan(45)
    const pid = (): number => system.parts.find((p) => p.name === 'the server')!.pid
    const before = pid()
    const residentMb = (): number =>
      Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${before}/status`, 'utf8'))![1]) / 1024
    const memory: number[] = []

    let owner = await Caller.first(system.origin, NAME, PASSWORD)
    let siteId = ''
    const open = async (): Promise<void> => {
      siteId = (
        await owner.read<{ id: string }>('POST', '/api/sites', {
          name: `Fuzz ${randomUUID().slice(0, 8)}`,
          plan: dunlinSlipway(),
        })
      ).id
    }
    await open()
    const viewer = await Caller.invited(owner, siteId, 'a viewer', PASSWORD, 'viewer')
    const stranger = new Caller(system.origin, 'stranger')
    const device = new Device(system.origin, 'AM-SWI-60348')
    const file = await owner.read<{ content: object; digest: string }>(
      'POST',
      `/api/sites/${siteId}/export`,
      { passphrase: null },
    )
    const base = dunlinSlipway()
    const ids = [
      ...new Set(
        Object.values(base).flatMap((part) => (typeof part === 'object' ? Object.keys(part) : [])),
      ),
    ]
    const words: Words = {
      ids,
      texts: [
        randomUUID(),
        new Date().toISOString(),
        '10.44.10.3',
        '10.44.10.0/24',
        '10.44.10.1',
        '02:44:53:00:00:20',
        'AM-SWI-60348',
        'switch-8-poe-65',
        'a'.repeat(64),
        'x'.repeat(43),
        'Europe/London',
        'GB',
        'a name',
        'a long enough password',
        'iVBORw0KGgoAAAANSUhEUg==',
        'image/png',
        'eth0',
        '3.6.2',
        'wifi-slip-wifi',
        'read-labels',
        'crew',
        'slip.internal',
        '2001:db8::/64',
        '203.0.113.10/29',
        '1',
      ],
    }

    const wrong: string[] = []
    const counts = new Map<number, number>()
    const answered = new Set<string>()
    let sent = 0
    let needsMending = false

    function pathOf(route: Route, chance: Chance): string {
      return (
        route.path.replace(/\[(\w+)\]/g, (_, name: string) => {
          if (name === 'site' && !chance.happens(0.08)) return siteId
          if (chance.happens(0.1))
            return chance.one([
              'constructor',
              '__proto__',
              '%00',
              '%ff',
              '%ed%a0%80',
              '..%2f..',
              'x'.repeat(300),
              '%0d%0aSet-Cookie:x=1',
              '-1',
              '99999999999999999999',
              '%e2%80%ae',
            ])
          return encodeURIComponent(chance.one([...words.texts, ...ids, '1', '2']))
        }) +
        (chance.happens(0.1)
          ? chance.one([
              '?before=0',
              '?before=5',
              '?since=1',
              '?since=1&at=2026-01-01T00:00:00Z',
              '?since=4294967296',
              '?at=%00',
              '?before[]=1',
              '?__proto__[x]=1',
              '?since=1&since=2',
            ])
          : '')
      )
    }
    async function bodyFor(route: Route, chance: Chance): Promise<string | undefined> {
      if (!route.body) return route.method === 'GET' || chance.happens(0.9) ? undefined : '{}'
      if (chance.happens(0.04))
        return chance.one([
          '',
          '{',
          'null',
          '[]',
          '"text"',
          '\u0000',
          '{"a":1e999}',
          `${'['.repeat(200)}${']'.repeat(200)}`,
          '{"__proto__":{}}',
          '{"name":"\\ud800"}',
        ])
      const wild = chance.one([0, 0, 0.02, 0.1, 0.4])
      const name = `${route.method} ${route.path}`
      if (name === 'POST /api/sites' && chance.happens(0.7))
        return bodyOf({ name: 'Opened', plan: spoilt(base, chance, chance.between(0, 3)) })
      if (name === 'POST /api/sites/import' && chance.happens(0.8)) {
        const content = spoilt(file.content, chance, chance.between(0, 3)) as object
        return bodyOf({
          file: { ...file, content, digest: digestOf(JSON.parse(bodyOf(content))) },
          passphrase: null,
        })
      }
      if (name.endsWith('/edits')) {
        const { revision, plan } = await owner
          .read<{ revision: number; plan: SitePlan }>('GET', `/api/sites/${siteId}`)
          .catch(() => ({ revision: 1, plan: base }))
        const here: Words = {
          ...words,
          ids: Object.values(plan).flatMap((part) =>
            typeof part === 'object' ? Object.keys(part) : [],
          ),
        }
        const changes = Array.from({ length: chance.between(1, 3) }, () => {
          if (chance.happens(0.3))
            return {
              id: randomUUID(),
              kind: 'patches',
              summary: 'x',
              patches: Array.from({ length: chance.between(1, 4) }, () => ({
                op: chance.one(['add', 'remove', 'replace']),
                path: pathIn(plan, chance),
                value: chance.one<unknown>([...here.texts, null, 3, [], {}, 'constructor']),
              })),
            }
          const some = (): { name: string; args: unknown } => {
            const edit = chance.one([...edits.values()])
            return { name: edit.name, args: valueFor(edit.args, chance, here, wild) }
          }
          return chance.happens(0.2)
            ? {
                id: randomUUID(),
                kind: 'edits',
                summary: 'x',
                edits: Array.from({ length: chance.between(1, 4) }, some),
              }
            : { id: randomUUID(), kind: 'edit', ...some() }
        })
        return bodyOf(spoilt({ base: revision, changes }, chance, chance.happens(0.1) ? 1 : 0))
      }
      return bodyOf(valueFor(route.body, chance, words, wild))
    }

    async function once(n: number): Promise<void> {
      const chance = chanceOf(SEED + n)
      const route = chance.one(routes)
      const name = `${route.method} ${route.path}`
      if (seldom.has(name) && !chance.happens(0.05)) return
      const path = pathOf(route, chance)
      const body = await bodyFor(route, chance)
      const who = chance.one([owner, owner, owner, owner, viewer, stranger])
      const headers: Record<string, string> = {
        ...(body === undefined
          ? {}
          : { 'content-type': chance.happens(0.97) ? 'application/json' : 'text/plain' }),
        ...(who.cookies ? { cookie: who.cookies } : {}),
      }
      if (path.startsWith('/controller'))
        headers.authorization = `Bearer ${chance.one([device.token || 'w'.repeat(43), 'w'.repeat(43), 'short'])}`
      if (chance.happens(0.02))
        headers['if-none-match'] = chance.one(['"x"', '*', `"${'a'.repeat(64)}"`])
      if (chance.happens(0.02)) headers['sec-fetch-site'] = 'cross-site'
      let status: number | string
      try {
        if (TRIES.has(name))
          await owner.status('POST', path.replace(/(proof|drill).*/, 'standins/clock'), {
            speed: 1000,
          })
        const response = await fetch(system.origin + path, {
          method: route.method,
          headers,
          redirect: 'manual',
          signal: AbortSignal.timeout(TRIES.has(name) ? TRY_MS : HANG_MS),
          ...(body === undefined ? {} : { body }),
        })
        status = response.status
        if (/event-stream/.test(response.headers.get('content-type') ?? ''))
          await response.body?.cancel()
        else await response.arrayBuffer()
      } catch (error) {
        status = String((error as { cause?: unknown }).cause ?? error)
      }
      if (
        (status === 401 && who === owner && !path.startsWith('/controller')) ||
        (status === 404 && path === `/api/sites/${siteId}`)
      )
        needsMending = true
      sent++
      answered.add(name)
      if (typeof status === 'number') counts.set(status, (counts.get(status) ?? 0) + 1)
      // 503: too much of something at once, in words.
      if (typeof status !== 'number' || (status >= 500 && status !== 503))
        wrong.push(`seed ${SEED + n}: ${name} ${path} -> ${status} ${body?.slice(0, 300) ?? ''}`)
    }
    const database = new pg.Pool({ connectionString: system.url, max: 1 })
    database.on('error', () => {})
    onTestFinished(() => database.end())
    const forgetTries = (): Promise<unknown> => database.query('delete from tries')
    /**
     * Whoever was signed out, or whose site was removed, goes on, when what the others had asked
     * for is answered: it may do it again, or be all that one account may have at once.
     */
    async function mend(): Promise<void> {
      // One account owns two hundred sites at the most, and a million requests open more.
      const { rows } = await database.query<{ id: string }>('select id from sites where id <> $1', [
        siteId,
      ])
      if (rows.length > 150)
        for (const { id } of rows) await database.query('delete from sites where id = $1', [id])
      for (let tries = 0; tries < 20; tries++) {
        const status = await owner.status('GET', `/api/sites/${siteId}`)
        await forgetTries()
        if (status === 200) break
        if (status === 401) owner = await Caller.first(system.origin, NAME, PASSWORD)
        if (status === 404)
          await open().catch(async (error: unknown) => {
            if (!/: (401|429|503) /.test(String(error))) throw error
            await Promise.race([...underWay])
          })
      }
      if (!device.token || (await device.report()) !== 200) {
        await device.hello()
        const claimed = await owner.status('POST', `/api/sites/${siteId}/devices/switch/claim`, {
          serial: device.serial,
        })
        if (claimed >= 500 && claimed !== 503) wrong.push(`a claim -> ${claimed}`)
        await device.askToken()
      }
    }

    let next = 0
    const underWay = new Set<Promise<void>>()
    let mending: Promise<void> | undefined
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        for (let n = next++; n < REQUESTS; n = next++) {
          if (n % 200 === 0) memory.push(residentMb())
          if (needsMending || n % 200 === 0) {
            needsMending = false
            mending ??= mend().finally(() => {
              mending = undefined
            })
          }
          await mending
          const asked = once(n)
          underWay.add(asked)
          await asked.finally(() => underWay.delete(asked))
        }
      }),
    )
    console.log(
      `${sent} requests to ${answered.size} routes: ${[...counts]
        .sort(([a], [b]) => a - b)
        .map(([s, c]) => `${s} ${c}`)
        .join(', ')}; memory ${memory
        .filter((_, i) => i % Math.ceil(memory.length / 12) === 0)
        .map(Math.round)
        .join(' ')} MiB`,
    )
    expect(wrong.slice(0, 10), `${wrong.length} in all`).toEqual([])
    expect(pid()).toBe(before)
    await forgetTries()
    owner = await Caller.first(system.origin, NAME, PASSWORD)
    for (const line of await owner.read<{ id: string; unread: string | null }[]>(
      'GET',
      '/api/sites',
    ))
      expect([line.id, line.unread]).toEqual([line.id, null])
    if (REQUESTS >= 100_000) {
      const third = Math.floor(memory.length / 3)
      const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length
      expect(mean(memory.slice(-third))).toBeLessThan(mean(memory.slice(third, 2 * third)) * 1.25)
    }
  },
  180_000 + REQUESTS * 50,
)

function pathIn(plan: SitePlan, chance: Chance): (string | number)[] {
  const path: (string | number)[] = []
  let at: unknown = plan
  for (let depth = 0; depth < 6 && typeof at === 'object' && at !== null; depth++) {
    const keys: (string | number)[] = Array.isArray(at)
      ? [...at.keys(), at.length, -1]
      : Object.keys(at)
    const key =
      chance.happens(0.1) || keys.length === 0
        ? chance.one<string | number>(['length', 'constructor', '__proto__', '-', 0, 1e6, 'x'])
        : chance.one(keys)
    path.push(key)
    at = Object.hasOwn(at, key) ? (at as Record<string, unknown>)[key] : undefined
    if (path.length >= 2 && chance.happens(0.3)) break
  }
  return path
}
