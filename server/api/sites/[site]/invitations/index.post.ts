import { invite } from '@mast/api'
import { route } from '../../../../http/route'
import { makeInvitation } from '../../../../members/invitations'

export default route(invite, async ({ site, account, body }) => ({
  token: await makeInvitation(site.id, body.role, body.note, account.id),
}))
