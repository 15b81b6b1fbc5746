/**
 * Bad luck: a database that stops without a word, a server that lives and no longer answers, files
 * of processes that are gone.
 */
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { expect, it, onTestFinished } from 'vitest'
import { startPostgres } from '../../scripts/start/postgres.mjs'
import { freePort } from '../../scripts/start/ports.mjs'
import { startSystem, type System } from '../../scripts/start/system.mjs'
import { Caller } from '../caller'
import { heldStill } from '../processFamily'
import { change, NAME, PASSWORD, throwaway } from '../load/system'

const part = (system: System, name: string): { pid: number } =>
  system.parts.find((p) => p.name === name)!

it(
  'a database that stops without a word holds nobody: who asks is told so, and it goes on by ' +
    'itself when it is back',
  async () => {
    const { system, close } = await throwaway()
    onTestFinished(close)
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name: 'Stopped' })
    const before = [part(system, 'PostgreSQL').pid, part(system, 'the server').pid]
    let isBack = false
    /** Whoever saves does so until it is saved; each answer is a save or says what to do. */
    const answers: { status: number; message: string }[] = []
    const saver = async (who: number): Promise<void> => {
      for (let n = 0; n < 3 || !isBack; n++) {
        const one = change('addLocation', {
          id: `place-${who}-${n}`,
          name: `Place ${n}`,
          kind: 'building',
          mains: true,
        })
        for (let status = 0; status !== 200;) {
          const reply = await owner.call(
            'POST',
            `/api/sites/${id}/edits`,
            { base: 1, changes: [one] },
            {},
          )
          status = reply.status
          answers.push({
            status,
            message: ((await reply.json()) as { message?: string }).message ?? '',
          })
          if (status !== 200) await new Promise((r) => setTimeout(r, 50))
        }
        saved.add(`place-${who}-${n}`)
      }
    }
    const saved = new Set<string>()
    const work = Promise.all([0, 1, 2].map(saver))
    while (saved.size < 4) await new Promise((r) => setTimeout(r, 10))
    const goOn = heldStill(before[0]!)
    try {
      // Three answers that it is away, of requests that would wait for as long as it lasts; the
      // first
      // may only hear that it takes long.
      while (
        answers.filter(
          (a) => a.status === 503 && a.message.startsWith('the database does not answer'),
        ).length < 3
      )
        await new Promise((r) => setTimeout(r, 20))
      expect(await (await fetch(`${system.origin}/controller/v1/ready`)).json()).toEqual({
        ready: false,
        database: 'away',
      })
      expect((await fetch(`${system.origin}/enter`)).status).toBe(200)
    } finally {
      goOn()
    }
    isBack = true
    await work
    const refusals = new Set(
      answers.filter((a) => a.status !== 200).map((a) => `${a.status} ${a.message}`),
    )
    expect(refusals).toContain(
      '503 the database does not answer; it may be starting. Try again in a moment',
    )
    // Those who stood in line behind one whom the database kept waiting, or were asking when it
    // fell
    // silent, hear that.
    refusals.delete('503 the changes of this site before this one took long; try again in a moment')
    refusals.delete('503 too much is going on at once; try again in a moment')
    expect(refusals.size).toBe(1)
    const { plan, revision } = await owner.read<{ plan: { locations: object }; revision: number }>(
      'GET',
      `/api/sites/${id}`,
    )
    expect(Object.keys(plan.locations).sort()).toEqual([...saved].sort())
    expect(revision).toBe(saved.size + 1)
    expect([part(system, 'PostgreSQL').pid, part(system, 'the server').pid]).toEqual(before)
  },
)

it('a server and stand-ins that live and no longer answer are started again', async () => {
  const { system, close } = await throwaway()
  onTestFinished(close)
  const before = {
    server: part(system, 'the server').pid,
    standins: part(system, 'the stand-ins').pid,
  }
  for (const pid of Object.values(before)) process.kill(pid, 'SIGSTOP')
  const isWell = (): Promise<boolean> =>
    fetch(`${system.origin}/controller/v1/ready`, { signal: AbortSignal.timeout(1000) }).then(
      (r) => r.ok,
      () => false,
    )
  while (
    part(system, 'the server').pid === before.server ||
    part(system, 'the stand-ins').pid === before.standins ||
    !(await isWell())
  )
    await new Promise((r) => setTimeout(r, 100))
  expect(
    await (await Caller.first(system.origin, NAME, PASSWORD)).status('GET', '/api/sites'),
  ).toBe(200)
})

it(
  'a file of a database that is gone, whose number another process has, prevents nothing and ' +
    'harms nobody',
  async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-stale-'))
    const database = `${folder}-database`
    onTestFinished(() => {
      for (const f of [folder, database]) rmSync(f, { recursive: true, force: true })
    })
    const first = await startPostgres(database)
    const query = async (url: string, sql: string): Promise<unknown[]> => {
      const c = new pg.Client({ connectionString: url })
      await c.connect()
      try {
        return (await c.query<Record<string, unknown>>(sql)).rows
      } finally {
        await c.end()
      }
    }
    await query(first.url, 'create table kept as select 7 as n')
    const file = join(database, 'data', 'postmaster.pid')
    const lines = readFileSync(file, 'utf8').split('\n')
    await first.kept.stop()
    const bystander = spawn(
      process.execPath,
      ['-e', 'process.on("SIGINT", () => process.exit(9)); setInterval(() => {}, 1000)'],
      { stdio: 'ignore' },
    )
    onTestFinished(() => {
      bystander.kill('SIGKILL')
    })
    writeFileSync(file, [String(bystander.pid), ...lines.slice(1)].join('\n'))
    const second = await startPostgres(database)
    expect(await query(second.url, 'select n from kept')).toEqual([{ n: 7 }])
    expect([bystander.exitCode, bystander.signalCode]).toEqual([null, null])
    await second.kept.stop()
  },
)

it('the stand-ins of sites that are no longer there are dropped when the server starts', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-worlds-'))
  const database = `${folder}-database`
  const standinsFolder = join(folder, 'standins')
  const system = await startSystem({
    ports: [await freePort()],
    databaseFolder: database,
    standinsFolder,
    vaultKey: randomBytes(32).toString('base64'),
  })
  onTestFinished(async () => {
    await system.stop()
    for (const f of [folder, database]) rmSync(f, { recursive: true, force: true })
  })
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  for (const name of ['Stays', 'Goes']) {
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', { name })
    await owner.read('POST', `/api/sites/${id}/standins/clock`, { speed: 60 })
  }
  const there = (): string[] =>
    readdirSync(standinsFolder)
      .filter((f) => f.endsWith('.json'))
      .sort()
  while (there().length < 2) await new Promise((r) => setTimeout(r, 20))
  const client = new pg.Client({ connectionString: system.url })
  await client.connect()
  await client.query(`delete from sites where id = 'goes'`)
  await client.end()
  const pid = part(system, 'the server').pid
  process.kill(pid, 'SIGKILL')
  while (there().length > 1) await new Promise((r) => setTimeout(r, 50))
  expect(there()).toEqual(['stays.json'])
})
