import { removeMember } from '@mast/api'
import { route } from '../../../../http/route'
import { takeOff } from '../../../../members/members'

export default route(removeMember, async ({ params, site, account, role }) => {
  await takeOff(site.id, params.account, { id: account.id, role })
  return {}
})
