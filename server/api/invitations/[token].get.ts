import { readInvitation } from '@mast/api'
import { addressOf } from '../../http/clientAddress'
import { route } from '../../http/route'
import { lookAt } from '../../members/invitations'

export default route(readInvitation, async ({ event, params }) => {
  const { site, role, note } = await lookAt(params.token, addressOf(event))
  return { site, role, note }
})
