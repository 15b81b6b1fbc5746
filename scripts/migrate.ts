/**
 * Brings the database at DATABASE_URL to the present version. Safe to run at every start; two at
 * once wait for each other.
 */
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'

const LOCK = 7_350_001

const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
try {
  await client.connect()
  await client.query('select pg_advisory_lock($1)', [LOCK])
  await migrate(drizzle(client), { migrationsFolder: 'server/db/migrations' })
} catch (error) {
  console.error(
    `The database could not be prepared: ${error instanceof Error ? error.message : String(error)}`,
  )
  process.exitCode = 1
} finally {
  await client.end().catch(() => {})
}
