/**
 * Every route against every role, a stranger to the site and nobody at all. The table names each
 * route; a route that is missing from it fails.
 */
import { randomUUID } from 'node:crypto'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Caller } from '../caller'
import { routeFiles } from '../routeFiles'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'roles' })

type Needs = 'nothing' | 'account' | 'viewer' | 'installer' | 'engineer' | 'owner'
const strength: Record<Needs, number> = {
  nothing: -2,
  account: -1,
  viewer: 0,
  installer: 1,
  engineer: 2,
  owner: 3,
}

const table: Record<string, Needs> = {
  'GET /api/session': 'nothing',
  'POST /api/session': 'nothing',
  'DELETE /api/session': 'nothing',
  'POST /api/setup': 'nothing',
  'GET /api/invitations/[token]': 'nothing',
  'POST /api/invitations/[token]': 'nothing',
  'GET /api/hand-outs/[token]': 'nothing',
  'POST /api/hand-outs/[token]': 'nothing',
  'GET /api/account/sessions': 'account',
  'DELETE /api/account/sessions': 'account',
  'DELETE /api/account/sessions/[id]': 'account',
  'PUT /api/account/password': 'account',
  'GET /api/sites': 'account',
  'POST /api/sites': 'account',
  'GET /api/sites/[site]': 'viewer',
  'DELETE /api/sites/[site]': 'owner',
  'POST /api/sites/[site]/edits': 'engineer',
  'GET /api/sites/[site]/events': 'viewer',
  'GET /api/sites/[site]/log': 'viewer',
  'GET /api/sites/[site]/revisions': 'viewer',
  'GET /api/sites/[site]/revisions/[number]': 'viewer',
  'GET /api/sites/[site]/members': 'viewer',
  'PUT /api/sites/[site]/members/[account]': 'owner',
  'DELETE /api/sites/[site]/members/[account]': 'owner',
  'GET /api/sites/[site]/invitations': 'owner',
  'POST /api/sites/[site]/invitations': 'owner',
  'DELETE /api/sites/[site]/invitations/[id]': 'owner',
  'GET /api/sites/[site]/evidence': 'viewer',
  'POST /api/sites/[site]/evidence': 'installer',
  'GET /api/sites/[site]/evidence/[id]/file': 'viewer',
  'GET /api/sites/[site]/proof': 'viewer',
  'POST /api/sites/[site]/proof': 'installer',
  'POST /api/sites/[site]/drill': 'installer',
  'GET /api/sites/[site]/steps': 'viewer',
  'PUT /api/sites/[site]/steps/[step]': 'installer',
  'DELETE /api/sites/[site]/steps/[step]': 'installer',
  'GET /api/sites/[site]/secrets': 'viewer',
  'GET /api/sites/[site]/secrets/[ref]': 'installer',
  'PUT /api/sites/[site]/secrets/[ref]': 'engineer',
  'POST /api/sites/[site]/tunnels/joins': 'engineer',
  'POST /api/sites/[site]/tunnels/keys': 'engineer',
  'GET /api/sites/[site]/hand-outs': 'viewer',
  'POST /api/sites/[site]/hand-outs': 'installer',
  'GET /api/sites/[site]/devices': 'viewer',
  'GET /api/sites/[site]/backups': 'viewer',
  'GET /api/sites/[site]/devices/[device]/backups/[digest]': 'installer',
  'GET /api/sites/[site]/bootstrap': 'viewer',
  'POST /api/sites/[site]/bootstrap/owner': 'engineer',
  'POST /api/sites/[site]/bootstrap/files': 'engineer',
  'DELETE /api/sites/[site]/bootstrap/vouchers/[serial]': 'engineer',
  'DELETE /api/sites/[site]/bootstrap/makers/[digest]': 'engineer',
  'POST /api/sites/[site]/standins/vouchers': 'engineer',
  'GET /api/sites/[site]/clients': 'viewer',
  'GET /api/sites/[site]/clients/[client]/traffic': 'viewer',
  'POST /api/sites/[site]/clients/[client]': 'engineer',
  'POST /api/sites/[site]/claims': 'installer',
  'POST /api/sites/[site]/devices/[device]/claim': 'installer',
  'POST /api/sites/[site]/devices/[device]/command': 'installer',
  'GET /api/sites/[site]/devices/[device]/configuration': 'installer',
  'GET /api/sites/[site]/devices/[device]/difference': 'viewer',
  'POST /api/sites/[site]/devices/[device]/difference': 'engineer',
  'POST /api/sites/[site]/devices/[device]/give-up': 'engineer',
  'GET /api/sites/[site]/releases': 'viewer',
  'GET /api/sites/[site]/releases/preview': 'viewer',
  'POST /api/sites/[site]/releases': 'engineer',
  'POST /api/sites/[site]/releases/[number]/stop': 'engineer',
  'GET /api/sites/[site]/standins': 'viewer',
  'DELETE /api/sites/[site]/standins': 'engineer',
  'POST /api/sites/[site]/standins/clock': 'installer',
  'POST /api/sites/[site]/standins/fault': 'engineer',
  'POST /api/sites/[site]/standins/antenna': 'installer',
  'GET /api/sites/[site]/elsewhere': 'viewer',
  'GET /api/sites/[site]/client-hours': 'viewer',
  'POST /api/sites/[site]/export': 'owner',
  'POST /api/sites/import': 'account',
}

const concrete = (path: string): string =>
  path
    .replace('[site]', 'dunlin-slipway')
    .replace('[device]', 'switch')
    .replace('[digest]', 'a'.repeat(64))
    .replace('[serial]', 'AM-SWI-48274')
    .replace('[client]', '02:4a:00:00:00:07')
    .replace('[step]', 'prove')
    .replace('[ref]', 'site-password')
    .replace('[number]', '1')
    .replace('[account]', randomUUID())
    .replace('[id]', randomUUID())
    .replace('[token]', 'x'.repeat(43))

test('every route is in the table, and answers just those whom it is for', async ({ system }) => {
  expect(
    routeFiles('server/api', '/api')
      .map((r) => `${r.method} ${r.path}`)
      .sort(),
  ).toEqual(Object.keys(table).sort())
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  await owner.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
  const { id: elsewhere } = await owner.read<{ id: string }>('POST', '/api/sites', {
    name: 'Elsewhere',
  })
  const people: [Caller, number][] = [
    [new Caller(system.origin, 'nobody'), strength.nothing],
    [await Caller.invited(owner, elsewhere, 'outsider', PASSWORD, 'owner'), strength.account],
  ]
  for (const role of ['viewer', 'installer', 'engineer'] as const)
    people.push([
      await Caller.invited(owner, 'dunlin-slipway', role, PASSWORD, role),
      strength[role],
    ])
  people.push([owner, strength.owner])

  // What takes the site away comes last.
  const order = Object.keys(table)
    .filter((r) => !['DELETE /api/session', 'POST /api/setup', 'POST /api/session'].includes(r))
    .sort(
      (a, b) => Number(a === 'DELETE /api/sites/[site]') - Number(b === 'DELETE /api/sites/[site]'),
    )
  for (const route of order) {
    const [method, path] = route.split(' ') as [string, string]
    const needs = table[route]!
    for (const [person, level] of people) {
      const status = await person.status(
        method,
        concrete(path),
        method === 'GET' || method === 'DELETE' ? undefined : {},
      )
      const who = `${person.name}: ${route} gave ${status}`
      expect(status, who).toBeLessThan(500)
      if (needs === 'nothing')
        expect([401, 403], who).not.toContain(
          route.startsWith('POST') && status === 401 ? 0 : status,
        )
      else if (level === strength.nothing) expect(status, who).toBe(401)
      else if (path.includes('[site]') && level === strength.account) expect(status, who).toBe(404)
      else if (level < strength[needs]) expect(status, who).toBe(403)
      else expect([401, 403], who).not.toContain(status)
    }
  }
})

test('an invitation works once; a role can be changed and taken; the last owner stays', async ({
  system,
}) => {
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Invitations' })
  const { token } = await owner.read<{ token: string }>('POST', `/api/sites/${id}/invitations`, {
    role: 'viewer',
    note: 'the skipper',
  })
  const skipper = new Caller(system.origin, 'skipper')
  expect(await skipper.read('GET', `/api/invitations/${token}`)).toEqual({
    site: 'Invitations',
    role: 'viewer',
    note: 'the skipper',
  })
  expect(
    await skipper.status('POST', `/api/invitations/${token}`, {
      newAccount: { name: 'skipper', password: 'short' },
    }),
  ).toBe(400)
  expect(
    await skipper.status('POST', `/api/invitations/${token}`, {
      newAccount: { name: NAME.toUpperCase(), password: PASSWORD },
    }),
  ).toBe(422)
  await skipper.read('POST', `/api/invitations/${token}`, {
    newAccount: { name: 'skipper', password: PASSWORD },
  })
  expect(
    await new Caller(system.origin, 'late').status('POST', `/api/invitations/${token}`, {
      newAccount: { name: 'late', password: PASSWORD },
    }),
  ).toBe(404)

  const members = async () =>
    await owner.read<{ members: { accountId: string; name: string; role: string }[]; you: string }>(
      'GET',
      `/api/sites/${id}/members`,
    )
  const { members: two, you } = await members()
  expect(two.map((m) => [m.name, m.role])).toEqual([
    [NAME, 'owner'],
    ['skipper', 'viewer'],
  ])
  const skipperId = two[1]!.accountId
  expect(await skipper.status('POST', `/api/sites/${id}/edits`, { base: 1, changes: [] })).toBe(403)
  await owner.read('PUT', `/api/sites/${id}/members/${skipperId}`, { role: 'engineer' })
  expect(await skipper.status('POST', `/api/sites/${id}/edits`, { base: 1, changes: [] })).toBe(400)
  expect(await owner.status('PUT', `/api/sites/${id}/members/${you}`, { role: 'viewer' })).toBe(422)
  expect(await owner.status('DELETE', `/api/sites/${id}/members/${you}`)).toBe(422)
  await owner.read('DELETE', `/api/sites/${id}/members/${skipperId}`)
  expect(await skipper.status('GET', `/api/sites/${id}`)).toBe(404)

  const withdrawn = await owner.read<{ token: string }>('POST', `/api/sites/${id}/invitations`, {
    role: 'owner',
    note: '',
  })
  const [open] = await owner.read<{ id: string }[]>('GET', `/api/sites/${id}/invitations`)
  await owner.read('DELETE', `/api/sites/${id}/invitations/${open!.id}`)
  expect(await skipper.status('GET', `/api/invitations/${withdrawn.token}`)).toBe(404)
  const { entries, brokenAt } = await owner.read<{
    entries: { what: string; who: string }[]
    brokenAt: number | null
  }>('GET', `/api/sites/${id}/log`)
  expect(brokenAt).toBeNull()
  expect(entries.map((e) => `${e.who}: ${e.what}`)).toEqual(
    expect.arrayContaining([
      `${NAME}: Invited the skipper as viewer`,
      'skipper: Joined as viewer',
      `${NAME}: Made skipper engineer`,
      `${NAME}: Took skipper off the site`,
    ]),
  )
})

test('sessions are seen and ended; a new password ends the others; open streams end with them', async ({
  system,
}) => {
  const first = await Caller.first(system.origin, NAME, PASSWORD)
  const { id } = await first.read<{ id: string }>('POST', '/api/sites', { name: 'Sessions' })
  const second = await Caller.first(system.origin, NAME, PASSWORD)
  const list = await first.read<{ id: string; isThis: boolean }[]>('GET', '/api/account/sessions')
  expect(list.filter((s) => s.isThis)).toHaveLength(1)
  const stream = await second.call('GET', `/api/sites/${id}/events`)
  const ended = stream.text()
  for (const s of list.filter((x) => !x.isThis))
    await first.read('DELETE', `/api/account/sessions/${s.id}`)
  expect(await ended).toContain('event: ended')
  expect(await second.status('GET', '/api/sites')).toBe(401)
  expect(await first.status('DELETE', `/api/account/sessions/${randomUUID()}`)).toBe(404)

  const third = await Caller.first(system.origin, NAME, PASSWORD)
  expect(
    await first.status('PUT', '/api/account/password', {
      current: 'wrong',
      next: 'a-much-longer-one',
    }),
  ).toBe(422)
  await first.read('PUT', '/api/account/password', { current: PASSWORD, next: 'a-much-longer-one' })
  expect(await third.status('GET', '/api/sites')).toBe(401)
  expect(
    await new Caller(system.origin, 'old').status('POST', '/api/session', {
      name: NAME,
      password: PASSWORD,
    }),
  ).toBe(401)
  await first.read('PUT', '/api/account/password', { current: 'a-much-longer-one', next: PASSWORD })
})
