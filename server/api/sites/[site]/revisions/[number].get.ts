import { createError } from 'h3'
import { z } from 'zod'
import { db } from '../../../../db/database'
import { param, siteRoute } from '../../../../http/handlers'
import { validated } from '../../../../http/body'
import { planAt } from '../../../../sites/plans'

/** The plan as it was at a revision. */
export default siteRoute('viewer', undefined, async ({ event, site }) => {
  const number = validated(
    z.coerce
      .number()
      .int()
      .min(1)
      .max(2 ** 31 - 1),
    param(event, 'number'),
  )
  if (number > site.head)
    throw createError({ statusCode: 404, message: `the newest revision is ${site.head}` })
  return { number, plan: await planAt(db(), site.id, number) }
})
