/**
 * Two lines of work on one plan brought together. Changes that touch other things than those saved
 * meanwhile are done again on the
 * newest plan; the others come back as conflicts for a person. What somebody else saved is never
 * written over by a merge.
 */
import type { PlanPatch } from './edit'
import { own } from './inherited'
import { runChange, type Change } from './change'
import type { PlanProblem } from './references'
import type { SitePlan } from './schema'
import { shared, thingsOf, type Thing } from './things'

/**
 * A revision that was saved since the base, by somebody else or, where its answer was lost on the
 * way, by us.
 */
export interface RevisionSince {
  readonly number: number
  /** The change it was made of; null where none was sent. */
  readonly changeId: string | null
  readonly summary: string
  readonly author: string | null
  readonly patches: readonly PlanPatch[]
}

export interface MergedStep {
  readonly changeId: string
  readonly plan: SitePlan
  readonly patches: PlanPatch[]
  readonly inverse: PlanPatch[]
  readonly summary: string
}

export interface ConflictThing extends Thing {
  /** Values before both, in ours and in theirs; undefined where the thing is not there. */
  readonly before: unknown
  readonly mine: unknown
  readonly theirs: unknown
}

export interface Conflict {
  readonly changeId: string
  /** What the change does, in words. */
  readonly summary: string
  readonly things: readonly ConflictThing[]
  /** Revisions that touch the same, newest last. */
  readonly by: readonly Pick<RevisionSince, 'number' | 'summary' | 'author'>[]
  /** Why it cannot be done on their plan; null where it could be. */
  readonly reason: string | null
}

export interface Merge {
  /** The newest plan with every change that could be merged. */
  readonly plan: SitePlan
  readonly steps: readonly MergedStep[]
  readonly conflicts: readonly Conflict[]
  /** Changes that are not possible even on their own base. */
  readonly refused: readonly {
    readonly changeId: string
    readonly problems: readonly PlanProblem[]
  }[]
}

const bare = ({ number, summary, author }: RevisionSince): Conflict['by'][number] => ({
  number,
  summary,
  author,
})

/** Ids of the changes that are among the revisions: saved, though the answer may have been lost. */
const savedOf = (since: readonly RevisionSince[], changes: readonly Change[]): Set<string> => {
  const made = new Set(since.map((r) => r.changeId))
  return new Set(changes.map((c) => c.id).filter((id) => made.has(id)))
}
/** The revisions that are not of these changes. */
export const othersOf = (
  since: readonly RevisionSince[],
  changes: readonly Change[],
): readonly RevisionSince[] => {
  const saved = savedOf(since, changes)
  return since.filter((r) => r.changeId === null || !saved.has(r.changeId))
}

/**
 * @param base the plan that the changes were made on
 * @param head the newest plan
 * @param since the revisions between the two, in order
 * @param changes ours, in order; those that were saved before stay among them, since the others
 * build on them
 */
export function mergeChanges(
  base: SitePlan,
  head: SitePlan,
  since: readonly RevisionSince[],
  changes: readonly Change[],
): Merge {
  const saved = savedOf(since, changes)
  const revisions = othersOf(since, changes).map((revision) => ({
    revision,
    things: thingsOf(revision.patches),
  }))
  const touchedByThem = revisions.flatMap((r) => r.things)
  /**
   * Things of changes that are held back; what builds on them has to wait for the same decision.
   */
  const held: Thing[] = []
  const steps: MergedStep[] = []
  const conflicts: Conflict[] = []
  const refused: { changeId: string; problems: readonly PlanProblem[] }[] = []
  let mine = base
  let plan = head
  for (const change of changes) {
    const onBase = runChange(mine, change)
    if (saved.has(change.id)) {
      if (onBase.ok) mine = onBase.plan
      continue
    }
    if (!onBase.ok) {
      // It may build on something that only their plan has.
      const onHead = runChange(plan, change)
      if (!onHead.ok) {
        refused.push({ changeId: change.id, problems: onBase.problems })
        continue
      }
      const met = shared(thingsOf(onHead.patches), [...touchedByThem, ...held])
      if (met.length > 0) {
        refused.push({ changeId: change.id, problems: onBase.problems })
        continue
      }
      plan = onHead.plan
      steps.push({ ...onHead, changeId: change.id })
      continue
    }
    const before = mine
    mine = onBase.plan
    if (onBase.patches.length === 0) continue
    const meant = thingsOf(onBase.patches)
    // Where nothing of theirs and nothing held back lies between, both are the same plan.
    const onHead = before === plan ? onBase : runChange(plan, change)
    const reached = onHead.ok ? thingsOf(onHead.patches) : []
    const met = uniqueThings([
      ...shared(meant, [...touchedByThem, ...held]),
      ...shared(reached, [...touchedByThem, ...held]),
    ])
    if (onHead.ok && met.length === 0) {
      if (onHead.patches.length > 0) steps.push({ ...onHead, changeId: change.id })
      plan = onHead.plan
      continue
    }
    held.push(...meant)
    const about = met.length > 0 ? met : meant
    conflicts.push({
      changeId: change.id,
      summary: onBase.summary,
      reason: onHead.ok ? null : onHead.problems[0]!.reason,
      by: revisions.filter((r) => shared(r.things, about).length > 0).map((r) => bare(r.revision)),
      things: about.map((t) => ({
        ...t,
        before: valueOf(before, t),
        mine: valueOf(mine, t),
        theirs: valueOf(head, t),
      })),
    })
  }
  return { plan, steps, conflicts, refused }
}

function uniqueThings(things: readonly Thing[]): Thing[] {
  return [...new Map(things.map((t) => [`${t.top}/${t.id}/${t.part}`, t])).values()]
}

/** The fields of a group, by the name of the group. */
const fieldsOf: Readonly<Record<string, readonly string[]>> = {
  'segments/addresses': ['subnet', 'gateway', 'fixedBlock', 'pools'],
  'ports/VLANs': ['untaggedSegmentId', 'taggedSegmentIds'],
  'links/ends': ['a', 'b'],
  'devices/address': ['addressing'],
}

/** The value of a thing in a plan; a group is an object of its fields. */
export function valueOf(plan: SitePlan, { top, id, part }: Thing): unknown {
  const root = (plan as unknown as Record<string, unknown>)[top]
  const entity = id === '' ? root : (root as Record<string, unknown> | undefined)?.[id]
  if (entity === undefined || part === '*') return entity
  const group = own(fieldsOf, `${top}/${part}`)
  if (group)
    return Object.fromEntries(group.map((f) => [f, (entity as Record<string, unknown>)[f]]))
  return part
    .split('.')
    .reduce<unknown>((value, key) => (value as Record<string, unknown> | undefined)?.[key], entity)
}
