import { withdrawInvitation } from '@mast/api'
import { route } from '../../../../http/route'
import { withdraw } from '../../../../members/invitations'

export default route(withdrawInvitation, async ({ params, site, account }) => {
  await withdraw(site.id, params.id, account.id)
  return {}
})
