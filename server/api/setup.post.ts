import { setUp } from '@mast/api'
import { makeFirst } from '../accounts/accounts'
import { addressOf } from '../http/clientAddress'
import { beginSession } from '../http/session'
import { route } from '../http/route'

export default route(setUp, async ({ event, body }) => {
  await beginSession(event, await makeFirst(body.name, body.password, addressOf(event)))
  return { account: { name: body.name } }
})
