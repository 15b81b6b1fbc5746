/** The connection to PostgreSQL, one pool a process. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import * as schema from './schema'

export type Database = NodePgDatabase<typeof schema>
/** A database or a transaction of it. */
export type Executor = Pick<Database, 'select' | 'insert' | 'update' | 'delete' | 'execute' | 'selectDistinct'>

let pool: pg.Pool | undefined
let database: Database | undefined

export function connectionString(): string {
  const url = process.env.DATABASE_URL
  if (!url) throw new Error('DATABASE_URL is not set; start Able Mast with ./mast start or ./mast demo')
  return url
}

export function connections(): pg.Pool {
  if (!pool) {
    pool = new pg.Pool({ connectionString: connectionString(), max: 10, idleTimeoutMillis: 30_000 })
    // A connection that dies while idle is replaced at the next query; without a listener it would end the process.
    pool.on('error', () => {})
    // The same for one that dies while it is in use: the query that it was used for fails and says so.
    pool.on('connect', (client) => { client.on('error', () => {}) })
  }
  return pool
}

export function db(): Database {
  database ??= drizzle(connections(), { schema })
  return database
}

export async function closeDatabase(): Promise<void> {
  await pool?.end()
  pool = undefined
  database = undefined
}
