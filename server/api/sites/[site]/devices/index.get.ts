import { rollOf } from '../../../../adoption/devices'
import { siteRoute } from '../../../../http/handlers'

/** The roll: states, strangers, the last events. */
export default siteRoute('viewer', undefined, ({ site }) => rollOf(site.id))
