/**
 * All at once and again and again: devices that fetch, report and start anew together, people who
 * edit, strangers who send garbage, each part killed, the database
 * held still. Nothing acknowledged is lost, nothing hangs, and an answer is the one asked for or
 * says what to do.
 */
import { connect } from 'node:net'
import pg from 'pg'
import { expect, it, onTestFinished } from 'vitest'
import { chanceOf } from '@mast/core/generator'
import { createPlan } from '@mast/core/plan'
import { Caller } from '../caller'
import { heldStill } from '../processFamily'
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

const DEVICES = isWhole ? 200 : 40
const PEOPLE = isWhole ? 20 : 5
const ROUNDS = Number(process.env.MAST_SOAK_ROUNDS ?? (isWhole ? 100 : 6))
const ROUND_MS = 3000
const STILL_MS = isWhole ? 20_000 : 3000
const SEED = Number(process.env.MAST_LOAD_SEED ?? 20_261_126)
const SOON_MS = 2000
const RECOVERY_MS = 5000

it(
  `${DEVICES} devices together, ${PEOPLE} people, strangers, ${ROUNDS} rounds with kills and a ` +
    'database that stands still',
  async () => {
    const { system, close } = await throwaway()
    onTestFinished(close)
    const chance = chanceOf(SEED)
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const { id: site } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: 'Soak',
      plan: planWith(0, DEVICES, createPlan('Soak')),
    })
    const line = new Line(system.origin, DEVICES + 8)
    onTestFinished(() => line.close())
    const devices = Array.from({ length: DEVICES }, (_, n) => new LightDevice(line, n))
    for (const d of devices) {
      await d.hello()
      await owner.read('POST', `/api/sites/${site}/devices/unit-${d.n}/claim`, {
        serial: serialOf(d.n),
      })
      await d.fetchToken()
    }
    const people: Caller[] = []
    for (let n = 0; n < PEOPLE; n++)
      people.push(await Caller.invited(owner, site, `editor ${n}`, PASSWORD, 'engineer'))

    let isOver = false
    const strange: string[] = []
    const answers = { fine: 0, late: 0, lateInTrouble: 0, away: 0, none: 0 }
    /**
     * While a part is killed or everybody comes for the first time, and as long as it takes to be
     * what it was: until then answers may be late.
     */
    let troubledUntil = performance.now() + RECOVERY_MS
    const lateBy = new Map<string, number>()
    /**
     * One request, its answer sorted: fine, late though fine, away in words, or none at all (the
     * server was killed). Anything else is strange, and no answer for long is a hang.
     */
    async function asked(
      what: string,
      request: () => Promise<number>,
      fine: readonly number[],
    ): Promise<boolean> {
      const begun = performance.now()
      const status = await request().catch((error: unknown) =>
        /timeout/i.test(String(error)) ? 'hung' : 0,
      )
      if (status === 0) answers.none++
      else if (status === 503) answers.away++
      else if (typeof status === 'number' && fine.includes(status)) {
        answers.fine++
        if (performance.now() - begun > SOON_MS) {
          if (begun < troubledUntil) answers.lateInTrouble++
          else {
            answers.late++
            lateBy.set(what, (lateBy.get(what) ?? 0) + 1)
          }
        }
        return true
      } else strange.push(`${what}: ${status}`)
      return false
    }
    const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms))

    /** What was added and not removed again; a site holds only so many places. */
    const saved = new Set<string>()
    const MOST_EACH = 40
    let edits = 0
    /** What everybody has heard of; whoever saves meanwhile makes it a merge. */
    let newest = 1
    const save = async (who: Caller, one: object): Promise<number> => {
      const reply = await who.call('POST', `/api/sites/${site}/edits`, {
        base: newest,
        changes: [one],
      })
      if (reply.status === 200)
        newest = Math.max(newest, ((await reply.json()) as { revision: number }).revision)
      else await reply.body?.cancel()
      return reply.status
    }
    const saveAtLast = async (who: number, one: object): Promise<void> => {
      while (!(await asked('save', () => save(people[who]!, one), [200]))) {
        if (strange.length > 0) throw new Error(strange[0])
        await pause(100)
      }
      edits++
    }
    const editor = async (who: number): Promise<void> => {
      for (let n = 0; !isOver; n++) {
        const place = `place-${who}-${n}`
        await saveAtLast(
          who,
          change('addLocation', { id: place, name: place, kind: 'building', mains: true }),
        )
        saved.add(place)
        const old = `place-${who}-${n - MOST_EACH}`
        if (n >= MOST_EACH) {
          await saveAtLast(who, change('removeLocation', { id: old }))
          saved.delete(old)
        }
        await pause(chance.between(0, ROUND_MS))
      }
    }
    const stranger = async (who: number): Promise<void> => {
      const { hostname, port } = new URL(system.origin)
      for (let n = 0; !isOver; n++) {
        await asked(
          'a wrong token',
          async () =>
            (
              await line.send('POST', '/controller/v1/report', devices[0]!.body(1), {
                authorization: `Bearer ${'w'.repeat(43)}`,
              })
            ).status,
          [401],
        )
        await asked(
          'garbage',
          async () =>
            (
              await line.send(
                'POST',
                '/controller/v1/hello',
                `{"x":${'['.repeat(chance.between(1, 4000))}`,
              )
            ).status,
          [400],
        )
        await asked(
          'a serial that is claimed',
          async () =>
            (
              await line.send('POST', '/controller/v1/hello', {
                serial: serialOf(n % DEVICES),
                hardwareAddress: '02:66:00:00:00:01',
                model: 'x',
                firmware: '1',
                address: '10.66.0.1',
                claimSecretDigest: String(who).repeat(64).slice(0, 64),
                factoryPassword: true,
              })
            ).status,
          [200],
        )
        await asked(
          'an invitation',
          () => fetch(`${system.origin}/api/invitations/${'x'.repeat(43)}`).then((r) => r.status),
          [404, 429],
        )
        // Half a request, dropped.
        const socket = connect(Number(port), hostname)
        socket.on('error', () => {})
        socket.end(
          'POST /controller/v1/report HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: ' +
            'application/json\r\nContent-Length: 900\r\n\r\n{"seq',
        )
        await pause(50)
      }
    }
    const readers = async (): Promise<void> => {
      while (!isOver) {
        for (const path of ['/api/sites', `/api/sites/${site}`, `/api/sites/${site}/devices`])
          await asked(path, () => owner.status('GET', path), [200])
        await pause(200)
      }
    }
    const background = Promise.all([
      ...people.map((_, n) => editor(n)),
      stranger(1),
      stranger(2),
      readers(),
    ])

    const part = (name: string): number => system.parts.find((p) => p.name === name)!.pid
    const troubles: (() => Promise<void>)[] = [
      async () => {
        process.kill(part('the server'), 'SIGKILL')
      },
      async () => {
        process.kill(part('PostgreSQL'), 'SIGKILL')
      },
      async () => {
        process.kill(part('the stand-ins'), 'SIGKILL')
      },
      async () => {
        const goOn = heldStill(part('PostgreSQL'))
        await pause(STILL_MS)
        goOn()
      },
    ]
    for (let round = 0; round < ROUNDS; round++) {
      const next = pause(ROUND_MS)
      // Each trouble once in a short run; in a long one every few rounds, and the database stands
      // still three times.
      const trouble = isWhole
        ? round % 33 === 20
          ? troubles[3]
          : round % 5 === 2
            ? chance.one(troubles.slice(0, 3))
            : undefined
        : troubles[round - 1]
      if (trouble) troubledUntil = performance.now() + RECOVERY_MS
      const isInTrouble = trouble?.().then(() => {
        troubledUntil = performance.now() + RECOVERY_MS
      })
      await Promise.all(
        devices.map(async (d) => {
          if (round % 3 === 2) {
            await asked('hello', () => d.hello(), [200])
            // Once asked for, the old one may be gone though the answer with the new one was lost.
            while (!(await asked('token', () => d.fetchToken(), [200]))) await pause(100)
          }
          await asked('fetch', () => d.fetchDesired(), [200, 304])
          await asked('report', () => d.report(), [200, 409])
        }),
      )
      await Promise.all([isInTrouble, next])
    }
    isOver = true
    await background
    // What was in trouble last is well again: everybody is answered.
    for (
      const deadline = Date.now() + 60_000;
      !(await fetch(`${system.origin}/controller/v1/ready`).then(
        (r) => r.ok,
        () => false,
      ));
    )
      if (Date.now() > deadline) throw new Error('the server did not come back')
    console.log(
      `answers: ${answers.fine} as asked for, ${answers.late} of them after 2 s ` +
        `(${[...lateBy].map(([what, n]) => `${what} ${n}`).join(', ') || 'none'}) and ` +
        `${answers.lateInTrouble} around a kill, ${answers.away} that say that the database is ` +
        `away or too much is going on, ${answers.none} none (a server that was killed)`,
    )
    expect(strange.slice(0, 10), `${strange.length} in all`).toEqual([])
    expect(answers.fine).toBeGreaterThan(DEVICES * ROUNDS)
    if (isWhole) expect(answers.late / answers.fine).toBeLessThan(0.001)

    const { plan, revision } = await owner.read<{ plan: { locations: object }; revision: number }>(
      'GET',
      `/api/sites/${site}`,
    )
    expect(Object.keys(plan.locations).sort()).toEqual([...saved].sort())
    expect(revision).toBe(edits + 1)
    const client = new pg.Client({ connectionString: system.url })
    await client.connect()
    const heard = new Map(
      (
        await client.query<{ device_id: string; sequence: number; claimed: boolean }>(
          'select device_id, sequence, claimed_serial is not null as claimed from device_states',
        )
      ).rows.map((r) => [r.device_id, r]),
    )
    for (const d of devices) {
      expect(heard.get(`unit-${d.n}`)?.claimed, `unit ${d.n}`).toBe(true)
      expect(heard.get(`unit-${d.n}`)!.sequence, `unit ${d.n}`).toBeGreaterThanOrEqual(
        d.acknowledged,
      )
    }
    expect(
      (await client.query<{ broken: string | null }>('select log_broken_at($1) as broken', [site]))
        .rows[0]!.broken,
    ).toBeNull()
    await client.end()
  },
)
