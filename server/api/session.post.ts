import { eq, sql } from 'drizzle-orm'
import { createError, getRequestIP, setResponseHeader } from 'h3'
import { RateLimiterMemory } from 'rate-limiter-flexible'
import { credentialsSchema } from '../accounts/credentials'
import { checkPassword, hashPassword } from '../accounts/passwords'
import { openSession } from '../accounts/sessions'
import { db } from '../db/database'
import { accounts } from '../db/schema'
import { openRoute } from '../http/handlers'

const attempts = new RateLimiterMemory({ points: 10, duration: 300 })
// An unknown name takes as long as a wrong password, so that nobody learns which names exist.
const decoy = hashPassword('not the password of anybody')

/** Signs in. */
export default openRoute(credentialsSchema, async ({ event, body }) => {
  const key = `${getRequestIP(event) ?? ''}|${body.name.toLowerCase()}`
  try {
    await attempts.consume(key)
  } catch {
    setResponseHeader(event, 'retry-after', 300)
    throw createError({ statusCode: 429, message: 'too many tries; wait five minutes' })
  }
  const [found] = await db().select().from(accounts).where(eq(sql`lower(${accounts.name})`, body.name.toLowerCase()))
  const right = await checkPassword(body.password, found?.passwordHash ?? (await decoy))
  if (!found || !right) throw createError({ statusCode: 401, message: 'name or password is wrong' })
  await attempts.delete(key)
  await openSession(event, found.id)
  return { account: { name: found.name } }
})
