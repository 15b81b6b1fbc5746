/**
 * The connection to PostgreSQL, one pool a process. A transaction holds one connection; whatever
 * runs inside it must use that one: with every connection held
 * by somebody who waits for a second, nobody would ever get on. So a second one is refused there,
 * instead of waited for.
 */
import { AsyncLocalStorage } from 'node:async_hooks'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import { DatabaseAway, innermost } from './away'
import * as schema from './schema'

type Connected = NodePgDatabase<typeof schema>
/** The database outside a transaction; transactions are begun with `inTransaction`. */
export type Database = Omit<Connected, 'transaction'>
/** A database or a transaction of it. */
export type Executor = Pick<
  Connected,
  'select' | 'insert' | 'update' | 'delete' | 'execute' | 'selectDistinct'
>

const MOST_CONNECTIONS = 10
/**
 * Longest wait for a connection, for the answer to a statement, and between two statements of a
 * transaction, ms.
 */
const CONNECTION_MS = 5000
const STATEMENT_MS = 20_000
const IDLE_IN_TRANSACTION_MS = 15_000

const DEADLOCK = '40P01'
const MOST_TRIES = 4

const inside = new AsyncLocalStorage<true>()

/**
 * Two that waited for each other: the database ended one, whose work is undone and can be done
 * again.
 */
async function afterDeadlocks<T>(work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await work()
    } catch (error) {
      if ((innermost(error) as { code?: string }).code !== DEADLOCK || tries === MOST_TRIES)
        throw error
    }
  }
}

class OneEach extends pg.Pool {
  private readonly open = new Set<pg.PoolClient>()
  private isClosed = false

  constructor(config: pg.PoolConfig) {
    super(config)
    // A connection that dies while idle is replaced at the next query; without a listener it would
    // end the process.
    this.on('error', () => {})
    // The same for one that dies while it is in use: the query that it was used for fails and says
    // so.
    this.on('connect', (client) => {
      this.open.add(client)
      client.on('error', () => {})
    })
    this.on('remove', (client) => {
      this.open.delete(client)
    })
  }

  private refusal(): Error | undefined {
    if (inside.getStore())
      return new Error('a transaction asked for a second connection; pass it its executor')
    return this.isClosed ? new DatabaseAway() : undefined
  }

  override connect(): Promise<pg.PoolClient>
  override connect(
    callback: (
      error: Error | undefined,
      client: pg.PoolClient | undefined,
      done: (release?: unknown) => void,
    ) => void,
  ): void
  override connect(
    callback?: (
      error: Error | undefined,
      client: pg.PoolClient | undefined,
      done: (release?: unknown) => void,
    ) => void,
  ): Promise<pg.PoolClient> | undefined {
    const refusal = this.refusal()
    if (!callback) return refusal ? Promise.reject(refusal) : super.connect()
    if (refusal) process.nextTick(callback, refusal, undefined, () => {})
    else super.connect(callback)
    return undefined
  }

  /**
   * One statement alone is all that it does: where the database ended it, since it and another
   * waited for each other, it can be done again.
   */
  private readonly statement = super.query.bind(this) as (...args: unknown[]) => unknown
  override query = ((...args: unknown[]): unknown =>
    typeof args.at(-1) === 'function'
      ? this.statement(...args)
      : afterDeadlocks(() => this.statement(...args) as Promise<unknown>)) as pg.Pool['query']

  /**
   * Ends every connection at once, so that who waits for an answer hears that there is none, and
   * refuses new ones.
   */
  cut(): void {
    this.isClosed = true
    for (const client of this.open)
      (
        client as unknown as { connection: { stream: { destroy(): void } } }
      ).connection.stream.destroy()
  }

  mend(): void {
    this.isClosed = false
  }
}

let pool: OneEach | undefined
let database: Connected | undefined

export function connectionString(): string {
  const url = process.env.DATABASE_URL
  if (!url)
    throw new Error('DATABASE_URL is not set; start Able Mast with ./mast start or ./mast demo')
  return url
}

export function connections(): OneEach {
  pool ??= new OneEach({
    connectionString: connectionString(),
    max: MOST_CONNECTIONS,
    idleTimeoutMillis: 30_000,
    connectionTimeoutMillis: CONNECTION_MS,
    statement_timeout: STATEMENT_MS,
    idle_in_transaction_session_timeout: IDLE_IN_TRANSACTION_MS,
    query_timeout: STATEMENT_MS + 1000,
  })
  return pool
}

export const db = (): Database => (database ??= drizzle(connections(), { schema }))

/** One transaction, all of it or none. Inside, `db()` is refused: what is done there takes `tx`. */
export const inTransaction = <T>(work: (tx: Executor) => Promise<T>): Promise<T> =>
  afterDeadlocks(() => once(work))

/** The library's own transactions keep their connection for good where `begin` fails on it. */
async function once<T>(work: (tx: Executor) => Promise<T>): Promise<T> {
  const client = await connections().connect()
  let broken: Error | undefined
  try {
    await client.query('begin')
    // Queries run when they are awaited; those that `work` hands back are awaited inside too.
    const result = await inside.run(true, async () => await work(drizzle(client)))
    await client.query('commit')
    return result
  } catch (error) {
    await client.query('rollback').catch((e: unknown) => {
      broken = e as Error
    })
    throw error
  } finally {
    client.release(broken)
  }
}

export async function closeDatabase(): Promise<void> {
  await pool?.end()
  pool = undefined
  database = undefined
}
