import { siteRoute } from '../../../../http/handlers'
import { look } from '../../../../standins/client'

/** What can be seen of the stand-ins: lamps, cables, the clock; null before they are first used. */
export default siteRoute('viewer', undefined, async ({ site }) => ({
  standins: await look(site.id),
}))
