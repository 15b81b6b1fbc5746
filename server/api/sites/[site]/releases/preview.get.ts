import { getQuery } from 'h3'
import { z } from 'zod'
import { validated } from '../../../../http/body'
import { siteRoute } from '../../../../http/handlers'
import { preview } from '../../../../releases/asked'

/**
 * What sending a revision would do; the newest where none is named. Names nothing that is secret.
 */
export default siteRoute('viewer', undefined, ({ event, site, account }) => {
  const { revision } = validated(
    z.object({ revision: z.coerce.number().int().min(1).max(2_147_483_647).optional() }),
    getQuery(event),
  )
  return preview(event, site, account.id, revision ?? site.head)
})
