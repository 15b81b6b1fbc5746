import { sendRelease } from '@mast/api'
import { senderOf } from '../../../../http/sender'
import { route } from '../../../../http/route'
import { send } from '../../../../releases/asked'

export default route(sendRelease, ({ event, site, account, body }) =>
  send(site.id, account.id, body.revision, body, senderOf(event)),
)
