import { createError } from 'h3'
import { z } from 'zod'
import { param, siteRoute } from '../../../../http/handlers'
import { validated } from '../../../../http/body'
import { changeMember } from '../../../../members/members'

/** Takes a member off the site. Owners may do it to anybody, everybody to themselves. */
export default siteRoute('viewer', undefined, async ({ event, site, account, role }) => {
  const who = validated(z.uuid(), param(event, 'account'))
  if (role !== 'owner' && who !== account.id)
    throw createError({ statusCode: 403, message: `this needs the role owner; yours is ${role}` })
  const outcome = await changeMember(site.id, who, null, account.id)
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return {}
})
