import { siteRoute } from '../../../http/handlers'
import { overlapsElsewhere, twinsElsewhere } from '../../../sites/elsewhere'

export default siteRoute('viewer', undefined, async ({ site, account }) => ({
  overlaps: await overlapsElsewhere(site.id, account.id),
  twins: await twinsElsewhere(site.id, account.id),
}))
