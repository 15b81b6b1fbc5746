/**
 * Sessions: a random token in a cookie, its digest in the database. Every session can be seen and
 * ended by its account.
 */
import { createHash, randomBytes } from 'node:crypto'
import { and, desc, eq, gt, lt, ne, sql } from 'drizzle-orm'
import { deleteCookie, getCookie, getRequestHeader, setCookie, type H3Event } from 'h3'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, log, sessions } from '../db/schema'
import { isSecure } from '../http/secure'
import { notify } from '../live/notices'

/**
 * Over TLS by a name that browsers take from this host alone, for all of it, and only over TLS (RFC
 * 6265bis 4.1.3.2).
 */
const cookieName = (event: H3Event): string =>
  isSecure(event) ? '__Host-mast_session' : 'mast_session'
const DAYS = 14
const SEEN_EVERY_MS = 60_000
export const digestToken = (token: string): string =>
  createHash('sha256').update(token).digest('hex')

export interface Account {
  readonly id: string
  readonly name: string
  readonly sessionId: string
}

export async function openSession(event: H3Event, accountId: string): Promise<void> {
  const token = randomBytes(32).toString('base64url')
  const expiresAt = new Date(Date.now() + DAYS * 86_400_000)
  const agent = (getRequestHeader(event, 'user-agent') ?? '').slice(0, 200)
  await inTransaction(async (tx) => {
    await tx.delete(sessions).where(lt(sessions.expiresAt, new Date()))
    await tx.insert(sessions).values({ tokenHash: digestToken(token), accountId, agent, expiresAt })
    await tx.insert(log).values({ accountId, what: 'Signed in' })
  })
  setCookie(event, cookieName(event), token, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    secure: isSecure(event),
    expires: expiresAt,
  })
}

export async function closeSession(event: H3Event): Promise<void> {
  const account = await accountOf(event)
  if (account)
    await inTransaction((tx) =>
      endSessions(tx, account.id, eq(sessions.id, account.sessionId), 'Signed out'),
    )
  deleteCookie(event, cookieName(event), { path: '/', secure: isSecure(event) })
}

export async function accountOf(event: H3Event): Promise<Account | undefined> {
  const token = getCookie(event, cookieName(event))
  if (!token) return undefined
  const [row] = await db()
    .select({
      id: accounts.id,
      name: accounts.name,
      sessionId: sessions.id,
      lastSeenAt: sessions.lastSeenAt,
    })
    .from(sessions)
    .innerJoin(accounts, eq(accounts.id, sessions.accountId))
    .where(and(eq(sessions.tokenHash, digestToken(token)), gt(sessions.expiresAt, new Date())))
  if (!row) return undefined
  const { lastSeenAt, ...account } = row
  if (Date.now() - lastSeenAt.getTime() > SEEN_EVERY_MS)
    await db()
      .update(sessions)
      .set({ lastSeenAt: new Date() })
      .where(eq(sessions.id, account.sessionId))
  return account
}

export const sessionsOf = (
  account: Account,
): Promise<{ id: string; agent: string; createdAt: Date; lastSeenAt: Date; isThis: boolean }[]> =>
  db()
    .select({
      id: sessions.id,
      agent: sessions.agent,
      createdAt: sessions.createdAt,
      lastSeenAt: sessions.lastSeenAt,
      isThis: sql<boolean>`${sessions.id} = ${account.sessionId}`,
    })
    .from(sessions)
    .where(and(eq(sessions.accountId, account.id), gt(sessions.expiresAt, new Date())))
    .orderBy(desc(sessions.lastSeenAt))

/** Ends one session of an account by its id; false where it has none such. */
export const endSession = (account: Account, id: string): Promise<boolean> =>
  inTransaction(
    async (tx) => (await endSessions(tx, account.id, eq(sessions.id, id), 'Ended a session')) > 0,
  )

/** Ends all sessions of an account but the one that asks. */
export const endOtherSessions = (at: Executor, account: Account): Promise<number> =>
  endSessions(at, account.id, ne(sessions.id, account.sessionId), 'Ended all other sessions')

async function endSessions(
  at: Executor,
  accountId: string,
  which: ReturnType<typeof eq>,
  what: string,
): Promise<number> {
  const gone = await at
    .delete(sessions)
    .where(and(eq(sessions.accountId, accountId), which))
    .returning({ id: sessions.id })
  if (gone.length === 0) return 0
  await at.insert(log).values({ accountId, what })
  await notify(at, { account: accountId, topic: 'sessions' })
  return gone.length
}
