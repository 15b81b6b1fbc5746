/** The audit trail of a site. */
import { desc, eq, sql } from 'drizzle-orm'
import { db } from '../db/database'
import { log } from '../db/schema'

const SHOWN = 200

/** The last entries, and the first that does not fit the chain of digests, if any. */
export async function trailOf(siteId: string) {
  const entries = await db()
    .select({ id: log.id, at: log.at, who: log.who, what: log.what })
    .from(log)
    .where(eq(log.siteId, siteId))
    .orderBy(desc(log.id))
    .limit(SHOWN)
  const checked = await db().execute<{ broken: string | null }>(
    sql`select log_broken_at(${siteId}) as broken`,
  )
  const { broken } = checked.rows[0]!
  return { entries, brokenAt: broken === null ? null : Number(broken) }
}
