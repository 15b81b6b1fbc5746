/** Plans of revisions: stored whole now and then, by patches in between, and read once: a revision never changes. */
import { and, asc, desc, eq, gt, isNotNull, lte } from 'drizzle-orm'
import { parsePlan, replayPatches, type PlanPatch, type SitePlan } from '@mast/core/plan'
import type { Executor } from '../db/database'
import { revisions, sites } from '../db/schema'

/** Every so many revisions one is stored whole: a save writes what it changes, a read replays no more than this. */
const WHOLE_EVERY = 32
const KEPT = 64
const kept = new Map<string, SitePlan>()

function keep(key: string, plan: SitePlan): SitePlan {
  kept.delete(key)
  kept.set(key, plan)
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!)
  return plan
}

/** A revision that was just committed: whoever builds on it need not read and check again what was checked when it was made. */
export function remember(siteId: string, number: number, plan: SitePlan): void { keep(`${siteId}@${number}`, plan) }

/**
 * What is stored of a plan: the whole of it where a chain of patches begins, null where it follows from the revision before. Patches are for documents of
 * one version, so a chain ends where the version of the plan document changes.
 * @param versionBefore of the revision before; null where there is none
 */
export function stored(number: number, plan: SitePlan, versionBefore: number | null): { version: number; document: SitePlan | null } {
  return { version: plan.version, document: number % WHOLE_EVERY === 1 || versionBefore !== plan.version ? plan : null }
}

/** @throws Error where there is no such revision or it cannot be read. */
export async function planAt(at: Executor, siteId: string, number: number): Promise<SitePlan> {
  const key = `${siteId}@${number}`
  const known = kept.get(key)
  if (known) return keep(key, known)
  const [whole] = await at.select({ number: revisions.number, document: revisions.document }).from(revisions)
    .where(and(eq(revisions.siteId, siteId), lte(revisions.number, number), isNotNull(revisions.document))).orderBy(desc(revisions.number)).limit(1)
  if (!whole) throw new Error(`${siteId} has no revision ${number}`)
  const since = await at.select({ patches: revisions.patches }).from(revisions)
    .where(and(eq(revisions.siteId, siteId), gt(revisions.number, whole.number), lte(revisions.number, number))).orderBy(asc(revisions.number))
  if (since.length !== number - whole.number) throw new Error(`${siteId} has no revision ${number}`)
  const parsed = parsePlan(replayPatches(whole.document as object, since.flatMap((r) => r.patches as PlanPatch[])))
  if (!parsed.ok) throw new Error(`revision ${number} of ${siteId} cannot be read: ${parsed.problems[0]!.path.join('.')} ${parsed.problems[0]!.reason}`)
  return keep(key, parsed.plan)
}

/** The newest plan. Not for a transaction that has just made a revision: were that rolled back, its plan would stay here. */
export async function planOf(at: Executor, siteId: string): Promise<{ revision: number; plan: SitePlan }> {
  const [site] = await at.select({ head: sites.head }).from(sites).where(eq(sites.id, siteId))
  if (!site) throw new Error(`there is no site ${siteId}`)
  return { revision: site.head, plan: await planAt(at, siteId, site.head) }
}
