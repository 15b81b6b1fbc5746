/** Plans of revisions, read once: a revision never changes. */
import { and, eq } from 'drizzle-orm'
import { parsePlan, type SitePlan } from '@mast/core/plan'
import type { Executor } from '../db/database'
import { revisions, sites } from '../db/schema'

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

/** @throws Error where there is no such revision or it cannot be read. */
export async function planAt(at: Executor, siteId: string, number: number): Promise<SitePlan> {
  const key = `${siteId}@${number}`
  const known = kept.get(key)
  if (known) return keep(key, known)
  const [row] = await at.select({ document: revisions.document }).from(revisions).where(and(eq(revisions.siteId, siteId), eq(revisions.number, number)))
  if (!row) throw new Error(`${siteId} has no revision ${number}`)
  const parsed = parsePlan(row.document)
  if (!parsed.ok) throw new Error(`revision ${number} of ${siteId} cannot be read: ${parsed.problems[0]!.path.join('.')} ${parsed.problems[0]!.reason}`)
  return keep(key, parsed.plan)
}

/** The newest plan. Not for a transaction that has just made a revision: were that rolled back, its plan would stay here. */
export async function planOf(at: Executor, siteId: string): Promise<{ revision: number; plan: SitePlan }> {
  const [site] = await at.select({ head: sites.head }).from(sites).where(eq(sites.id, siteId))
  if (!site) throw new Error(`there is no site ${siteId}`)
  return { revision: site.head, plan: await planAt(at, siteId, site.head) }
}
