import { signOut } from '@mast/api'
import { route } from '../http/route'
import { endThisSession } from '../http/session'

export default route(signOut, async ({ event }) => {
  await endThisSession(event)
  return {}
})
