import { changePassword } from '@mast/api'
import { replacePassword } from '../../accounts/accounts'
import { addressOf } from '../../http/clientAddress'
import { route } from '../../http/route'

export default route(changePassword, async ({ event, account, body }) => {
  await replacePassword(account, body.current, body.next, addressOf(event))
  return {}
})
