import { eq } from 'drizzle-orm'
import { db } from '../../../../db/database'
import { secrets } from '../../../../db/schema'
import { siteRoute } from '../../../../http/handlers'

/** Names of the secrets that the vault has, not the secrets. */
export default siteRoute('viewer', undefined, ({ site }) =>
  db()
    .select({ ref: secrets.ref, changedAt: secrets.changedAt })
    .from(secrets)
    .where(eq(secrets.siteId, site.id)),
)
