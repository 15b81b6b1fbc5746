/**
 * Sessions: a random token that the browser keeps, its digest in the database. Every session can be
 * seen and ended by its account.
 */
import { createHash, randomBytes } from 'node:crypto'
import { and, desc, eq, gt, lt, ne, sql } from 'drizzle-orm'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, log, sessions } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'

const DAYS = 14
const MOST_AGENT_CHARACTERS = 200
const SEEN_EVERY_MS = 60_000
export const digestToken = (token: string): string =>
  createHash('sha256').update(token).digest('hex')

export interface Account {
  readonly id: string
  readonly name: string
  readonly sessionId: string
}

/** Begins a session. Gives the token, which is nowhere else, and when it ends by itself. */
export async function openSession(
  accountId: string,
  agent: string,
): Promise<{ token: string; expiresAt: Date }> {
  const token = randomBytes(32).toString('base64url')
  const expiresAt = new Date(Date.now() + DAYS * 86_400_000)
  await inTransaction(async (tx) => {
    await tx.delete(sessions).where(lt(sessions.expiresAt, new Date()))
    await tx.insert(sessions).values({
      tokenHash: digestToken(token),
      accountId,
      agent: agent.slice(0, MOST_AGENT_CHARACTERS),
      expiresAt,
    })
    await tx.insert(log).values({ accountId, what: 'Signed in' })
  })
  return { token, expiresAt }
}

export const closeSession = (account: Account): Promise<number> =>
  inTransaction((tx) =>
    endSessions(tx, account.id, eq(sessions.id, account.sessionId), 'Signed out'),
  )

export async function accountByToken(token: string): Promise<Account | undefined> {
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

export const sessionsOf = (account: Account) =>
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

/** @throws Refused where the account has no such session. */
export async function endOne(account: Account, id: string): Promise<void> {
  const ended = await inTransaction((tx) =>
    endSessions(tx, account.id, eq(sessions.id, id), 'Ended a session'),
  )
  if (ended === 0)
    throw new Refused('not-there', 'there is no such session; it may have ended already')
}

/** Ends all sessions of an account but the one that asks. */
export const endOthers = (at: Executor, account: Account): Promise<number> =>
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
