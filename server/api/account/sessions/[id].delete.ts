import { endSession } from '@mast/api'
import { endOne } from '../../../accounts/sessions'
import { route } from '../../../http/route'

export default route(endSession, async ({ params, account }) => {
  await endOne(account, params.id)
  return {}
})
