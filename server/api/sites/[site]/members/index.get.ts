import { readMembers } from '@mast/api'
import { route } from '../../../../http/route'
import { membersOf } from '../../../../members/members'

export default route(readMembers, async ({ site, account }) => ({
  members: await membersOf(site.id),
  you: account.id,
}))
