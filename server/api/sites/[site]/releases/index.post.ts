import { z } from 'zod'
import { siteRoute } from '../../../../http/handlers'
import { send } from '../../../../releases/asked'

/**
 * Sends the plan to the devices, or an earlier release again. 422 with the reasons where something
 * keeps it back.
 */
export default siteRoute(
  'engineer',
  z.strictObject({ revision: z.int().min(1).max(2_147_483_647), note: z.string().trim().max(200) }),
  ({ event, site, account, body }) => send(event, site.id, account.id, body.revision, body.note),
)
