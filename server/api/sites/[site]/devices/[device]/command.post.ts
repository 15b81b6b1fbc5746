import { z } from 'zod'
import { command } from '../../../../../adoption/claims'
import { param, siteRoute } from '../../../../../http/handlers'

/** Leaves a command for the device's next call. */
export default siteRoute('installer', z.strictObject({ command: z.enum(['fetch', 'restart', 'locate']) }), async ({ event, site, account, body }) => {
  await command(site.id, param(event, 'device'), body.command, account.id)
  return {}
})
