import { createError } from 'h3'
import { siteRoute } from '../../../http/handlers'
import { saveChanges, saveSchema } from '../../../sites/revisions'

/** Saves edits on top of the revision that they are based on; 409 where another was saved meanwhile. */
export default siteRoute('engineer', saveSchema, async ({ site, account, body }) => {
  const outcome = await saveChanges(site.id, body.base, body.changes, account.id)
  if (outcome.kind === 'stale') throw createError({ statusCode: 409, message: `the plan is at revision ${outcome.revision}; these edits are based on ${body.base}`, data: { revision: outcome.revision } })
  if (outcome.kind === 'refused') throw createError({ statusCode: 422, message: outcome.problems[0]!.reason, data: { problems: outcome.problems } })
  return { revision: outcome.revision, made: outcome.made }
})
