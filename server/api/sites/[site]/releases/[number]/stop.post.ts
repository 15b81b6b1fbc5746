import { createError } from 'h3'
import { z } from 'zod'
import { validated } from '../../../../../http/body'
import { param, siteRoute } from '../../../../../http/handlers'
import { stopRelease } from '../../../../../releases/waves'

/** Stops a release under way: who has not kept it goes back. */
export default siteRoute('engineer', undefined, async ({ event, site, account }) => {
  const reason = await stopRelease(
    site.id,
    validated(z.coerce.number().int().min(1).max(2_147_483_647), param(event, 'number')),
    account.id,
  )
  if (reason) throw createError({ statusCode: 422, message: reason })
  return {}
})
