import { acceptInvitation } from '@mast/api'
import { addressOf } from '../../http/clientAddress'
import { accountOf, beginSession } from '../../http/session'
import { route } from '../../http/route'
import { join } from '../../members/invitations'

export default route(acceptInvitation, async ({ event, params, body }) => {
  const { siteId, madeId } = await join(
    params.token,
    await accountOf(event),
    body.newAccount,
    addressOf(event),
  )
  if (madeId) await beginSession(event, madeId)
  return { siteId }
})
