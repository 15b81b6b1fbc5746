import { createError } from 'h3'
import { z } from 'zod'
import { param, siteRoute } from '../../../../http/handlers'
import { validated } from '../../../../http/body'
import { withdraw } from '../../../../members/invitations'

/** Withdraws an invitation. */
export default siteRoute('owner', undefined, async ({ event, site, account }) => {
  if (!(await withdraw(site.id, validated(z.uuid(), param(event, 'id')), account.id)))
    throw createError({
      statusCode: 404,
      message: 'there is no such invitation; it may have been used',
    })
  return {}
})
