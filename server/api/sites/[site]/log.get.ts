import { desc, eq } from 'drizzle-orm'
import { db } from '../../../db/database'
import { accounts, log } from '../../../db/schema'
import { siteRoute } from '../../../http/handlers'

/** The last entries of the log, newest first. */
export default siteRoute('viewer', undefined, ({ site }) =>
  db().select({ id: log.id, at: log.at, who: accounts.name, what: log.what }).from(log).leftJoin(accounts, eq(accounts.id, log.accountId)).where(eq(log.siteId, site.id)).orderBy(desc(log.id)).limit(200))
