import { db } from '../db/database'
import { accounts } from '../db/schema'

/** Whether the first account is still to be made. */
export const needsSetup = async (): Promise<boolean> =>
  (await db().select({ id: accounts.id }).from(accounts).limit(1)).length === 0
