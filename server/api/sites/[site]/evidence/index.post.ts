import { createError } from 'h3'
import { evidenceSchema, keepEvidence, MAX_BODY_BYTES } from '../../../../evidence/evidence'
import { siteRoute } from '../../../../http/handlers'

/** Keeps a photograph, a reading or a note. Sent twice, it is kept once. */
export default siteRoute(
  'installer',
  evidenceSchema,
  async ({ site, account, body }) => {
    const full = await keepEvidence(site.id, site.head, account.id, body)
    if (full) throw createError({ statusCode: 422, message: full })
    return {}
  },
  { maxBytes: MAX_BODY_BYTES },
)
