import { createError } from 'h3'
import { evidenceSchema, keepEvidence, MAX_BODY_BYTES } from '../../../../evidence/evidence'
import { siteRoute } from '../../../../http/handlers'

/** Keeps a photograph, a reading or a note. Sent twice, it is kept once. */
export default siteRoute('installer', evidenceSchema, async ({ site, account, body }) => {
  if (!(await keepEvidence(site.id, site.head, account.id, body))) throw createError({ statusCode: 409, message: 'this id belongs to other evidence' })
  return {}
}, { maxBytes: MAX_BODY_BYTES })
