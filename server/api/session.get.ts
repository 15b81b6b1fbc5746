import { readSession } from '@mast/api'
import { needsSetup } from '../accounts/accounts'
import { route } from '../http/route'
import { accountOf } from '../http/session'

export default route(readSession, async ({ event }) => {
  const account = await accountOf(event)
  if (account) return { account: { name: account.name }, needsSetup: false }
  return { account: null, needsSetup: await needsSetup() }
})
