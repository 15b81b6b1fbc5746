import { readSite } from '@mast/api'
import { route } from '../../../http/route'
import { siteSince } from '../../../sites/revisions'

export default route(readSite, async ({ site, role, query }) => ({
  id: site.id,
  role,
  ...(await siteSince(site.id, query.since, query.at)),
}))
