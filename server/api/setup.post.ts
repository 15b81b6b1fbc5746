import { sql } from 'drizzle-orm'
import { createError } from 'h3'
import { z } from 'zod'
import { nameSchema, newPasswordSchema } from '../accounts/credentials'
import { hashPassword } from '../accounts/passwords'
import { needsSetup } from '../accounts/needsSetup'
import { openSession } from '../accounts/sessions'
import { countTry } from '../accounts/tries'
import { inTransaction } from '../db/database'
import { accounts } from '../db/schema'
import { openRoute } from '../http/handlers'

const tooLate = (): Error =>
  createError({ statusCode: 409, message: 'the first account was made already; sign in' })

/** Makes the first account. Closed for ever once there is one. */
export default openRoute(
  z.strictObject({ name: nameSchema, password: newPasswordSchema }),
  async ({ event, body }) => {
    // Hashing is slow by intent; whoever comes late is told so before it.
    if (!(await needsSetup())) throw tooLate()
    const tries = await countTry(event, 'setup')
    const passwordHash = await hashPassword(body.password)
    const id = await inTransaction(async (tx) => {
      await tx.execute(sql`lock table ${accounts} in exclusive mode`)
      const [existing] = await tx.select({ id: accounts.id }).from(accounts).limit(1)
      if (existing) return undefined
      const [row] = await tx
        .insert(accounts)
        .values({ name: body.name, passwordHash })
        .returning({ id: accounts.id })
      return row!.id
    })
    if (!id) throw tooLate()
    await tries.forget()
    await openSession(event, id)
    return { account: { name: body.name } }
  },
)
