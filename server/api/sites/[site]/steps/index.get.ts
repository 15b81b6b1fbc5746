import { siteRoute } from '../../../../http/handlers'
import { stepsOf } from '../../../../steps/steps'

/** Steps that are done. */
export default siteRoute('viewer', undefined, ({ site }) => stepsOf(site.id))
