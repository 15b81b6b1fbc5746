import { desc, eq, sql } from 'drizzle-orm'
import { db } from '../../../db/database'
import { log } from '../../../db/schema'
import { siteRoute } from '../../../http/handlers'

/**
 * The last entries of the audit trail, newest first, and the first entry that does not fit the
 * chain of digests, if any.
 */
export default siteRoute('viewer', undefined, async ({ site }) => {
  const entries = await db()
    .select({ id: log.id, at: log.at, who: log.who, what: log.what })
    .from(log)
    .where(eq(log.siteId, site.id))
    .orderBy(desc(log.id))
    .limit(200)
  const checked = await db().execute<{ broken: string | null }>(
    sql`select log_broken_at(${site.id}) as broken`,
  )
  const broken = checked.rows[0]!.broken
  return { entries, brokenAt: broken === null ? null : Number(broken) }
})
