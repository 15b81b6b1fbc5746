import { eq, sql } from 'drizzle-orm'
import { createError } from 'h3'
import { credentialsSchema } from '../accounts/credentials'
import { checkPassword, hashPassword } from '../accounts/passwords'
import { openSession } from '../accounts/sessions'
import { countTry } from '../accounts/tries'
import { db } from '../db/database'
import { accounts, log } from '../db/schema'
import { openRoute } from '../http/handlers'

// An unknown name takes as long as a wrong password, so that nobody learns which names exist.
const decoy = hashPassword('not the password of anybody')
decoy.catch(() => {})

/** Signs in. */
export default openRoute(credentialsSchema, async ({ event, body }) => {
  const tries = await countTry(event, body.name)
  const [found] = await db()
    .select()
    .from(accounts)
    .where(eq(sql`lower(${accounts.name})`, body.name.toLowerCase()))
  const right = await checkPassword(body.password, found?.passwordHash ?? (await decoy))
  if (!found || !right) {
    if (found)
      await db()
        .insert(log)
        .values({ accountId: found.id, what: 'A sign-in failed: wrong password' })
    throw createError({ statusCode: 401, message: 'name or password is wrong' })
  }
  await tries.forget()
  await openSession(event, found.id)
  return { account: { name: found.name } }
})
