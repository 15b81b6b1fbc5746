import { db } from '../../../db/database'
import { siteRoute } from '../../../http/handlers'
import { historyOf, planOf } from '../../../sites/revisions'

/** The newest plan with its last revisions. */
export default siteRoute('viewer', undefined, async ({ site, role }) => {
  const { plan, revision } = await planOf(db(), site.id)
  return { id: site.id, role, revision, plan, revisions: await historyOf(site.id, 30) }
})
