import { sql } from 'drizzle-orm'
import { accountOf } from '../accounts/sessions'
import { db } from '../db/database'
import { accounts } from '../db/schema'
import { openRoute } from '../http/handlers'

/** Who is signed in, and whether the first account is still to be made. */
export default openRoute(undefined, async ({ event }) => {
  const account = await accountOf(event)
  if (account) return { account: { name: account.name }, needsSetup: false }
  const [row] = await db().select({ n: sql<number>`count(*)::int` }).from(accounts)
  return { account: null, needsSetup: row!.n === 0 }
})
