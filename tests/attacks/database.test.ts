/** The server's own way to the database, against a real one. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { isDatabaseAway } from '../../server/db/away'
import { closeDatabase, connections, db, inTransaction } from '../../server/db/database'
import { exportSite } from '../../server/portable/transfer'
import { remove } from '../../server/sites/create'
import { endThreads, inThread } from '../../server/work/workers'
import { startPostgres } from '../../scripts/start/postgres.mjs'

const folder = `${mkdtempSync(join(tmpdir(), 'able-mast-pool-'))}-database`
let stop: () => Promise<unknown>
beforeAll(async () => {
  const { url, kept } = await startPostgres(folder)
  process.env.DATABASE_URL = url
  execFileSync(process.execPath, ['--import', 'tsx', 'scripts/migrate.ts'])
  stop = () => kept.stop()
})
afterAll(async () => {
  await endThreads()
  await closeDatabase()
  await stop()
  rmSync(folder, { recursive: true, force: true })
})

const one = sql`select 1 as n`

it('inside a transaction there is no second connection, however it is asked for and however deep', async () => {
  const deep = async (): Promise<unknown> => {
    await Promise.resolve()
    return db().execute(one)
  }
  await expect(inTransaction(() => db().execute(one))).rejects.toThrow()
  for (const ask of [
    deep,
    () => connections().query('select 1'),
    () => connections().connect(),
    () => inTransaction((tx) => tx.execute(one)),
  ])
    await expect(
      inTransaction(async (tx) => {
        await tx.execute(one)
        await ask()
      }),
    ).rejects.toSatisfy((e) =>
      /second connection/.test(String((e as { cause?: unknown }).cause ?? e)),
    )
  // Many at once, more than there are connections, and none of them is held afterwards.
  const all = await Promise.allSettled(
    Array.from({ length: 40 }, () =>
      inTransaction(async (tx) => {
        await tx.execute(one)
        await deep()
      }),
    ),
  )
  expect(new Set(all.map((r) => r.status))).toEqual(new Set(['rejected']))
  expect((await db().execute<{ n: number }>(one)).rows).toEqual([{ n: 1 }])
  expect(connections().waitingCount).toBe(0)
})

it('two that wait for each other both get their work done', async () => {
  await db().execute(sql`create table berth (id int primary key, n int); `)
  await db().execute(sql`insert into berth values (1, 0), (2, 0)`)
  let met = 0
  const meet = async (): Promise<void> => {
    met++
    while (met < 2) await new Promise((r) => setTimeout(r, 1))
  }
  const both = (first: number, second: number): Promise<unknown> =>
    inTransaction(async (tx) => {
      await tx.execute(sql`update berth set n = n + 1 where id = ${first}`)
      await meet()
      await tx.execute(sql`update berth set n = n + 1 where id = ${second}`)
    })
  await Promise.all([both(1, 2), both(2, 1)])
  expect((await db().execute(sql`select id, n from berth order by id`)).rows).toEqual([
    { id: 1, n: 2 },
    { id: 2, n: 2 },
  ])
})

it(
  'two statements alone that wait for each other are both done: the one that the database ends ' +
    'is done again',
  async () => {
    await db().execute(sql`create table lamp (id int primary key, n int)`)
    await db().execute(sql`insert into lamp values (1, 0), (2, 0)`)
    // Each takes its first row and then waits at the gate, so that each holds what the other wants
    // next, whichever is ended for it.
    const gate = new pg.Client({ connectionString: process.env.DATABASE_URL! })
    await gate.connect()
    try {
      await gate.query('select pg_advisory_lock(7)')
      const both = Promise.all([
        db().execute(
          sql`do $$ begin update lamp set n = n + 10 where id = 1; perform
            pg_advisory_xact_lock_shared(7); update lamp set n = n + 10 where id = 2; end $$`,
        ),
        db().execute(
          sql`do $$ begin update lamp set n = n + 1 where id = 2; perform
            pg_advisory_xact_lock_shared(7); update lamp set n = n + 1 where id = 1; end $$`,
        ),
      ])
      const atTheGate = async (): Promise<number> =>
        (await gate.query(`select 1 from pg_locks where locktype = 'advisory' and not granted`))
          .rowCount!
      while ((await atTheGate()) < 2) await new Promise((r) => setTimeout(r, 1))
      await gate.query('select pg_advisory_unlock(7)')
      await both
    } finally {
      await gate.end()
    }
    expect((await db().execute(sql`select id, n from lamp order by id`)).rows).toEqual([
      { id: 1, n: 11 },
      { id: 2, n: 11 },
    ])
  },
)

it('who removes a site waits for whoever writes something of it, who does not wait for the removal', async () => {
  await db().execute(sql`insert into sites (id, name) values ('buoy', 'Buoy')`)
  const writer = new pg.Client({ connectionString: process.env.DATABASE_URL! })
  await writer.connect()
  try {
    await writer.query(
      `begin; set lock_timeout = '500ms'; select 1 from sites where id = 'buoy' for key share`,
    )
    const removal = remove('buoy', '00000000-0000-4000-8000-000000000001').then(() => 'removed')
    while ((await connections().query('select 1 from pg_locks where not granted')).rowCount === 0)
      await new Promise((r) => setTimeout(r, 1))
    await writer.query(
      `insert into log (site_id, what) values ('buoy', 'written meanwhile'); commit`,
    )
    expect(await removal).toBe('removed')
  } finally {
    await writer.end()
  }
})

it('a site that is removed while it is made into a file is not there, and nothing breaks', async () => {
  await db().execute(sql`insert into sites (id, name) values ('skiff', 'Skiff')`)
  const remover = new pg.Client({ connectionString: process.env.DATABASE_URL! })
  await remover.connect()
  try {
    await remover.query(`begin; select 1 from sites where id = 'skiff' for update`)
    const file = exportSite('skiff', null, '00000000-0000-4000-8000-000000000001').then(
      (f) => f ?? 'gone',
      (e: unknown) => (e as Error).message,
    )
    while ((await connections().query('select 1 from pg_locks where not granted')).rowCount === 0)
      await new Promise((r) => setTimeout(r, 1))
    await remover.query(`delete from sites where id = 'skiff'; commit`)
    expect(await file).toBe('gone')
  } finally {
    await remover.end()
  }
})

it('what is refused in a thread is refused with the same words outside', async () => {
  await expect(
    inThread('glance', { siteId: 'nowhere', revision: 1 }, { accountId: null, maxMs: 60_000 }),
  ).rejects.toMatchObject({ kind: 'not-there', message: 'the site was removed just now' })
})

it(
  'when the connections are cut, who waits for an answer hears that there is none, who asks is ' +
    'told at once, and it goes on when it is mended',
  async () => {
    const waiting = Promise.all(
      [
        db().execute(sql`select pg_sleep(60)`),
        inTransaction((tx) => tx.execute(sql`select pg_sleep(60)`)),
      ].map((w) =>
        w.then(
          () => 'answered',
          (e: unknown) => isDatabaseAway(e),
        ),
      ),
    )
    while (connections().totalCount - connections().idleCount < 2)
      await new Promise((r) => setTimeout(r, 1))
    connections().cut()
    expect(await waiting).toEqual([true, true])
    await expect(db().execute(one)).rejects.toSatisfy(isDatabaseAway)
    // As the pulse does, which finds a database again only after a while.
    while (connections().totalCount > 0) await new Promise((r) => setTimeout(r, 1))
    connections().mend()
    expect((await db().execute<{ n: number }>(one)).rows).toEqual([{ n: 1 }])
  },
)

it('a statement and a transaction that stands still are ended by the database itself', async () => {
  const setting = async (name: string): Promise<number> =>
    Number(
      (
        await db().execute<{ setting: string }>(
          sql`select setting from pg_settings where name = ${name}`,
        )
      ).rows[0]!.setting,
    )
  expect(await setting('statement_timeout')).toBeGreaterThan(0)
  expect(await setting('idle_in_transaction_session_timeout')).toBeGreaterThan(0)
})
