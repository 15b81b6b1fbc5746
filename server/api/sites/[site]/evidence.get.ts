import { and, desc, eq, ne } from 'drizzle-orm'
import { db } from '../../../db/database'
import { accounts, evidence } from '../../../db/schema'
import { siteRoute } from '../../../http/handlers'

/** Backups and notes; proofs have a route of their own. */
export default siteRoute('viewer', undefined, ({ site }) =>
  db().select({ id: evidence.id, kind: evidence.kind, source: evidence.source, at: evidence.at, revision: evidence.revision, who: accounts.name, body: evidence.body })
    .from(evidence).leftJoin(accounts, eq(accounts.id, evidence.accountId)).where(and(eq(evidence.siteId, site.id), ne(evidence.kind, 'proof'))).orderBy(desc(evidence.at)).limit(200))
