/** The table of headers and cookies in docs/security.md, held against what the server sends. */
import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { Caller } from '../caller'
import { NAME, PASSWORD, throwaway } from '../load/system'
import type { System } from '../../scripts/start/system.mjs'

let system: System
let close: () => Promise<void>
beforeAll(async () => {
  ;({ system, close } = await throwaway())
})
afterAll(() => close())

/** Rows of a table by its heading: the first cell, and the others under their own heading. */
function tableUnder(heading: string): Record<string, Record<string, string>> {
  const section = readFileSync('docs/security.md', 'utf8')
    .split(/^## /m)
    .find((s) => s.startsWith(heading))!
  const [names, , ...rows] = section
    .split('\n')
    .filter((l) => l.startsWith('|'))
    .map((l) =>
      l
        .split('|')
        .slice(1, -1)
        .map((c) => c.trim()),
    )
  return Object.fromEntries(
    rows.map(([first, ...cells]) => [
      first!.replaceAll('`', ''),
      Object.fromEntries(cells.map((c, i) => [names![i + 1]!, c.replaceAll('`', '')])),
    ]),
  )
}
/**
 * A cell as a pattern: three dots stand for whatever is made for this one answer; a dash for no
 * header.
 */
const matches = (cell: string, value: string | null): boolean =>
  cell === '-'
    ? value === null
    : value !== null &&
      new RegExp(
        `^${cell
          .split('...')
          .map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
          .join('.*')}$`,
      ).test(value)

it('every kind of answer carries the headers of its column, and no header that says what made it', async () => {
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Headers' })
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
  const page = await owner.call('GET', '/enter')
  const built = /\/_nuxt\/[\w-]+\.js/.exec(await page.clone().text())![0]
  const answers: Record<string, Response> = {
    'a page': page,
    'an answer': await owner.call('GET', '/api/sites'),
    'a refusal': await owner.call('GET', '/api/sites/none'),
    'to a device': await owner.call('POST', '/controller/v1/hello', {}),
    'a photograph': await owner.call('GET', `/api/sites/${id}/evidence/${photo.id}/file`),
    'a built file': await owner.call('GET', built),
    'over TLS': await owner.call('GET', '/api/session', undefined, {
      'x-forwarded-proto': 'https',
    }),
  }
  const table = tableUnder('Headers')
  expect(Object.keys(table).length).toBeGreaterThan(7)
  for (const [header, cells] of Object.entries(table))
    for (const [column, cell] of Object.entries(cells)) {
      const value = answers[column]!.headers.get(header)
      expect(matches(cell, value), `${header} of ${column}: '${value}' is not '${cell}'`).toBe(true)
    }
  for (const [column, answer] of Object.entries(answers))
    for (const name of ['x-powered-by', 'server', 'access-control-allow-origin'])
      expect(answer.headers.get(name), `${name} of ${column}`).toBeNull()
})

it('the cookie of a session is as the table says, and there is no other', async () => {
  const table = tableUnder('Cookies')
  for (const [where, headers] of [
    ['on loopback', {}],
    ['over TLS', { 'x-forwarded-proto': 'https' }],
  ] as const) {
    const reply = await fetch(`${system.origin}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      body: JSON.stringify({ name: NAME, password: PASSWORD }),
    })
    const [cookie, ...others] = reply.headers.getSetCookie()
    expect(others).toEqual([])
    const [pair, ...attributes] = cookie!.split('; ')
    const cells = table[where]!
    expect(pair).toMatch(new RegExp(`^${cells.name}=[\\w-]{43}$`))
    expect(
      attributes
        .map((a) =>
          a
            .split('=')[0]!
            .toLowerCase()
            .replace('samesite', attributes.find((x) => /^samesite/i.test(x))!.toLowerCase()),
        )
        .sort()
        .join(' '),
    ).toBe(cells.attributes!.split(' ').sort().join(' '))
    const expires = new Date(attributes.find((a) => /^expires/i.test(a))!.slice(8)).getTime()
    expect(Math.round((expires - Date.now()) / 86_400_000)).toBe(Number(cells.days))
  }
})
