import { eq } from 'drizzle-orm'
import { createError } from 'h3'
import { z } from 'zod'
import { inTransaction } from '../../../../db/database'
import { log, secrets } from '../../../../db/schema'
import { validated } from '../../../../http/body'
import { param, siteRoute } from '../../../../http/handlers'
import { notify } from '../../../../live/notices'
import { inventSecret, writeSecret } from '../../../../vault/vault'

const MOST_SECRETS = 1000

/**
 * Sets a secret; without one given, a strong one is made up. A wireless key is 8 to 63 characters
 * (IEEE 802.11).
 */
export default siteRoute(
  'engineer',
  z.strictObject({
    secret: z
      .string()
      .min(8)
      .max(63)
      .regex(/^[\x20-\x7e]+$/, 'printable ASCII only')
      .nullable(),
  }),
  async ({ event, site, account, body }) => {
    const ref = validated(z.string().max(64), param(event, 'ref'))
    await inTransaction(async (tx) => {
      const refs = (
        await tx.select({ ref: secrets.ref }).from(secrets).where(eq(secrets.siteId, site.id))
      ).map((s) => s.ref)
      if (refs.length >= MOST_SECRETS && !refs.includes(ref))
        throw createError({
          statusCode: 422,
          message: `this site keeps ${refs.length} secrets and the most are ${MOST_SECRETS}`,
        })
      await writeSecret(tx, site.id, ref, body.secret ?? inventSecret())
      await tx
        .insert(log)
        .values({ siteId: site.id, accountId: account.id, what: `Set the secret ${ref}` })
      await notify(tx, { site: site.id, topic: 'devices' })
    })
    return {}
  },
)
