import { siteRoute } from '../../../../http/handlers'
import { releasesOf } from '../../../../releases/list'

/** What was sent to the devices, newest first, and how far the one under way is. */
export default siteRoute('viewer', undefined, ({ site }) => releasesOf(site.id))
