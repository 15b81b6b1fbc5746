import { createError } from 'h3'
import { z } from 'zod'
import { roles } from '@mast/core/roles'
import { siteRoute } from '../../../../http/handlers'
import { invite } from '../../../../members/invitations'

/** Makes an invitation. Its token is in this answer and nowhere else. */
export default siteRoute(
  'owner',
  z.strictObject({ role: z.enum(roles), note: z.string().trim().max(80).default('') }),
  async ({ site, account, body }) => {
    const token = await invite(site.id, body.role, body.note, account.id)
    if (!token)
      throw createError({
        statusCode: 422,
        message: 'this site has as many open invitations as it may; withdraw some first',
      })
    return { token }
  },
)
