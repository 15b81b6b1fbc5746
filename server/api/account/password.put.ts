import { eq } from 'drizzle-orm'
import { createError } from 'h3'
import { z } from 'zod'
import { newPasswordSchema } from '../../accounts/credentials'
import { checkPassword, hashPassword } from '../../accounts/passwords'
import { endOtherSessions } from '../../accounts/sessions'
import { countTry } from '../../accounts/tries'
import { db, inTransaction } from '../../db/database'
import { accounts, log } from '../../db/schema'
import { signedInRoute } from '../../http/handlers'

/** Changes the password; whoever is signed in elsewhere with the old one is signed out. */
export default signedInRoute(
  z.strictObject({ current: z.string().min(1).max(200), next: newPasswordSchema }),
  async ({ event, account, body }) => {
    const tries = await countTry(event, account.name)
    const [row] = await db()
      .select({ passwordHash: accounts.passwordHash })
      .from(accounts)
      .where(eq(accounts.id, account.id))
    if (!row || !(await checkPassword(body.current, row.passwordHash)))
      throw createError({ statusCode: 422, message: 'the current password is wrong' })
    await tries.forget()
    const passwordHash = await hashPassword(body.next)
    await inTransaction(async (tx) => {
      await tx.update(accounts).set({ passwordHash }).where(eq(accounts.id, account.id))
      await tx.insert(log).values({ accountId: account.id, what: 'Changed the password' })
      await endOtherSessions(tx, account)
    })
    return {}
  },
)
