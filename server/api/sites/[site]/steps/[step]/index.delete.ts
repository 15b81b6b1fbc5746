import { param, siteRoute } from '../../../../../http/handlers'
import { untick } from '../../../../../steps/steps'

/** Takes a tick back. */
export default siteRoute('installer', undefined, async ({ event, site, account }) => {
  await untick(site.id, param(event, 'step'), account.id)
  return {}
})
