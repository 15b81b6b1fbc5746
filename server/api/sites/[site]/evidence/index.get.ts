import { evidenceOf } from '../../../../evidence/evidence'
import { siteRoute } from '../../../../http/handlers'

/** Backups, photographs, readings and notes; proofs have a route of their own. */
export default siteRoute('viewer', undefined, ({ site }) => evidenceOf(site.id))
