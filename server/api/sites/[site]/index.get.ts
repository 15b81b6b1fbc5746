import { getQuery } from 'h3'
import { z } from 'zod'
import { db } from '../../../db/database'
import { siteRoute } from '../../../http/handlers'
import { validated } from '../../../http/body'
import { historyOf, isInHistory, revisionsSince } from '../../../sites/revisions'
import { planOf } from '../../../sites/plans'

const query = z.object({
  since: z.coerce
    .number()
    .int()
    .min(1)
    .max(2 ** 31 - 1)
    .optional(),
  at: z.iso.datetime().optional(),
})

/**
 * The newest plan with its last revisions; with `since`, also what was saved after that revision,
 * with patches. `at` is when that revision was saved: null
 * tells that this history does not have it, since the server was set back to an earlier state.
 */
export default siteRoute('viewer', undefined, async ({ event, site, role }) => {
  const { since, at } = validated(query, getQuery(event))
  const { plan, revision } = await planOf(db(), site.id)
  const missed = async () =>
    (await isInHistory(db(), site.id, since!, at))
      ? (await revisionsSince(db(), site.id, since!)).filter((r) => r.number <= revision)
      : null
  return {
    id: site.id,
    role,
    revision,
    plan,
    revisions: await historyOf(site.id, 30),
    since: since === undefined ? [] : await missed(),
  }
})
