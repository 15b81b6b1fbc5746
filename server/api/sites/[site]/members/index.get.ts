import { siteRoute } from '../../../../http/handlers'
import { membersOf } from '../../../../members/members'

/** Who works on the site, and who asks. */
export default siteRoute('viewer', undefined, async ({ site, account }) => ({
  members: await membersOf(site.id),
  you: account.id,
}))
