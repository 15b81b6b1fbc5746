/** Invitations: a link that is shown once, works once, and for a week. */
import { randomBytes } from 'node:crypto'
import { and, desc, eq, gt, lt } from 'drizzle-orm'
import { digestToken } from '../accounts/sessions'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, invitations, log, members, sites } from '../db/schema'
import type { Role } from '@mast/core/roles'
import { addMember } from './members'

const DAYS = 7
/** Open ones of a site. */
const MOST_OPEN = 100
export const tokenPattern = /^[\w-]{43}$/

export const openInvitations = (
  siteId: string,
): Promise<{ id: string; role: Role; note: string; by: string; expiresAt: Date }[]> =>
  db()
    .select({
      id: invitations.id,
      role: invitations.role,
      note: invitations.note,
      by: accounts.name,
      expiresAt: invitations.expiresAt,
    })
    .from(invitations)
    .innerJoin(accounts, eq(accounts.id, invitations.invitedBy))
    .where(and(eq(invitations.siteId, siteId), gt(invitations.expiresAt, new Date())))
    .orderBy(desc(invitations.createdAt))

/** The token, or undefined where there are too many open ones. */
export async function invite(
  siteId: string,
  role: Role,
  note: string,
  accountId: string,
): Promise<string | undefined> {
  const token = randomBytes(32).toString('base64url')
  return inTransaction(async (tx) => {
    await tx
      .delete(invitations)
      .where(and(eq(invitations.siteId, siteId), lt(invitations.expiresAt, new Date())))
    if (
      (
        await tx
          .select({ id: invitations.id })
          .from(invitations)
          .where(eq(invitations.siteId, siteId))
          .limit(MOST_OPEN)
      ).length >= MOST_OPEN
    )
      return undefined
    await tx.insert(invitations).values({
      siteId,
      role,
      note,
      invitedBy: accountId,
      tokenHash: digestToken(token),
      expiresAt: new Date(Date.now() + DAYS * 86_400_000),
    })
    await tx
      .insert(log)
      .values({ siteId, accountId, what: `Invited ${note || 'somebody'} as ${role}` })
    return token
  })
}

export async function withdraw(siteId: string, id: string, accountId: string): Promise<boolean> {
  return inTransaction(async (tx) => {
    const [gone] = await tx
      .delete(invitations)
      .where(and(eq(invitations.siteId, siteId), eq(invitations.id, id)))
      .returning({ note: invitations.note })
    if (gone)
      await tx.insert(log).values({
        siteId,
        accountId,
        what: `Withdrew the invitation of ${gone.note || 'somebody'}`,
      })
    return gone !== undefined
  })
}

export interface Invitation {
  readonly id: string
  readonly siteId: string
  readonly site: string
  readonly role: Role
  readonly note: string
}

export async function invitationOf(at: Executor, token: string): Promise<Invitation | undefined> {
  if (!tokenPattern.test(token)) return undefined
  const [row] = await at
    .select({
      id: invitations.id,
      siteId: invitations.siteId,
      site: sites.name,
      role: invitations.role,
      note: invitations.note,
    })
    .from(invitations)
    .innerJoin(sites, eq(sites.id, invitations.siteId))
    // Whoever invited must still be somebody who may.
    .innerJoin(
      members,
      and(
        eq(members.siteId, invitations.siteId),
        eq(members.accountId, invitations.invitedBy),
        eq(members.role, 'owner'),
      ),
    )
    .where(
      and(eq(invitations.tokenHash, digestToken(token)), gt(invitations.expiresAt, new Date())),
    )
  return row
}

/** Uses an invitation up; false where somebody else was faster. */
export async function accept(
  tx: Executor,
  invitation: Invitation,
  accountId: string,
): Promise<boolean> {
  const [used] = await tx
    .delete(invitations)
    .where(eq(invitations.id, invitation.id))
    .returning({ id: invitations.id })
  if (!used) return false
  await addMember(tx, invitation.siteId, accountId, invitation.role)
  await tx
    .insert(log)
    .values({ siteId: invitation.siteId, accountId, what: `Joined as ${invitation.role}` })
  return true
}
