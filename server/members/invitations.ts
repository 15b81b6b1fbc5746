/** Invitations: a link that is shown once, works once, and for a week. */
import { randomBytes } from 'node:crypto'
import { and, desc, eq, gt, lt } from 'drizzle-orm'
import { makeAccount } from '../accounts/accounts'
import { hashPassword } from '../accounts/passwords'
import { digestToken, type Account } from '../accounts/sessions'
import { countLook } from '../accounts/tries'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, invitations, log, members, sites } from '../db/schema'
import type { Role } from '@mast/core/roles'
import { Refused } from '../refusal'
import { addMember } from './members'

const DAYS = 7
/** Open ones of a site. */
const MOST_OPEN = 100
const tokenPattern = /^[\w-]{43}$/

export const openInvitations = (siteId: string) =>
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

/** Gives the token. @throws Refused where there are too many open ones. */
export async function makeInvitation(
  siteId: string,
  role: Role,
  note: string,
  accountId: string,
): Promise<string> {
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
      throw new Refused(
        'not-possible',
        'this site has as many open invitations as it may; withdraw some first',
      )
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

export async function withdraw(siteId: string, id: string, accountId: string): Promise<void> {
  await inTransaction(async (tx) => {
    const [gone] = await tx
      .delete(invitations)
      .where(and(eq(invitations.siteId, siteId), eq(invitations.id, id)))
      .returning({ note: invitations.note })
    if (!gone) throw new Refused('not-there', 'there is no such invitation; it may have been used')
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `Withdrew the invitation of ${gone.note || 'somebody'}`,
    })
  })
}

interface Invitation {
  readonly id: string
  readonly siteId: string
  readonly site: string
  readonly role: Role
  readonly note: string
}

async function invitationOf(at: Executor, token: string): Promise<Invitation | undefined> {
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

const usedUp = (): Refused =>
  new Refused('not-there', 'this invitation is used up, withdrawn or too old; ask for a new one')

/** What an invitation is for. @throws Refused where it is none, or after too many looks. */
export async function lookAt(token: string, address: string): Promise<Invitation> {
  const found = await invitationOf(db(), token)
  if (found) return found
  await countLook(address)
  throw usedUp()
}

/**
 * Who is signed in joins; who is not makes an account first. Gives the site, and the account that
 * was made.
 */
export async function join(
  token: string,
  signedIn: Account | undefined,
  newAccount: { readonly name: string; readonly password: string } | null,
  address: string,
): Promise<{ siteId: string; madeId: string | null }> {
  if (!signedIn && !newAccount)
    throw new Refused('not-signed-in', 'sign in first, or make an account')
  // Hashing is slow by intent; an invitation that is none does not get that far.
  await lookAt(token, address)
  const wanted =
    !signedIn && newAccount
      ? { name: newAccount.name, passwordHash: await hashPassword(newAccount.password) }
      : undefined
  return inTransaction(async (tx) => {
    const invitation = await invitationOf(tx, token)
    if (!invitation) throw usedUp()
    const madeId = wanted ? await makeAccount(tx, wanted.name, wanted.passwordHash) : null
    await useUp(tx, invitation, madeId ?? signedIn!.id)
    return { siteId: invitation.siteId, madeId }
  })
}

async function useUp(tx: Executor, invitation: Invitation, accountId: string): Promise<void> {
  const [used] = await tx
    .delete(invitations)
    .where(eq(invitations.id, invitation.id))
    .returning({ id: invitations.id })
  if (!used) throw new Refused('not-there', 'this invitation was just used; ask for a new one')
  await addMember(tx, invitation.siteId, accountId, invitation.role)
  await tx
    .insert(log)
    .values({ siteId: invitation.siteId, accountId, what: `Joined as ${invitation.role}` })
}
