import { getQuery } from 'h3'
import { z } from 'zod'
import { siteRoute } from '../../../../http/handlers'
import { validated } from '../../../../http/body'
import { historyOf } from '../../../../sites/revisions'

const query = z.object({
  before: z.coerce
    .number()
    .int()
    .min(1)
    .max(2 ** 31 - 1)
    .optional(),
})

/** The history, a hundred at a time, newest first. */
export default siteRoute('viewer', undefined, ({ event, site }) =>
  historyOf(site.id, 100, validated(query, getQuery(event)).before),
)
