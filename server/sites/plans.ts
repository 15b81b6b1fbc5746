/**
 * Plans of revisions: stored whole now and then, by patches in between, and read once: a revision
 * never changes.
 */
import { and, asc, desc, eq, gt, isNotNull, lte } from 'drizzle-orm'
import { PLAN_VERSION, readPlan, replayPatches, type SitePlan } from '@mast/core/plan'
import { db, type Executor } from '../db/database'
import { revisions, sites } from '../db/schema'
import { siteIsGone } from '../refusal'
import { KeptRevisions } from './kept'

/**
 * Every so many revisions one is stored whole: a save writes what it changes, a read replays no
 * more than this.
 */
const WHOLE_EVERY = 32
/** How far from a plan that is kept another one is made from it; beyond, from what is stored. */
const REPLAYED_AT_MOST = 256
const kept = new KeptRevisions<SitePlan>(200, 8)

/**
 * A revision that was just committed: whoever builds on it need not read and check again what was
 * checked when it was made.
 */
export const remember = (siteId: string, number: number, plan: SitePlan): void =>
  void kept.keep(siteId, number, plan)

/**
 * What is stored of a plan: the whole of it where a chain of patches begins, null where it follows
 * from the revision before. Patches are for documents of
 * one version, so a chain ends where the version of the plan document changes.
 * @param versionBefore of the revision before; null where there is none
 */
export function stored(
  number: number,
  plan: SitePlan,
  versionBefore: number | null,
): { version: number; document: SitePlan | null } {
  return {
    version: plan.version,
    document: number % WHOLE_EVERY === 1 || versionBefore !== plan.version ? plan : null,
  }
}

/**
 * A plan from the nearest one that is kept, forward or back; undefined where none is near. Each
 * step was checked when it was made.
 */
async function fromKept(
  at: Executor,
  siteId: string,
  number: number,
): Promise<SitePlan | undefined> {
  const near = kept.nearest(siteId, number, REPLAYED_AT_MOST)
  if (!near) return undefined
  const from = near.number
  const isAhead = from < number
  const rows = await at
    .select({
      version: revisions.version,
      patches: isAhead ? revisions.patches : revisions.inverse,
    })
    .from(revisions)
    .where(
      and(
        eq(revisions.siteId, siteId),
        gt(revisions.number, Math.min(from, number)),
        lte(revisions.number, Math.max(from, number)),
      ),
    )
    .orderBy((isAhead ? asc : desc)(revisions.number))
  if (rows.length !== Math.abs(number - from) || rows.some((r) => r.version !== PLAN_VERSION))
    return undefined
  return replayPatches(
    near.value,
    rows.flatMap((r) => r.patches),
  ) as SitePlan
}

/** A plan from the nearest one before it that is stored whole. */
async function fromStored(at: Executor, siteId: string, number: number): Promise<SitePlan> {
  const [whole] = await at
    .select({ number: revisions.number, document: revisions.document })
    .from(revisions)
    .where(
      and(
        eq(revisions.siteId, siteId),
        lte(revisions.number, number),
        isNotNull(revisions.document),
      ),
    )
    .orderBy(desc(revisions.number))
    .limit(1)
  if (!whole) {
    const [site] = await at.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId))
    throw site ? new Error(`${siteId} has no revision ${number}`) : siteIsGone()
  }
  const since = await at
    .select({ patches: revisions.patches })
    .from(revisions)
    .where(
      and(
        eq(revisions.siteId, siteId),
        gt(revisions.number, whole.number),
        lte(revisions.number, number),
      ),
    )
    .orderBy(asc(revisions.number))
  if (since.length !== number - whole.number) throw new Error(`${siteId} has no revision ${number}`)
  const parsed = readPlan(
    replayPatches(
      whole.document!,
      since.flatMap((r) => r.patches),
    ),
  )
  if (!parsed.ok)
    throw new Error(
      `revision ${number} of ${siteId} cannot be read: ${parsed.problems[0]!.path.join('.')} ` +
        `${parsed.problems[0]!.reason}`,
    )
  return parsed.plan
}

const read = async (at: Executor, siteId: string, number: number): Promise<SitePlan> =>
  kept.keep(
    siteId,
    number,
    (await fromKept(at, siteId, number)) ?? (await fromStored(at, siteId, number)),
  )
/** Under way, for all who want the same. */
const reading = new Map<string, Promise<SitePlan>>()

/** @throws Error where there is no such revision or it cannot be read. */
export async function planAt(at: Executor, siteId: string, number: number): Promise<SitePlan> {
  const known = kept.get(siteId, number)
  if (known) return known
  // A transaction reads with the connection that it holds: it must not wait for somebody who waits
  // for a connection.
  if (at !== db()) return read(at, siteId, number)
  const key = `${siteId}@${number}`
  const begun = reading.get(key) ?? read(at, siteId, number).finally(() => reading.delete(key))
  reading.set(key, begun)
  return begun
}

/**
 * The newest plan. Not for a transaction that has just made a revision: were that rolled back, its
 * plan would stay here.
 */
export async function planOf(
  at: Executor,
  siteId: string,
): Promise<{ revision: number; plan: SitePlan }> {
  const [site] = await at.select({ head: sites.head }).from(sites).where(eq(sites.id, siteId))
  if (!site) throw siteIsGone()
  return { revision: site.head, plan: await planAt(at, siteId, site.head) }
}
