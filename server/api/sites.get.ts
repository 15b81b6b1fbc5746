import { signedInRoute } from '../http/handlers'
import { drawerOf } from '../sites/drawer'

/** The drawer: every site of the account with how far it is. */
export default signedInRoute(undefined, ({ account }) => drawerOf(account.id))
