/**
 * Plans, patches and site files made to hang the server, to make a site unreadable, or to speak in
 * somebody's name.
 */
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { chanceOf, randomSite } from '@mast/core/generator'
import { applyEdits, segments, createPlan, digestOf, type SitePlan } from '@mast/core/plan'
import { Caller } from '../caller'
import { change, NAME, PASSWORD, throwaway } from '../load/system'
import type { System } from '../../scripts/start/system.mjs'

let system: System
let close: () => Promise<void>
let owner: Caller
beforeAll(async () => {
  ;({ system, close } = await throwaway())
  owner = await Caller.first(system.origin, NAME, PASSWORD)
})
afterAll(() => close())

const serverPid = (): number => system.parts.find((p) => p.name === 'the server')!.pid
const opened = async (name: string, plan?: SitePlan): Promise<string> =>
  (await owner.read<{ id: string }>('POST', '/api/sites', { name, ...(plan ? { plan } : {}) })).id
const patches = (...list: object[]): object => ({
  id: randomUUID(),
  kind: 'patches',
  summary: 'Undo',
  patches: list,
})
const save = async (
  site: string,
  ...changes: object[]
): Promise<{ status: number; body: Record<string, unknown> }> => {
  const { revision } = await owner.read<{ revision: number }>('GET', `/api/sites/${site}`)
  const r = await owner.call('POST', `/api/sites/${site}/edits`, { base: revision, changes })
  return { status: r.status, body: (await r.json()) as Record<string, unknown> }
}
interface Line {
  id: string
  name: string
  unread: string | null
  isLooking: boolean
}
/** The drawer, asked for until every plan in it is looked through, as the screen does. */
async function drawer(): Promise<Line[]> {
  for (;;) {
    const lines = await owner.read<Line[]>('GET', '/api/sites')
    if (!lines.some((l) => l.isLooking)) return lines
  }
}
const withSegment = (): SitePlan =>
  applyEdits(createPlan('Segment'), [
    {
      name: 'addSegment',
      args: {
        ...segments.blank,
        id: 'crew',
        name: 'Crew',
        purpose: 'staff',
        vlanId: 20,
        expectedHosts: 10,
        subnet: '10.9.0.0/24',
        gateway: '10.9.0.1',
        pools: [{ first: '10.9.0.50', last: '10.9.0.99' }],
      },
    },
  ])
/**
 * How many answers others get while something is under way. Where the event loop is held, none
 * comes before it is over.
 */
async function answersDuring(work: Promise<unknown>): Promise<number> {
  let isOver = false
  void work
    .catch(() => {})
    .then(() => {
      isOver = true
    })
  let answers = 0
  for (;;) {
    await owner.status('GET', '/api/session')
    if (isOver) return answers
    answers++
  }
}

describe('one patch', () => {
  it.each<[string, object]>([
    [
      'to the length of a list, ten million',
      { op: 'replace', path: ['segments', 'crew', 'pools', 'length'], value: 10_000_000 },
    ],
    [
      'to the length of a list, four thousand million',
      { op: 'replace', path: ['segments', 'crew', 'pools', 'length'], value: 4_000_000_000 },
    ],
    [
      'beyond the end of a list',
      {
        op: 'add',
        path: ['segments', 'crew', 'pools', 900_000],
        value: { first: '10.9.0.1', last: '10.9.0.2' },
      },
    ],
    [
      'to the end of a list by another word',
      { op: 'add', path: ['segments', 'crew', 'pools', '-'], value: {} },
    ],
    ['before a list', { op: 'replace', path: ['segments', 'crew', 'pools', -1], value: {} }],
    [
      'by an inherited name',
      { op: 'replace', path: ['segments', 'constructor', 'prototype', 'x'], value: 1 },
    ],
    [
      'to what every object inherits',
      { op: 'add', path: ['segments', '__proto__'], value: { polluted: true } },
    ],
  ])('%s is refused, by the same process as before', async (_, patch) => {
    const site = await opened('Patched', withSegment())
    const pid = serverPid()
    expect([400, 422]).toContain((await save(site, patches(patch))).status)
    expect([serverPid(), await owner.status('GET', `/api/sites/${site}`)]).toEqual([pid, 200])
  })
})

describe('whatever is named Constructor', () => {
  it('is read again, with the drawer, after the server has forgotten it', async () => {
    const site = await opened('Constructor')
    expect(site).toBe('constructor-2')
    for (const args of [
      { id: 'constructor', name: 'Constructor', kind: 'building', mains: true },
      { id: 'toString', name: 'x', kind: 'building', mains: true },
    ])
      expect((await save(site, change('addLocation', args))).status).toBe(422)
    expect(
      (
        await save(
          site,
          patches({
            op: 'add',
            path: ['locations', 'constructor'],
            value: {
              id: 'constructor',
              name: 'Constructor',
              kind: 'building',
              mains: true,
              outlets: null,
              outletDistanceM: null,
              latitude: null,
              longitude: null,
              heightM: null,
              people: 0,
              clients: [],
            },
          }),
        )
      ).status,
    ).toBe(422)
    expect(
      (
        await save(
          site,
          change('addLocation', {
            id: 'constructor-2',
            name: 'Constructor',
            kind: 'building',
            mains: true,
          }),
        )
      ).status,
    ).toBe(200)
    const pid = serverPid()
    process.kill(pid, 'SIGKILL')
    while (
      serverPid() === pid ||
      !(await fetch(`${system.origin}/controller/v1/ready`).then(
        (r) => r.ok,
        () => false,
      ))
    )
      await new Promise((r) => setTimeout(r, 50))
    expect(
      (await owner.read<{ plan: SitePlan }>('GET', `/api/sites/${site}`)).plan.locations[
        'constructor-2'
      ]!.name,
    ).toBe('Constructor')
    expect((await drawer()).find((s) => s.id === site)!.unread).toBeNull()
  })
  it('in an address asks for nothing that is there', async () => {
    const site = await opened('Addresses')
    for (const name of ['constructor', '__proto__', 'toString'])
      for (const [method, path, body] of [
        ['GET', `devices/${name}/configuration`],
        ['POST', `devices/${name}/claim`, { serial: 'AM-1' }],
        ['GET', `secrets/${name}`],
        ['GET', `revisions/${name}`],
        ['PUT', `steps/${name}`, { by: 'person', acknowledged: true }],
      ] as const) {
        const status = await owner.status(method, `/api/sites/${site}/${path}`, body)
        expect(status, `${method} ${path}`).toBeGreaterThanOrEqual(400)
        expect(status, `${method} ${path}`).toBeLessThan(500)
      }
  })
  it('one site that cannot be read is told of in the drawer, and the others are there', async () => {
    const [broken, fine] = [await opened('Broken'), await opened('Fine')]
    const { default: pg } = await import('pg')
    const client = new pg.Client({ connectionString: system.url })
    await client.connect()
    await client.query(`update revisions set document = '{"version": 2}' where site_id = $1`, [
      broken,
    ])
    await client.end()
    const lines = await drawer()
    expect(lines.find((l) => l.id === broken)).toMatchObject({
      name: 'Broken',
      unread: expect.stringContaining('cannot be read'),
    })
    expect(lines.find((l) => l.id === fine)).toMatchObject({ name: 'Fine', unread: null })
  })
})

describe('an account does not hold the event loop', () => {
  const crowded = (): SitePlan => {
    const plan = createPlan('Crowded')
    for (let n = 0; n < 400; n++)
      plan.segments[`s${n}`] = {
        ...segments.blank,
        id: `s${n}`,
        name: `S ${n}`,
        purpose: 'staff',
        vlanId: 1 + n,
        expectedHosts: 10,
        subnet: '10.0.0.0/8',
      }
    return plan
  }
  it(
    'with a plan in which everything overlaps: the drawer is asked for in a thread, which is ' +
      'ended when it takes too long',
    async () => {
      const site = await opened('Crowded', crowded())
      const asked = drawer()
      expect(await answersDuring(asked)).toBeGreaterThan(5)
      expect((await asked).find((l) => l.id === site)).toBeDefined()
    },
  )
  it('with a plan, a file or a batch of changes as large as they may be', async () => {
    const large = createPlan('Large')
    for (let n = 0; n < 1900; n++)
      large.locations[`l${n}`] = {
        id: `l${n}`,
        name: `Place ${n}`,
        kind: 'building',
        mains: true,
        outlets: 0,
        outletDistanceM: null,
        latitude: 1,
        longitude: 1,
        heightM: null,
        people: 0,
        clients: [],
      }
    const site = opened('Large', large)
    expect(await answersDuring(site)).toBeGreaterThan(5)
    const file = {
      format: 'able-mast-site',
      version: 1,
      digest: 'a'.repeat(64),
      content: { filler: Array.from({ length: 20_000 }, (_, n) => ({ n, text: 'x'.repeat(200) })) },
    }
    const bringing = owner.status('POST', '/api/sites/import', { file, passphrase: null })
    expect(await answersDuring(bringing)).toBeGreaterThan(5)
    expect(await bringing).toBe(422)
    const saving = save(
      await site,
      ...Array.from({ length: 200 }, (_, n) => change('removeLocation', { id: `l${n}` })),
    )
    expect(await answersDuring(saving)).toBeGreaterThan(5)
    expect((await saving).status).toBe(200)
  })
  it('with a proof of more tests than anybody would wait for', async () => {
    const plan = randomSite(chanceOf(1), {
      switches: 100,
      accessPoints: 2,
      segments: 120,
      hostsPerSegment: 30,
      intents: 200,
      mistakes: 0,
      switchProfile: 'switch-24-poe-190',
    })
    const site = await opened('Proof', plan)
    const proving = owner.call('POST', `/api/sites/${site}/proof`, { only: null })
    expect(await answersDuring(proving)).toBeGreaterThan(5)
    const reply = await proving
    expect([reply.status, ((await reply.json()) as { message: string }).message]).toEqual([
      422,
      expect.stringMatching(
        /^the proof of this plan is too much: [\d,]+ tests, and the most are 100,000/,
      ),
    ])
  })
  it('with more than plans may have, or deeper than they are', async () => {
    const plan = createPlan('Too many')
    for (let n = 0; n < 600; n++)
      plan.knownNetworks[`n${n}`] = {
        id: `n${n}`,
        name: 'N',
        kind: 'stays',
        prefix: '10.0.0.0/8',
        note: '',
      }
    const reply = await owner.call('POST', '/api/sites', { name: 'Too many', plan })
    expect([reply.status, JSON.stringify(await reply.json())]).toEqual([
      422,
      expect.stringContaining('at most 500 known networks; this would be 600'),
    ])
    const deep = `{"name":"x","plan":${'['.repeat(100_000)}${']'.repeat(100_000)}}`
    expect(
      (
        await fetch(`${system.origin}/api/sites`, {
          method: 'POST',
          body: deep,
          headers: { 'content-type': 'application/json' },
        })
      ).status,
    ).toBe(401)
    const site = await opened(
      'Full',
      applyEdits(
        createPlan('Full'),
        Array.from({ length: 16 }, (_, n) => ({
          name: 'addUplink',
          args: { id: `u${n}`, name: `U ${n}` },
        })),
      ),
    )
    expect(
      (await save(site, change('addUplink', { id: 'one-more', name: 'One more' }))).body.message,
    ).toMatch(/at most 16 lines/)
  })
})

it("a site file speaks in nobody's name: what it says of who did what stays a text", async () => {
  const site = await opened('Papers')
  await save(site, change('changeSite', { name: 'Papers of ours' }))
  const file = await owner.read<{
    content: { revisions: { author: string }[]; steps: object[] }
    digest: string
  }>('POST', `/api/sites/${site}/export`, { passphrase: null })
  for (const r of file.content.revisions) r.author = NAME
  file.content.steps.push({
    stepId: 'read-labels',
    doneAt: '2026-11-20T08:00:00.000Z',
    readyAt: '2026-11-20T08:00:00.000Z',
    by: NAME.toUpperCase(),
    note: 'forged',
  })
  file.digest = digestOf(file.content)
  const { id } = await owner.read<{ id: string }>('POST', '/api/sites/import', {
    file,
    passphrase: null,
  })
  expect(
    (await owner.read<{ author: string }[]>('GET', `/api/sites/${id}/revisions`)).map(
      (r) => r.author,
    ),
  ).toEqual([`${NAME} (from a file)`, `${NAME} (from a file)`])
  expect(
    (await owner.read<{ by: string }[]>('GET', `/api/sites/${id}/steps`)).map((s) => s.by),
  ).toEqual([`${NAME.toUpperCase()} (from a file)`])
  // Through a second file it does not gather up.
  const again = await owner.read<object>('POST', `/api/sites/${id}/export`, { passphrase: null })
  const { id: third } = await owner.read<{ id: string }>('POST', '/api/sites/import', {
    file: again,
    passphrase: null,
  })
  expect(
    (await owner.read<{ author: string }[]>('GET', `/api/sites/${third}/revisions`))[0]!.author,
  ).toBe(`${NAME} (from a file)`)
})
