import { createError } from 'h3'
import { giveUpDevice } from '../../../../../adoption/claims'
import { param, siteRoute } from '../../../../../http/handlers'

/** Gives a device up. */
export default siteRoute('engineer', undefined, async ({ event, site, account }) => {
  const outcome = await giveUpDevice(site.id, param(event, 'device'), account.id)
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return {}
})
