import { createError } from 'h3'
import { release } from '../../../../../adoption/claims'
import { param, siteRoute } from '../../../../../http/handlers'

/** Gives a device up. */
export default siteRoute('engineer', undefined, async ({ event, site, account }) => {
  const outcome = await release(site.id, param(event, 'device'), account.id)
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return {}
})
