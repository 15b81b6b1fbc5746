/**
 * A controller with a fleet: thousands of light devices calling in while people edit; bad callers
 * beside them.
 */
import { readFileSync } from 'node:fs'
import { connect } from 'node:net'
import pg from 'pg'
import { expect, it, onTestFinished } from 'vitest'
import { createPlan } from '@mast/core/plan'
import { Caller } from '../caller'
import {
  change,
  isWhole,
  LightDevice,
  Line,
  NAME,
  PASSWORD,
  planWith,
  serialOf,
  throwaway,
} from './system'

const DEVICES = isWhole ? 5000 : 400
const EDITORS = isWhole ? 20 : 6
const SECONDS = isWhole ? 600 : 20
const MOST_PLACES = 500
const EVERY_MS = 10_000
const EDIT_EVERY_MS = 3000

const residentKb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1])
/**
 * Starts something at even intervals, whether or not the last one is finished, until the time is
 * over; then waits for all of it.
 */
async function atIntervals(
  everyMs: number,
  offsetMs: number,
  untilMs: number,
  run: () => Promise<void>,
): Promise<void> {
  const running: Promise<void>[] = []
  await new Promise<void>((resolve) => {
    const tick = (): void => {
      if (Date.now() >= untilMs) {
        resolve()
        return
      }
      running.push(run())
      if (running.length > 8) void running.splice(0, running.length - 8)
      setTimeout(tick, everyMs)
    }
    setTimeout(tick, offsetMs)
  })
  await Promise.all(running)
}

it(
  `${DEVICES} devices and ${EDITORS} people for ${SECONDS} s: no error, no lost report, memory ` +
    'stays flat; bad callers are refused',
  async () => {
    const { system, close } = await throwaway()
    onTestFinished(close)
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    // Fleets are many sites; one of them is edited all the time.
    const perSite = 250
    const sites: { id: string; from: number; count: number }[] = []
    for (let from = 0; from < DEVICES; from += perSite) {
      const count = Math.min(perSite, DEVICES - from)
      const plan = planWith(from, count, createPlan(`Fleet ${from}`))
      sites.push({
        id: (await owner.read<{ id: string }>('POST', '/api/sites', { name: plan.site.name, plan }))
          .id,
        from,
        count,
      })
    }
    const line = new Line(system.origin)
    const devices = Array.from({ length: DEVICES }, (_, n) => new LightDevice(line, n))
    const siteOf = (n: number): string => sites[Math.floor(n / perSite)]!.id
    const workers = Array.from({ length: 12 }, async (_, w) => {
      for (let n = w; n < DEVICES; n += 12) {
        expect(await devices[n]!.hello()).toBe(200)
        await owner.read('POST', `/api/sites/${siteOf(n)}/devices/unit-${n}/claim`, {
          serial: serialOf(n),
        })
        await devices[n]!.fetchToken()
      }
    })
    await Promise.all(workers)

    const errors: string[] = []
    const server = system.parts.find((p) => p.name === 'the server')!
    const end = Date.now() + SECONDS * 1000
    const memory: number[] = []
    const sampling = setInterval(
      () => memory.push(residentKb(server.pid)),
      Math.max(500, (SECONDS * 1000) / 60),
    )
    const reporting = devices.map((d) =>
      atIntervals(EVERY_MS, (d.n / DEVICES) * EVERY_MS, end, async () => {
        const status = await d.report().catch((error: unknown) => String(error))
        if (status !== 200) errors.push(`unit ${d.n}: ${status}`)
      }),
    )
    let edits = 0
    /** What everybody has heard of; whoever saves meanwhile makes it a merge. */
    let newest = 1
    const people: Caller[] = []
    for (let who = 0; who < EDITORS; who++)
      people.push(await Caller.invited(owner, sites[0]!.id, `editor ${who}`, PASSWORD, 'engineer'))
    const editing = people.map((person, who) =>
      atIntervals(EDIT_EVERY_MS, (who / EDITORS) * EDIT_EVERY_MS, end, async () => {
        const n = edits++
        // A site holds two thousand places, so that old ones go.
        const old =
          n >= MOST_PLACES ? [change('removeLocation', { id: `p-${n - MOST_PLACES}` })] : []
        const reply = await person
          .call('POST', `/api/sites/${sites[0]!.id}/edits`, {
            base: newest,
            changes: [
              change('addLocation', {
                id: `p-${n}`,
                name: `Place ${n}`,
                kind: 'building',
                mains: true,
              }),
              ...old,
            ],
          })
          .catch((e: unknown) => ({ status: String(e), body: null }))
        if (reply instanceof Response && reply.ok)
          newest = Math.max(newest, ((await reply.json()) as { revision: number }).revision)
        else errors.push(`editor ${who}: ${reply.status}`)
      }),
    )
    const refused = new Map<string, number>()
    const bad = atIntervals(100, 0, end, async () => {
      const d = devices[0]!
      const token = { authorization: `Bearer ${d.token}` }
      const send = (
        path: string,
        body: unknown,
        headers?: Record<string, string>,
      ): Promise<{ status: number | string }> =>
        line
          .send('POST', path, body, headers)
          .catch((error: unknown) => ({ status: String(error) }))
      const tries: [string, number, Promise<{ status: number | string }>][] = [
        [
          'a wrong token',
          401,
          send('/controller/v1/report', d.body(1), { authorization: `Bearer ${'w'.repeat(43)}` }),
        ],
        ['a replay', 409, send('/controller/v1/report', d.body(1), token)],
        [
          'too much',
          413,
          send('/controller/v1/report', { ...d.body(1e6), message: 'x'.repeat(40_000) }, token),
        ],
        ['no JSON', 400, send('/controller/v1/report', '{"sequence":', token)],
        ['another shape', 400, send('/controller/v1/report', { ...d.body(1e6), extra: 1 }, token)],
        [
          'no token yet asked for',
          401,
          send('/controller/v1/token', {
            serial: serialOf(DEVICES + 1),
            claimSecret: 'a'.repeat(64),
          }),
        ],
      ]
      for (const [what, expected, reply] of tries) {
        const { status } = await reply
        if (status === expected) refused.set(what, (refused.get(what) ?? 0) + 1)
        else if (!(what === 'a replay' && d.acknowledged < 1))
          errors.push(`${what}: ${status} instead of ${expected}`)
      }
    })
    const { hostname, port } = new URL(system.origin)
    const dripping = Array.from(
      { length: 20 },
      () =>
        new Promise<void>((resolve) => {
          const socket = connect(Number(port), hostname)
          socket.on('error', () => {})
          socket.on('close', () => resolve())
          socket.resume()
          socket.write(
            'POST /controller/v1/report HTTP/1.1\r\nHost: x\r\nContent-Type: ' +
              'application/json\r\nContent-Length: 900\r\n\r\n{',
          )
        }),
    )
    await Promise.all([...reporting, ...editing, bad, ...dripping])
    clearInterval(sampling)

    expect(errors.slice(0, 10), `${errors.length} in all`).toEqual([])
    expect(refused.size).toBe(6)
    const client = new pg.Client({ connectionString: system.url })
    await client.connect()
    const heard = new Map(
      (
        await client.query<{ device_id: string; sequence: number }>(
          'select device_id, sequence from device_states',
        )
      ).rows.map((r) => [r.device_id, r.sequence]),
    )
    expect(
      devices.filter((d) => heard.get(`unit-${d.n}`) !== d.acknowledged).map((d) => d.n),
    ).toEqual([])
    const { plan } = await owner.read<{ plan: { locations: object } }>(
      'GET',
      `/api/sites/${sites[0]!.id}`,
    )
    expect(Object.keys(plan.locations)).toHaveLength(Math.min(edits, MOST_PLACES))
    // Flat: the last third is not above the middle third by more than what a collector leaves lying
    // about.
    const third = Math.floor(memory.length / 3)
    const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length
    console.log(
      `reports ${devices.reduce((n, d) => n + d.acknowledged, 0)}, edits ${edits}, memory of the server ${memory
        .map((kb) => Math.round(kb / 1024))
        .filter((_, i) => i % 6 === 0)
        .join(' ')} MiB`,
    )
    expect(mean(memory.slice(-third))).toBeLessThan(mean(memory.slice(third, 2 * third)) * 1.2)
    await client.end()
    line.close()
  },
)
