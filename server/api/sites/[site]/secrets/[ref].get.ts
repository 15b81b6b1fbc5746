import { createError } from 'h3'
import { db } from '../../../../db/database'
import { log } from '../../../../db/schema'
import { param, siteRoute } from '../../../../http/handlers'
import { readSecret } from '../../../../vault/vault'

/** Shows a secret to who may install; the log keeps that it was shown, not what it is. */
export default siteRoute('installer', undefined, async ({ event, site, account }) => {
  const ref = param(event, 'ref')
  const secret = await readSecret(db(), site.id, ref)
  if (secret === undefined)
    throw createError({ statusCode: 404, message: 'there is no such secret' })
  await db()
    .insert(log)
    .values({ siteId: site.id, accountId: account.id, what: `Looked at the secret ${ref}` })
  return { secret }
})
