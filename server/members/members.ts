/** Who works on a site, in which role. A site always keeps an owner. */
import { and, asc, eq, sql } from 'drizzle-orm'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, invitations, log, members, sites, type Site } from '../db/schema'
import { isAtLeast, type Role } from '@mast/core/roles'
import { notify } from '../live/notices'
import { Refused } from '../refusal'

export const membersOf = (siteId: string) =>
  db()
    .select({ accountId: members.accountId, name: accounts.name, role: members.role })
    .from(members)
    .innerJoin(accounts, eq(accounts.id, members.accountId))
    .where(eq(members.siteId, siteId))
    .orderBy(asc(sql`lower(${accounts.name})`))

/** A site and what somebody is on it; undefined where it is not there or they are no member. */
export async function membership(
  siteId: string,
  accountId: string,
): Promise<{ site: Site; role: Role } | undefined> {
  const [row] = await db()
    .select({ site: sites, role: members.role })
    .from(sites)
    .innerJoin(members, and(eq(members.siteId, sites.id), eq(members.accountId, accountId)))
    .where(eq(sites.id, siteId))
  return row
}

/** Takes a member off the site. Owners may do it to anybody, everybody to themselves. */
export async function takeOff(
  siteId: string,
  accountId: string,
  by: { readonly id: string; readonly role: Role },
): Promise<void> {
  if (by.role !== 'owner' && accountId !== by.id)
    throw new Refused('not-allowed', `this needs the role owner; yours is ${by.role}`)
  await changeMember(siteId, accountId, null, by.id)
}

/** Gives a member another role, or none. @throws Refused where the site would have no owner. */
export async function changeMember(
  siteId: string,
  accountId: string,
  role: Role | null,
  byAccountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    await tx.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId)).for('no key update')
    const all = await tx
      .select({ accountId: members.accountId, role: members.role, name: accounts.name })
      .from(members)
      .innerJoin(accounts, eq(accounts.id, members.accountId))
      .where(eq(members.siteId, siteId))
    const found = all.find((m) => m.accountId === accountId)
    if (!found)
      throw new Refused('not-possible', 'there is no such member; the list may have changed')
    const owners = all.filter((m) => m.role === 'owner')
    if (found.role === 'owner' && role !== 'owner' && owners.length === 1)
      throw new Refused(
        'not-possible',
        `${found.name} is the only owner; make somebody else owner first`,
      )
    const which = and(eq(members.siteId, siteId), eq(members.accountId, accountId))
    if (role) await tx.update(members).set({ role }).where(which)
    else await tx.delete(members).where(which)
    // What somebody may no longer hand out ends with that; else an invitation made before would be
    // the way back.
    const ended =
      role === 'owner'
        ? []
        : await tx
            .delete(invitations)
            .where(and(eq(invitations.siteId, siteId), eq(invitations.invitedBy, accountId)))
            .returning({ id: invitations.id })
    await tx.insert(log).values({
      siteId,
      accountId: byAccountId,
      what:
        `${role ? `Made ${found.name} ${role}` : `Took ${found.name} off the site`}` +
        (ended.length > 0
          ? `; ${ended.length} open ${ended.length === 1 ? 'invitation' : 'invitations'} of theirs ended`
          : ''),
    })
    await notify(tx, { site: siteId, topic: 'members' })
  })
}

/** Makes somebody a member, or gives a member the stronger of the two roles. */
export async function addMember(
  tx: Executor,
  siteId: string,
  accountId: string,
  role: Role,
): Promise<void> {
  const [there] = await tx
    .select({ role: members.role })
    .from(members)
    .where(and(eq(members.siteId, siteId), eq(members.accountId, accountId)))
  if (!there) await tx.insert(members).values({ siteId, accountId, role })
  else if (!isAtLeast(there.role, role))
    await tx
      .update(members)
      .set({ role })
      .where(and(eq(members.siteId, siteId), eq(members.accountId, accountId)))
  await notify(tx, { site: siteId, topic: 'members' })
}
