import { changeRole } from '@mast/api'
import { route } from '../../../../http/route'
import { changeMember } from '../../../../members/members'

export default route(changeRole, async ({ params, site, account, body }) => {
  await changeMember(site.id, params.account, body.role, account.id)
  return {}
})
