/**
 * Edits: named pure functions from plan to plan. One application yields the patches and the inverse
 * patches (RFC 6902
 * in spirit, with paths as arrays), from which undo, redo, the revision history and the server's
 * merge all come.
 */
import { enablePatches, freeze, produceWithPatches, type Draft } from 'immer'
import type { z } from 'zod'
import { applyPatches, namesInherited, PatchRefused, type PlanPatch } from './patches'
import { sizeProblems } from './limits'
import { referenceProblems, referenceProblemsAfter, type PlanProblem } from './references'
import { collections, describedBy, type Collection } from './kinds'
import type { SitePlan } from './schema'

enablePatches()

export type { PlanPatch } from './patches'
/** An edit as it comes from elsewhere: whether there is one of that name is still to be seen. */
export interface RawEdit {
  readonly name: string
  readonly args: unknown
}

export interface EditDefinition<Name extends string = string, In = unknown, Out = In> {
  readonly name: Name
  readonly args: z.ZodType<Out, In>
  /** Changes the draft. @throws EditRefused where the plan does not allow it. */
  apply(draft: Draft<SitePlan>, args: Out): void
  /** What the edit does, for the history: "Move the pool of Visitors to 10.2.90.50-10.2.90.199". */
  describe(plan: SitePlan, args: Out): string
}

/** Thrown by an edit that cannot be done; the message says what to do instead. */
export class EditRefused extends Error {}

export type EditOutcome =
  | { ok: true; plan: SitePlan; patches: PlanPatch[]; inverse: PlanPatch[]; summary: string }
  | { ok: false; problems: PlanProblem[] }

export const defineEdit = <const Name extends string, In, Out>(
  definition: EditDefinition<Name, In, Out>,
): EditDefinition<Name, In, Out> => definition

export function runEdit<In, Out>(
  plan: SitePlan,
  definition: EditDefinition<string, In, Out>,
  rawArgs: unknown,
): EditOutcome {
  const args = definition.args.safeParse(rawArgs)
  if (!args.success)
    return {
      ok: false,
      problems: args.error.issues.map((i) => ({
        path: ['args', ...(i.path as (string | number)[])],
        reason: i.message,
      })),
    }
  try {
    const summary = definition.describe(plan, args.data)
    const [next, patches, inverse] = produceWithPatches(plan, (draft) => {
      definition.apply(draft, args.data)
    })
    const problems = touchedProblems(plan, next, patches)
    return problems.length > 0
      ? { ok: false, problems }
      : { ok: true, plan: next, patches, inverse, summary }
  } catch (error) {
    if (error instanceof EditRefused)
      return { ok: false, problems: [{ path: [], reason: error.message }] }
    throw error
  }
}

/** Applies patches (an undo, a redo, somebody else's edit) with the same checks as an edit. */
export function runPatches(
  plan: SitePlan,
  patches: readonly PlanPatch[],
  summary: string,
): EditOutcome {
  const strange = patches.find(namesInherited)
  if (strange)
    return { ok: false, problems: [{ path: strange.path, reason: 'a plan has no such part' }] }
  try {
    const { document, patches: forward, inverse } = applyPatches(plan, patches)
    const next = document as SitePlan
    const problems = touchedProblems(plan, next, forward)
    return problems.length > 0
      ? { ok: false, problems }
      : { ok: true, plan: next, patches: forward, inverse, summary }
  } catch (error) {
    if (error instanceof PatchRefused)
      return {
        ok: false,
        problems: [{ path: [], reason: 'what this step changes is no longer there' }],
      }
    throw error
  }
}

/**
 * Applies patches that were checked when they were made, to the document that they were made for,
 * of whatever version.
 * @throws PatchRefused where they do not fit it.
 */
export const replayPatches = (document: object, patches: readonly PlanPatch[]): object =>
  applyPatches(document, patches).document

const NO_PATCH = 'this part of a plan cannot be replaced by a patch'

/** Plans without problems that can no longer change. */
const sound = new WeakSet<SitePlan>()

/**
 * Validates the entities that the patches touched, then the references: those of the whole where
 * the plan before was not found sound yet.
 */
function touchedProblems(
  before: SitePlan,
  plan: SitePlan,
  patches: readonly PlanPatch[],
): PlanProblem[] {
  const problems: PlanProblem[] = []
  const seen = new Set<string>()
  for (const { path } of patches) {
    const [top, id] = path
    const key = `${top}/${id}`
    if (seen.has(key)) continue
    seen.add(key)
    const check = (schema: z.ZodType, value: unknown, at: (string | number)[]): void => {
      for (const issue of schema.safeParse(value).error?.issues ?? [])
        problems.push({
          path: [...at, ...(issue.path as (string | number)[])],
          reason: issue.message,
        })
    }
    const described = describedBy(top)
    if (!described) problems.push({ path, reason: NO_PATCH })
    else if ('top' in described)
      check(described.schema, plan[described.top as 'site'], [described.top])
    else if (typeof id !== 'string') problems.push({ path, reason: NO_PATCH })
    else {
      const entities = plan[described.collection as Collection]
      if (Object.hasOwn(entities, id))
        check(described.schema, entities[id], [described.collection, id])
    }
  }
  // What grew may have grown too large; what only changed has not.
  const grown = collections.filter(
    (c) =>
      plan[c] !== before[c] &&
      (c === 'ports' || Object.keys(plan[c]).length > Object.keys(before[c]).length),
  )
  if (problems.length === 0 && grown.length > 0) problems.push(...sizeProblems(plan, grown))
  if (problems.length === 0)
    problems.push(
      ...(sound.has(before) ? referenceProblemsAfter(plan, patches) : referenceProblems(plan)),
    )
  if (problems.length === 0) {
    for (const part of Object.values(plan)) freeze(part, true)
    sound.add(Object.freeze(plan))
  }
  return problems
}
