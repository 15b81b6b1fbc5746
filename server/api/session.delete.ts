import { closeSession } from '../accounts/sessions'
import { openRoute } from '../http/handlers'

/** Signs out. */
export default openRoute(undefined, async ({ event }) => {
  await closeSession(event)
  return {}
})
