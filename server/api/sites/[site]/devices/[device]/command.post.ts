import { createError } from 'h3'
import { z } from 'zod'
import { command } from '../../../../../adoption/claims'
import { param, siteRoute } from '../../../../../http/handlers'

/** Leaves a command for the device's next call. */
export default siteRoute(
  'installer',
  z.strictObject({ command: z.enum(['fetch', 'restart', 'locate']) }),
  async ({ event, site, account, body }) => {
    const outcome = await command(site.id, param(event, 'device'), body.command, account.id)
    if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
    return {}
  },
)
