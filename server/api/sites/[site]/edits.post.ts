import { createError } from 'h3'
import { siteIsGone } from '../../../http/gone'
import { siteRoute } from '../../../http/handlers'
import { soon } from '../../../http/soon'
import { saveChanges, saveSchema } from '../../../sites/revisions'

/** A plan as large as they come, brought back to an earlier one. */
const MAX_BODY_BYTES = 5 * 1024 * 1024

/** More at once are no single step of a person, and take the time that they take. */
const FEW_CHANGES = 5

/**
 * Saves changes on top of the newest revision; 409 with the conflicts where somebody else changed
 * the same since theirs.
 */
export default siteRoute(
  'engineer',
  saveSchema,
  async ({ site, account, body }) => {
    const saving = saveChanges(site.id, body, account.id)
    // Whoever is told to come again may find it saved: a change has an id and is saved once.
    const outcome = await (body.changes.length > FEW_CHANGES ? saving : soon(saving))
    if (outcome.kind === 'gone') throw siteIsGone()
    if (outcome.kind === 'parted')
      throw createError({
        statusCode: 409,
        message:
          `revision ${body.base} is not in the history of this site: the server was set back ` +
          'to an earlier state',
        data: { revision: outcome.revision, conflicts: [] },
      })
    if (outcome.kind === 'conflict')
      throw createError({
        statusCode: 409,
        message: `somebody else changed the same since revision ${body.base}`,
        data: { revision: outcome.revision, conflicts: outcome.conflicts },
      })
    if (outcome.kind === 'refused')
      throw createError({
        statusCode: 422,
        message: outcome.problems[0]!.reason,
        data: { changeId: outcome.changeId, problems: outcome.problems },
      })
    const { revision, merged, made } = outcome
    return { revision, merged, made }
  },
  { maxBytes: MAX_BODY_BYTES },
)
