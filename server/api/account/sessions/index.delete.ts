import { endOtherSessions } from '@mast/api'
import { endOthers } from '../../../accounts/sessions'
import { inTransaction } from '../../../db/database'
import { route } from '../../../http/route'

export default route(endOtherSessions, async ({ account }) => ({
  ended: await inTransaction((tx) => endOthers(tx, account)),
}))
