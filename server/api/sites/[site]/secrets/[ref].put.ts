import { z } from 'zod'
import { inTransaction } from '../../../../db/database'
import { log } from '../../../../db/schema'
import { validated } from '../../../../http/body'
import { param, siteRoute } from '../../../../http/handlers'
import { notify } from '../../../../live/notices'
import { inventSecret, writeSecret } from '../../../../vault/vault'

/** Sets a secret; without one given, a strong one is made up. A wireless key is 8 to 63 characters (IEEE 802.11). */
export default siteRoute('engineer', z.strictObject({ secret: z.string().min(8).max(63).regex(/^[\x20-\x7e]+$/, 'printable ASCII only').nullable() }), async ({ event, site, account, body }) => {
  const ref = validated(z.string().max(64), param(event, 'ref'))
  await inTransaction(async (tx) => {
    await writeSecret(tx, site.id, ref, body.secret ?? inventSecret())
    await tx.insert(log).values({ siteId: site.id, accountId: account.id, what: `Set the secret ${ref}` })
    await notify(tx, { site: site.id, topic: 'devices' })
  })
  return {}
})
