import { endOtherSessions } from '../../../accounts/sessions'
import { inTransaction } from '../../../db/database'
import { signedInRoute } from '../../../http/handlers'

/** Ends every session of the account but this one. */
export default signedInRoute(undefined, async ({ account }) => ({
  ended: await inTransaction((tx) => endOtherSessions(tx, account)),
}))
