/** Sessions: a random token in a cookie, its digest in the database. */
import { createHash, randomBytes } from 'node:crypto'
import { and, eq, gt } from 'drizzle-orm'
import { deleteCookie, getCookie, setCookie, type H3Event } from 'h3'
import { db } from '../db/database'
import { accounts, sessions } from '../db/schema'

const COOKIE = 'mast_session'
const DAYS = 14
export const digestToken = (token: string): string => createHash('sha256').update(token).digest('hex')

export interface Account { readonly id: string; readonly name: string }

export async function openSession(event: H3Event, accountId: string): Promise<void> {
  const token = randomBytes(32).toString('base64url')
  const expiresAt = new Date(Date.now() + DAYS * 86_400_000)
  await db().insert(sessions).values({ tokenHash: digestToken(token), accountId, expiresAt })
  const secure = event.node.req.headers['x-forwarded-proto'] === 'https'
  setCookie(event, COOKIE, token, { httpOnly: true, sameSite: 'strict', path: '/', secure, expires: expiresAt })
}

export async function closeSession(event: H3Event): Promise<void> {
  const token = getCookie(event, COOKIE)
  if (token) await db().delete(sessions).where(eq(sessions.tokenHash, digestToken(token)))
  deleteCookie(event, COOKIE, { path: '/' })
}

export async function accountOf(event: H3Event): Promise<Account | undefined> {
  const token = getCookie(event, COOKIE)
  if (!token) return undefined
  const [row] = await db().select({ id: accounts.id, name: accounts.name }).from(sessions).innerJoin(accounts, eq(accounts.id, sessions.accountId))
    .where(and(eq(sessions.tokenHash, digestToken(token)), gt(sessions.expiresAt, new Date())))
  return row
}
