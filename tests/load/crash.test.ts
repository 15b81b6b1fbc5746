/**
 * The server and PostgreSQL are killed at random moments of saves, reports and uploads: what was
 * acknowledged is there, and all comes back by itself.
 */
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { expect, it, onTestFinished } from 'vitest'
import { chanceOf } from '@mast/core/generator'
import { createPlan, parsePlan } from '@mast/core/plan'
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

const KILLS = isWhole ? 100 : 8
const SEED = Number(process.env.MAST_LOAD_SEED ?? 20_261_124)
const PNG =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGBgAAAABQABpfZFQAAAAABJRU5ErkJggg=='
const nextTurn = (): Promise<void> => new Promise((r) => setImmediate(r))

it(`${KILLS} kills: nothing acknowledged is lost`, async () => {
  const { system, close } = await throwaway()
  onTestFinished(close)
  const chance = chanceOf(SEED)
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  const { id: site } = await owner.read<{ id: string }>('POST', '/api/sites', {
    name: 'Storm',
    plan: planWith(0, 4, createPlan('Storm')),
  })
  const line = new Line(system.origin, 16)
  const devices = Array.from({ length: 4 }, (_, n) => new LightDevice(line, n))
  for (const d of devices) {
    await d.hello()
    await owner.read('POST', `/api/sites/${site}/devices/unit-${d.n}/claim`, {
      serial: serialOf(d.n),
    })
    await d.fetchToken()
  }

  let isOver = false
  const acknowledged = { places: new Set<string>(), evidence: new Set<string>(), total: 0 }
  const strange: string[] = []
  /**
   * Does something until it is acknowledged, as browsers and devices do. Answers other than "away"
   * are strange.
   */
  async function until(
    what: string,
    attempt: () => Promise<number>,
    fine: readonly number[] = [200],
  ): Promise<void> {
    for (;;) {
      const status = await attempt().catch(() => 0)
      if (fine.includes(status)) {
        acknowledged.total++
        return
      }
      if (![0, 502, 503].includes(status)) strange.push(`${what}: ${status}`)
      if (isOver && status !== 0) return
      await nextTurn()
    }
  }
  const saver = async (who: number): Promise<void> => {
    for (let n = 0; !isOver; n++) {
      const place = `place-${who}-${n}`
      const edit = change('addLocation', { id: place, name: place, kind: 'building', mains: true })
      // Always from revision 1: every save is also a merge.
      await until('save', () =>
        owner.status('POST', `/api/sites/${site}/edits`, { base: 1, changes: [edit] }),
      )
      acknowledged.places.add(place)
    }
  }
  const watcher = async (): Promise<void> => {
    while (!isOver) {
      const id = randomUUID()
      const at = new Date().toISOString()
      await until('evidence', () =>
        owner.status('POST', `/api/sites/${site}/evidence`, {
          id,
          kind: 'photo',
          at,
          stepId: null,
          text: id,
          mediaType: 'image/png',
          file: PNG,
        }),
      )
      acknowledged.evidence.add(id)
    }
  }
  const reporter = async (d: LightDevice): Promise<void> => {
    while (!isOver) await until('report', () => d.report())
  }
  const work = Promise.all([saver(0), saver(1), watcher(), ...devices.map(reporter)])

  const pids = (): Record<string, number> =>
    Object.fromEntries(system.parts.map((p) => [p.name, p.pid]))
  for (let kill = 0; kill < KILLS; kill++) {
    const victim = chance.happens(0.5) ? 'the server' : 'PostgreSQL'
    const before = acknowledged.total
    // A moment that nobody chose: after some of the work, at whatever point that is.
    const target = before + chance.between(3, 60)
    while (acknowledged.total < target) await nextTurn()
    for (let turns = chance.between(0, 200); turns > 0; turns--) await nextTurn()
    process.kill(pids()[victim]!, 'SIGKILL')
    const at = acknowledged.total
    const deadline = Date.now() + 60_000
    // It is back when work is acknowledged again that was started after.
    while (acknowledged.total < at + 12) {
      if (Date.now() > deadline)
        throw new Error(`kill ${kill} of ${victim}: nothing was acknowledged for a minute`)
      await nextTurn()
    }
  }
  isOver = true
  await work
  expect(strange).toEqual([])

  const { plan, revision } = await owner.read<{
    plan: { locations: Record<string, unknown> }
    revision: number
  }>('GET', `/api/sites/${site}`)
  expect(parsePlan(plan).ok).toBe(true)
  expect([...acknowledged.places].filter((p) => !plan.locations[p])).toEqual([])
  // Every revision adds one place, none is saved twice, and the numbers have no gap.
  expect(Object.keys(plan.locations)).toHaveLength(revision - 1)
  const client = new pg.Client({ connectionString: system.url })
  await client.connect()
  const kept = new Set(
    (
      await client.query<{ id: string }>('select id from evidence where octet_length(file) > 60')
    ).rows.map((r) => r.id),
  )
  expect([...acknowledged.evidence].filter((id) => !kept.has(id))).toEqual([])
  const heard = new Map(
    (
      await client.query<{ device_id: string; sequence: number }>(
        'select device_id, sequence from device_states',
      )
    ).rows.map((r) => [r.device_id, r.sequence]),
  )
  for (const d of devices) {
    expect(heard.get(`unit-${d.n}`), `unit ${d.n}`).toBeGreaterThanOrEqual(d.acknowledged)
    expect(heard.get(`unit-${d.n}`)).toBeLessThanOrEqual(d.sequence)
  }
  expect(
    (await client.query<{ broken: string | null }>('select log_broken_at($1) as broken', [site]))
      .rows[0]!.broken,
  ).toBeNull()
  expect(acknowledged.total).toBeGreaterThan(KILLS * 10)
  await client.end()
  line.close()
})
