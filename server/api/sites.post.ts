import { createError } from 'h3'
import { z } from 'zod'
import { createPlan, parsePlan } from '@mast/core/plan'
import { signedInRoute } from '../http/handlers'
import { createSite } from '../sites/create'

/** Opens a site, empty or from a plan document. */
export default signedInRoute(z.strictObject({ name: z.string().trim().min(1).max(80), plan: z.unknown().optional() }), async ({ account, body }) => {
  if (body.plan === undefined) return createSite(createPlan(body.name), account.id)
  const parsed = parsePlan(body.plan)
  if (!parsed.ok) throw createError({ statusCode: 422, message: 'this plan cannot be used', data: { problems: parsed.problems.slice(0, 50) } })
  return createSite({ ...parsed.plan, site: { ...parsed.plan.site, name: body.name } }, account.id)
})
