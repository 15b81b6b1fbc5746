/**
 * Plan revisions: their history, and saving changes on top of the newest one whatever they were
 * made on.
 */
import type { ReplySent, saveChanges, SaveGiven } from '@mast/api'
import { and, asc, desc, eq, gt, inArray, lt, sql } from 'drizzle-orm'
import {
  mergeChanges,
  type Change,
  type PlanPatch,
  type SitePlan,
  type RevisionSince,
} from '@mast/core/plan'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, inventory, log, prefixes, revisions, sites } from '../db/schema'
import { endLostClaims } from '../adoption/devices'
import { notify } from '../live/notices'
import { Refused, siteIsGone } from '../refusal'
import { planAt, planOf, remember, stored } from './plans'
import { inThread } from '../work/workers'
import { inTurn } from './turns'

/** The account's name, or the name that a file gave. */
const authorOf = sql<string | null>`coalesce(${accounts.name}, ${revisions.authorName})`

/** Newest first, from before a number on. */
export async function historyOf(siteId: string, limit: number, before = 2 ** 31 - 1) {
  return db()
    .select({
      number: revisions.number,
      summary: revisions.summary,
      author: authorOf,
      at: revisions.at,
    })
    .from(revisions)
    .leftJoin(accounts, eq(accounts.id, revisions.authorId))
    .where(and(eq(revisions.siteId, siteId), lt(revisions.number, before)))
    .orderBy(desc(revisions.number))
    .limit(limit)
}

/** What was saved after a revision, oldest first, with its patches. */
export async function revisionsSince(
  at: Executor,
  siteId: string,
  number: number,
): Promise<RevisionSince[]> {
  const rows = await at
    .select({
      number: revisions.number,
      changeId: revisions.changeId,
      summary: revisions.summary,
      author: authorOf,
      patches: revisions.patches,
    })
    .from(revisions)
    .leftJoin(accounts, eq(accounts.id, revisions.authorId))
    .where(and(eq(revisions.siteId, siteId), gt(revisions.number, number)))
    .orderBy(asc(revisions.number))
  return rows
}

/**
 * Whether a site has a revision, saved at that moment. Of a server that was set back to an earlier
 * state, another may bear its number by now.
 */
export async function isInHistory(
  on: Executor,
  siteId: string,
  number: number,
  moment: string | undefined,
): Promise<boolean> {
  const [row] = await on
    .select({ at: revisions.at })
    .from(revisions)
    .where(and(eq(revisions.siteId, siteId), eq(revisions.number, number)))
  return row !== undefined && (moment === undefined || row.at.toISOString() === moment)
}

/** The newest revision and when it was saved. */
export async function headOf(
  on: Executor,
  siteId: string,
): Promise<{ revision: number; at: Date }> {
  const [row] = await on
    .select({ revision: revisions.number, at: revisions.at })
    .from(sites)
    .innerJoin(revisions, and(eq(revisions.siteId, sites.id), eq(revisions.number, sites.head)))
    .where(eq(sites.id, siteId))
  return row!
}

interface NewRevision {
  readonly number: number
  readonly plan: SitePlan
  readonly patches: readonly PlanPatch[]
  readonly inverse: readonly PlanPatch[]
  readonly summary: string
  readonly changeId: string | null
}

/** Gives when it was saved. @param before the plan that it follows; null for the first */
export async function createRevision(
  at: Executor,
  siteId: string,
  before: SitePlan | null,
  r: NewRevision,
  authorId: string | null,
  /** Who it was where that is no account. */
  authorName: string | null = null,
): Promise<Date> {
  const { number, plan, patches, inverse, summary, changeId } = r
  const [previous] = await at
    .select({ version: revisions.version })
    .from(revisions)
    .where(and(eq(revisions.siteId, siteId), eq(revisions.number, number - 1)))
  const [row] = await at
    .insert(revisions)
    .values({
      siteId,
      number,
      ...stored(number, plan, previous?.version ?? null),
      patches,
      inverse,
      summary,
      authorId,
      authorName,
      changeId,
    })
    .returning({ at: revisions.at })
  await at
    .update(sites)
    .set({ head: number, name: plan.site.name, ...doneByClock(plan) })
    .where(eq(sites.id, siteId))
  await at.insert(log).values({
    ...{ siteId, accountId: authorId, what: `Revision ${number}: ${summary}` },
    ...(authorName === null ? {} : { who: authorName }),
  })
  if (before?.devices !== plan.devices) {
    await listInventory(at, siteId, plan)
    if (before) await endLostClaims(at, siteId, plan)
  }
  if (
    before?.segments !== plan.segments ||
    before?.uplinks !== plan.uplinks ||
    before?.knownNetworks !== plan.knownNetworks
  )
    await listPrefixes(at, siteId, plan)
  await notify(at, { site: siteId, topic: 'plan', revision: number })
  return row!.at
}

/** When channels of a site are planned anew and its devices backed up; nulls where they are not. */
export const doneByClock = ({
  site: { wireless, timeZone, management },
}: SitePlan): Pick<typeof sites.$inferInsert, 'backupEveryDays' | 'replanMinute' | 'timeZone'> => ({
  backupEveryDays: management.backupEveryDays,
  replanMinute: wireless.channels === 'nightly' ? wireless.replanMinute : null,
  timeZone,
})

export async function listInventory(at: Executor, siteId: string, plan: SitePlan): Promise<void> {
  await at.delete(inventory).where(eq(inventory.siteId, siteId))
  const rows = Object.values(plan.devices).map((d) => ({
    siteId,
    deviceId: d.id,
    name: d.name,
    profileId: d.profileId,
    serial: d.serial,
    hardwareAddress: d.hardwareAddress,
  }))
  for (let i = 0; i < rows.length; i += 1000)
    await at.insert(inventory).values(rows.slice(i, i + 1000))
}

export async function listPrefixes(at: Executor, siteId: string, plan: SitePlan): Promise<void> {
  await at.delete(prefixes).where(eq(prefixes.siteId, siteId))
  const rows: (typeof prefixes.$inferInsert)[] = []
  const add = (entityId: string, kind: string, name: string, network: string | null): void => {
    if (network) rows.push({ siteId, entityId, kind, name, network })
  }
  for (const s of Object.values(plan.segments)) {
    add(s.id, 'segment', s.name, s.subnet)
    add(s.id, 'segment', s.name, s.subnet6)
  }
  for (const u of Object.values(plan.uplinks))
    if (u.handOff.providerLan !== 'none')
      add(u.id, 'provider', `LAN of ${u.name}`, u.handOff.providerLan)
  for (const n of Object.values(plan.knownNetworks)) add(n.id, n.kind, n.name, n.prefix)
  for (let i = 0; i < rows.length; i += 1000)
    await at.insert(prefixes).values(rows.slice(i, i + 1000))
}

/**
 * The newest plan with its last revisions, and what was saved after a revision that the asker has;
 * null where the history does not have that one, since the server was set back.
 */
export async function siteSince(siteId: string, since: number | undefined, moment?: string) {
  const { plan, revision } = await planOf(db(), siteId)
  const missed = async (number: number): Promise<RevisionSince[] | null> =>
    (await isInHistory(db(), siteId, number, moment))
      ? (await revisionsSince(db(), siteId, number)).filter((r) => r.number <= revision)
      : null
  return {
    revision,
    plan,
    revisions: await historyOf(siteId, SHOWN),
    since: since === undefined ? [] : await missed(since),
  }
}
const SHOWN = 30

type Saved = ReplySent<typeof saveChanges>

/**
 * Saves changes in order, each a revision, all of them or none. Those that were saved before (their
 * answer was lost on the way) are not saved again.
 * The row of the site is locked meanwhile, so that the numbers have no gaps and nobody merges with
 * half of somebody's work; within this process saves of a
 * site take turns before they take a connection, so that a busy site leaves the others theirs.
 */
export function save(siteId: string, given: SaveGiven, authorId: string): Promise<Saved> {
  return inTurn(siteId, () =>
    isHeavy(given)
      ? inThread(
          'save',
          { siteId, given, accountId: authorId },
          { accountId: authorId, maxMs: SAVE_MS },
        )
      : saveNow(siteId, given, authorId),
  )
}

/**
 * Each change is done twice, on its base and on the newest plan; many, or long ones, are no matter
 * for the event loop.
 */
const HEAVY_CHANGES = 24
const HEAVY_PATCHES = 500
/** What an edit takes beside a patch. */
const EDIT_PATCHES = 10
const SAVE_MS = 30_000
const isHeavy = ({ changes }: SaveGiven): boolean =>
  changes.length > HEAVY_CHANGES ||
  changes.reduce(
    (n, c) =>
      n +
      (c.kind === 'patches'
        ? c.patches.length
        : c.kind === 'edits'
          ? c.edits.length * EDIT_PATCHES
          : 0),
    0,
  ) > HEAVY_PATCHES

/**
 * Without waiting for a turn; what a thread does of it. `merged` tells that there were revisions
 * after the base: somebody else's, or ours whose answer was lost.
 * @throws Refused where the base is of another history, where somebody else changed the same, or
 * where a change cannot be done
 */
export async function saveNow(
  siteId: string,
  { base, baseAt, changes }: SaveGiven,
  authorId: string,
): Promise<Saved> {
  let newest: { number: number; plan: SitePlan } | undefined
  const outcome = await inTransaction(async (tx): Promise<Saved> => {
    const [site] = await tx
      .select({ head: sites.head })
      .from(sites)
      .where(eq(sites.id, siteId))
      .for('no key update')
    if (!site) throw siteIsGone()
    const { head } = site
    if (!(await isInHistory(tx, siteId, base, baseAt)))
      throw new Refused(
        'out-of-turn',
        `revision ${base} is not in the history of this site: the server was set back to an ` +
          'earlier state',
        { revision: head, conflicts: [] },
      )
    const headPlan = await planAt(tx, siteId, head)
    const basePlan = base < head ? await planAt(tx, siteId, base) : headPlan
    const there = await tx
      .select({
        changeId: revisions.changeId,
        number: revisions.number,
        summary: revisions.summary,
        at: revisions.at,
      })
      .from(revisions)
      .where(
        and(
          eq(revisions.siteId, siteId),
          inArray(
            revisions.changeId,
            changes.map((c) => c.id),
          ),
        ),
      )
    const saved = new Map(there.map((r) => [r.changeId!, r]))
    const since = base < head ? await revisionsSince(tx, siteId, base) : []
    // What was saved of this very batch since its base is ours, not theirs: the rest of it builds
    // on that. What was saved before is in the base.
    const isOpen = (c: Change): boolean => (saved.get(c.id)?.number ?? Infinity) > base
    const merge = mergeChanges(basePlan, headPlan, since, changes.filter(isOpen))
    const [refused] = merge.refused
    if (refused)
      throw new Refused('not-possible', refused.problems[0]!.reason, {
        changeId: refused.changeId,
        problems: [...refused.problems],
      })
    if (merge.conflicts.length > 0)
      throw new Refused('out-of-turn', `somebody else changed the same since revision ${base}`, {
        revision: head,
        conflicts: [...merge.conflicts],
      })
    let before = headPlan
    let number = head
    const made = there.map((r) => ({ ...r, changeId: r.changeId! }))
    for (const step of merge.steps) {
      const at = await createRevision(tx, siteId, before, { ...step, number: ++number }, authorId)
      before = step.plan
      made.push({ number, summary: step.summary, changeId: step.changeId, at })
    }
    newest = { number, plan: before }
    return { revision: number, merged: since.length > 0, made }
  })
  if (newest) remember(siteId, newest.number, newest.plan)
  return outcome
}
