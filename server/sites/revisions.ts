/** Plan revisions: their history, and saving changes on top of the newest one whatever they were made on. */
import { and, asc, desc, eq, gt, inArray, lt } from 'drizzle-orm'
import { z } from 'zod'
import { changeSchema, mergeChanges, type Change, type Conflict, type PlanPatch, type PlanProblem, type SitePlan, type TheirRevision } from '@mast/core/plan'
import { db, type Executor } from '../db/database'
import { accounts, inventory, log, prefixes, revisions, sites } from '../db/schema'
import { notify } from '../live/notices'
import { planAt, remember, stored } from './plans'
import { inTurn } from './turns'

export const saveSchema = z.strictObject({ base: z.int().min(1), changes: z.array(changeSchema).min(1).max(200) })

export interface RevisionLine { readonly number: number; readonly summary: string; readonly author: string | null; readonly at: Date }

/** Newest first, from before a number on. */
export async function historyOf(siteId: string, limit: number, before = 2 ** 31 - 1): Promise<RevisionLine[]> {
  return db().select({ number: revisions.number, summary: revisions.summary, author: accounts.name, at: revisions.at })
    .from(revisions).leftJoin(accounts, eq(accounts.id, revisions.authorId)).where(and(eq(revisions.siteId, siteId), lt(revisions.number, before))).orderBy(desc(revisions.number)).limit(limit)
}

/** What was saved after a revision, oldest first, with its patches. */
export async function revisionsSince(at: Executor, siteId: string, number: number): Promise<TheirRevision[]> {
  const rows = await at.select({ number: revisions.number, summary: revisions.summary, author: accounts.name, patches: revisions.patches })
    .from(revisions).leftJoin(accounts, eq(accounts.id, revisions.authorId)).where(and(eq(revisions.siteId, siteId), gt(revisions.number, number))).orderBy(asc(revisions.number))
  return rows.map((r) => ({ ...r, patches: r.patches as PlanPatch[] }))
}

interface NewRevision { readonly number: number; readonly plan: SitePlan; readonly patches: readonly PlanPatch[]; readonly inverse: readonly PlanPatch[]; readonly summary: string; readonly changeId: string | null }

/** @param before the plan that it follows; null for the first */
export async function createRevision(at: Executor, siteId: string, before: SitePlan | null, r: NewRevision, authorId: string): Promise<void> {
  const { number, plan, patches, inverse, summary, changeId } = r
  const [previous] = await at.select({ version: revisions.version }).from(revisions).where(and(eq(revisions.siteId, siteId), eq(revisions.number, number - 1)))
  await at.insert(revisions).values({ siteId, number, ...stored(number, plan, previous?.version ?? null), patches, inverse, summary, authorId, changeId })
  await at.update(sites).set({ head: number, name: plan.site.name }).where(eq(sites.id, siteId))
  await at.insert(log).values({ siteId, accountId: authorId, what: `Revision ${number}: ${summary}` })
  if (before?.devices !== plan.devices) await listInventory(at, siteId, plan)
  if (before?.segments !== plan.segments || before?.uplinks !== plan.uplinks || before?.knownNetworks !== plan.knownNetworks) await listPrefixes(at, siteId, plan)
  await notify(at, { site: siteId, topic: 'plan', revision: number })
}

export async function listInventory(at: Executor, siteId: string, plan: SitePlan): Promise<void> {
  await at.delete(inventory).where(eq(inventory.siteId, siteId))
  const rows = Object.values(plan.devices).map((d) => ({ siteId, deviceId: d.id, name: d.name, profileId: d.profileId, serial: d.serial, hardwareAddress: d.hardwareAddress }))
  for (let i = 0; i < rows.length; i += 1000) await at.insert(inventory).values(rows.slice(i, i + 1000))
}

export async function listPrefixes(at: Executor, siteId: string, plan: SitePlan): Promise<void> {
  await at.delete(prefixes).where(eq(prefixes.siteId, siteId))
  const rows: (typeof prefixes.$inferInsert)[] = []
  const add = (entityId: string, kind: string, name: string, network: string | null): void => { if (network) rows.push({ siteId, entityId, kind, name, network }) }
  for (const s of Object.values(plan.segments)) { add(s.id, 'segment', s.name, s.subnet); add(s.id, 'segment', s.name, s.subnet6) }
  for (const u of Object.values(plan.uplinks)) if (u.handOff.providerLan !== 'none') add(u.id, 'provider', `LAN of ${u.name}`, u.handOff.providerLan)
  for (const n of Object.values(plan.knownNetworks)) add(n.id, n.kind, n.name, n.prefix)
  for (let i = 0; i < rows.length; i += 1000) await at.insert(prefixes).values(rows.slice(i, i + 1000))
}

export type SaveOutcome =
  /** `merged` tells that somebody else's revisions lie between the base and ours. */
  | { kind: 'saved'; revision: number; merged: boolean; made: { number: number; summary: string; changeId: string }[] }
  | { kind: 'conflict'; revision: number; conflicts: readonly Conflict[] }
  | { kind: 'refused'; changeId: string; problems: readonly PlanProblem[] }

/**
 * Saves changes in order, each a revision, all of them or none. Those that were saved before (their answer was lost on the way) are not saved again.
 * The row of the site is locked meanwhile, so that the numbers have no gaps and nobody merges with half of somebody's work; within this process saves of a
 * site take turns before they take a connection, so that a busy site leaves the others theirs.
 */
export function saveChanges(siteId: string, base: number, changes: readonly Change[], authorId: string): Promise<SaveOutcome> {
  return inTurn(siteId, () => saveNow(siteId, base, changes, authorId))
}

async function saveNow(siteId: string, base: number, changes: readonly Change[], authorId: string): Promise<SaveOutcome> {
  let newest: { number: number; plan: SitePlan } | undefined
  const outcome = await db().transaction(async (tx): Promise<SaveOutcome> => {
    const [site] = await tx.select({ head: sites.head }).from(sites).where(eq(sites.id, siteId)).for('no key update')
    const { head } = site!
    const basePlan = await planAt(tx, siteId, Math.min(base, head))
    const headPlan = await planAt(tx, siteId, head)
    const there = await tx.select({ changeId: revisions.changeId, number: revisions.number, summary: revisions.summary }).from(revisions)
      .where(and(eq(revisions.siteId, siteId), inArray(revisions.changeId, changes.map((c) => c.id))))
    const saved = new Map(there.map((r) => [r.changeId!, r]))
    const fresh = changes.filter((c) => !saved.has(c.id))
    const since = base < head ? await revisionsSince(tx, siteId, base) : []
    const ours = new Set(there.map((r) => r.number))
    // What was saved of this very batch is ours, not theirs: the rest of it builds on that.
    const theirs = since.filter((r) => !ours.has(r.number))
    const onto = theirs.length === 0 ? headPlan : basePlan
    const merge = mergeChanges(onto, headPlan, theirs, fresh)
    const [refused] = merge.refused
    if (refused) return { kind: 'refused', ...refused }
    if (merge.conflicts.length > 0) return { kind: 'conflict', revision: head, conflicts: merge.conflicts }
    let before = headPlan
    let number = head
    const made = [...saved.values()].map((r) => ({ number: r.number, summary: r.summary, changeId: r.changeId! }))
    for (const step of merge.steps) {
      await createRevision(tx, siteId, before, { ...step, number: ++number }, authorId)
      before = step.plan
      made.push({ number, summary: step.summary, changeId: step.changeId })
    }
    newest = { number, plan: before }
    return { kind: 'saved', revision: number, merged: theirs.length > 0, made }
  })
  if (newest) remember(siteId, newest.number, newest.plan)
  return outcome
}
