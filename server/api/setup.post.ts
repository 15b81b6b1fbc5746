import { sql } from 'drizzle-orm'
import { createError } from 'h3'
import { z } from 'zod'
import { nameSchema, newPasswordSchema } from '../accounts/credentials'
import { hashPassword } from '../accounts/passwords'
import { openSession } from '../accounts/sessions'
import { db } from '../db/database'
import { accounts } from '../db/schema'
import { openRoute } from '../http/handlers'

/** Makes the first account. Closed for ever once there is one. */
export default openRoute(z.strictObject({ name: nameSchema, password: newPasswordSchema }), async ({ event, body }) => {
  const passwordHash = await hashPassword(body.password)
  const id = await db().transaction(async (tx) => {
    await tx.execute(sql`lock table ${accounts} in exclusive mode`)
    const [existing] = await tx.select({ id: accounts.id }).from(accounts).limit(1)
    if (existing) return undefined
    const [row] = await tx.insert(accounts).values({ name: body.name, passwordHash }).returning({ id: accounts.id })
    return row!.id
  })
  if (!id) throw createError({ statusCode: 409, message: 'the first account was made already; sign in' })
  await openSession(event, id)
  return { account: { name: body.name } }
})
