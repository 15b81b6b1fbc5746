import { sessionsOf } from '../../../accounts/sessions'
import { signedInRoute } from '../../../http/handlers'

/** The sessions of the account, the last used first. */
export default signedInRoute(undefined, ({ account }) => sessionsOf(account))
