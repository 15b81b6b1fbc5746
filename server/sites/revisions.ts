/** Plan revisions: reading the newest, saving edits on top of the one that they are based on. */
import { desc, eq } from 'drizzle-orm'
import { z } from 'zod'
import { applyEdit, parsePlan, runPatches, type PlanPatch, type PlanProblem, type SitePlan } from '@mast/core/plan'
import { db, type Executor } from '../db/database'
import { accounts, inventory, log, revisions, sites } from '../db/schema'
import { notify } from '../live/notices'

const patch = z.strictObject({ op: z.enum(['add', 'remove', 'replace']), path: z.array(z.union([z.string().max(64), z.int()])).min(1).max(8), value: z.unknown().optional() })
export const changeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('edit'), name: z.string().max(64), args: z.unknown() }),
  /** An undo or a redo. */
  z.strictObject({ kind: z.literal('patches'), summary: z.string().max(300), patches: z.array(patch).min(1).max(20_000) }),
])
export type Change = z.infer<typeof changeSchema>
export const saveSchema = z.strictObject({ base: z.int().min(1), changes: z.array(changeSchema).min(1).max(200) })

export async function planOf(at: Executor, siteId: string): Promise<{ revision: number; plan: SitePlan }> {
  const [row] = await at.select().from(revisions).where(eq(revisions.siteId, siteId)).orderBy(desc(revisions.number)).limit(1)
  if (!row) throw new Error(`the site ${siteId} has no revision`)
  const parsed = parsePlan(row.document)
  if (!parsed.ok) throw new Error(`revision ${row.number} of ${siteId} cannot be read: ${parsed.problems[0]!.path.join('.')} ${parsed.problems[0]!.reason}`)
  return { revision: row.number, plan: parsed.plan }
}

export async function historyOf(siteId: string, limit: number): Promise<{ number: number; summary: string; author: string | null; at: Date }[]> {
  return db().select({ number: revisions.number, summary: revisions.summary, author: accounts.name, at: revisions.at })
    .from(revisions).leftJoin(accounts, eq(accounts.id, revisions.authorId)).where(eq(revisions.siteId, siteId)).orderBy(desc(revisions.number)).limit(limit)
}

export async function createRevision(at: Executor, siteId: string, number: number, plan: SitePlan, patches: readonly PlanPatch[], inverse: readonly PlanPatch[], summary: string, authorId: string): Promise<void> {
  await at.insert(revisions).values({ siteId, number, document: plan, patches, inverse, summary, authorId })
  await at.update(sites).set({ head: number, name: plan.site.name }).where(eq(sites.id, siteId))
  await at.insert(log).values({ siteId, accountId: authorId, what: `Revision ${number}: ${summary}` })
  await at.delete(inventory).where(eq(inventory.siteId, siteId))
  const rows = Object.values(plan.devices).map((d) => ({ siteId, deviceId: d.id, name: d.name, profileId: d.profileId, serial: d.serial, hardwareAddress: d.hardwareAddress }))
  for (let i = 0; i < rows.length; i += 1000) await at.insert(inventory).values(rows.slice(i, i + 1000))
  await notify(at, { site: siteId, topic: 'plan', revision: number })
}

export type SaveOutcome =
  | { kind: 'saved'; revision: number; made: { number: number; summary: string }[] }
  | { kind: 'stale'; revision: number }
  | { kind: 'refused'; problems: PlanProblem[] }

/** Applies changes in order, each a revision. Nothing is saved where one is refused or where the base is not the newest. */
export async function saveChanges(siteId: string, base: number, changes: readonly Change[], authorId: string): Promise<SaveOutcome> {
  return db().transaction(async (tx): Promise<SaveOutcome> => {
    await tx.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId)).for('update')
    const newest = await planOf(tx, siteId)
    if (newest.revision !== base) return { kind: 'stale', revision: newest.revision }
    let { plan, revision } = newest
    const steps: { number: number; plan: SitePlan; patches: PlanPatch[]; inverse: PlanPatch[]; summary: string }[] = []
    for (const change of changes) {
      const outcome = change.kind === 'edit' ? applyEdit(plan, change) : runPatches(plan, change.patches as PlanPatch[], change.summary)
      if (!outcome.ok) return { kind: 'refused', problems: outcome.problems }
      if (outcome.patches.length === 0) continue
      plan = outcome.plan
      revision++
      steps.push({ ...outcome, number: revision })
    }
    for (const s of steps) await createRevision(tx, siteId, s.number, s.plan, s.patches, s.inverse, s.summary, authorId)
    return { kind: 'saved', revision, made: steps.map(({ number, summary }) => ({ number, summary })) }
  })
}

