import { signIn } from '@mast/api'
import { accountWith } from '../accounts/accounts'
import { addressOf } from '../http/clientAddress'
import { beginSession } from '../http/session'
import { route } from '../http/route'

export default route(signIn, async ({ event, body }) => {
  const found = await accountWith(body.name, body.password, addressOf(event))
  await beginSession(event, found.id)
  return { account: { name: found.name } }
})
