import { createError } from 'h3'
import { z } from 'zod'
import { roles } from '@mast/core/roles'
import { param, siteRoute } from '../../../../http/handlers'
import { validated } from '../../../../http/body'
import { changeMember } from '../../../../members/members'

/** Gives a member another role. */
export default siteRoute(
  'owner',
  z.strictObject({ role: z.enum(roles) }),
  async ({ event, site, account, body }) => {
    const outcome = await changeMember(
      site.id,
      validated(z.uuid(), param(event, 'account')),
      body.role,
      account.id,
    )
    if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
    return {}
  },
)
