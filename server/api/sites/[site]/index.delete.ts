import { siteRoute } from '../../../http/handlers'
import { removeSite } from '../../../sites/create'
import { drop } from '../../../standins/client'

/** Removes a site with all its revisions, states and evidence. */
export default siteRoute('owner', undefined, async ({ site, account }) => {
  await drop(site.id).catch(() => {})
  await removeSite(site.id, account.id)
  return {}
})
