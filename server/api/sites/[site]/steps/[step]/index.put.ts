import { createError } from 'h3'
import { z } from 'zod'
import { param, siteRoute } from '../../../../../http/handlers'
import { carryOut, doneAtSchema, tick } from '../../../../../steps/steps'

const body = z.strictObject({
  by: z.enum(['person', 'standins']),
  acknowledged: z.boolean(),
  note: z.string().max(500).default(''),
  at: doneAtSchema.optional(),
})

/**
 * Ticks a step, or lets the stand-ins do it first. `at` is when a person did it, where the network
 * was away then.
 */
export default siteRoute('installer', body, async ({ event, site, account, body: given }) => {
  const outcome = await (given.by === 'standins' ? carryOut : tick)(
    site.id,
    param(event, 'step'),
    account.id,
    given,
  )
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return {}
})
