import { getQuery } from 'h3'
import { z } from 'zod'
import { db } from '../../../db/database'
import { siteRoute } from '../../../http/handlers'
import { validated } from '../../../http/body'
import { historyOf, revisionsSince } from '../../../sites/revisions'
import { planOf } from '../../../sites/plans'

const query = z.object({ since: z.coerce.number().int().min(1).optional() })

/** The newest plan with its last revisions; with `since`, also what was saved after that revision, with patches. */
export default siteRoute('viewer', undefined, async ({ event, site, role }) => {
  const { since } = validated(query, getQuery(event))
  const { plan, revision } = await planOf(db(), site.id)
  return { id: site.id, role, revision, plan, revisions: await historyOf(site.id, 30), since: since === undefined ? [] : (await revisionsSince(db(), site.id, since)).filter((r) => r.number <= revision) }
})
