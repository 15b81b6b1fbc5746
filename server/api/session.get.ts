import { needsSetup } from '../accounts/needsSetup'
import { accountOf } from '../accounts/sessions'
import { openRoute } from '../http/handlers'

/** Who is signed in, and whether the first account is still to be made. */
export default openRoute(undefined, async ({ event }) => {
  const account = await accountOf(event)
  if (account) return { account: { name: account.name }, needsSetup: false }
  return { account: null, needsSetup: await needsSetup() }
})
