import { createError } from 'h3'
import { z } from 'zod'
import { claim } from '../../../../../adoption/claims'
import { param, siteRoute } from '../../../../../http/handlers'

/** Claims a device by the serial as typed off its label. */
export default siteRoute('installer', z.strictObject({ serial: z.string().min(1).max(40) }), async ({ event, site, account, body }) => {
  const outcome = await claim(site.id, param(event, 'device'), body.serial, account.id)
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return {}
})
