/** Who works on a site, in which role. A site always keeps an owner. */
import { and, asc, eq, sql } from 'drizzle-orm'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, invitations, log, members, sites } from '../db/schema'
import { isAtLeast, type Role } from '@mast/core/roles'
import { notify } from '../live/notices'

export const membersOf = (
  siteId: string,
): Promise<{ accountId: string; name: string; role: Role }[]> =>
  db()
    .select({ accountId: members.accountId, name: accounts.name, role: members.role })
    .from(members)
    .innerJoin(accounts, eq(accounts.id, members.accountId))
    .where(eq(members.siteId, siteId))
    .orderBy(asc(sql`lower(${accounts.name})`))

export type MemberOutcome = { ok: true } | { ok: false; reason: string }

/** Gives a member another role, or none. */
export async function changeMember(
  siteId: string,
  accountId: string,
  role: Role | null,
  byAccountId: string,
): Promise<MemberOutcome> {
  return inTransaction(async (tx): Promise<MemberOutcome> => {
    await tx.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId)).for('no key update')
    const all = await tx
      .select({ accountId: members.accountId, role: members.role, name: accounts.name })
      .from(members)
      .innerJoin(accounts, eq(accounts.id, members.accountId))
      .where(eq(members.siteId, siteId))
    const found = all.find((m) => m.accountId === accountId)
    if (!found) return { ok: false, reason: 'there is no such member; the list may have changed' }
    const owners = all.filter((m) => m.role === 'owner')
    if (found.role === 'owner' && role !== 'owner' && owners.length === 1)
      return {
        ok: false,
        reason: `${found.name} is the only owner; make somebody else owner first`,
      }
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
    return { ok: true }
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
