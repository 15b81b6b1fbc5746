/**
 * What a schema cannot say of a plan: ids that agree with their keys, references that lead
 * somewhere, sockets used once. What refers to what is said by the kinds.
 */
import type { Patch as PlanPatch } from 'immer'
import { describedBy, kindOf, kinds, singles, type Top } from './kinds'
import type { Reference, Say } from './kinds/kind'
import { collections, isCollection, type Collection, type SitePlan } from './schema'

export interface PlanProblem {
  readonly path: readonly (string | number)[]
  readonly reason: string
}

/** Ids are unique over all kinds. */
export const isIdTaken = (plan: SitePlan, id: string): boolean =>
  collections.some((c) => Object.hasOwn(plan[c], id))

/** The ids that stand in an entity at a reference, with where. */
export function* idsAt(
  entity: object,
  { at, unless }: Pick<Reference<never>, 'at' | 'unless'>,
): Generator<{ path: (string | number)[]; id: string }> {
  const path = at.split('.')
  let value: unknown = entity
  for (const [n, key] of path.entries()) {
    if (key === '*') {
      for (const [i, id] of (value as string[]).entries())
        if (!unless?.(id)) yield { path: [...path.slice(0, n), i], id }
      return
    }
    if (value === null) return
    value = (value as Record<string, unknown>)[key]
  }
  if (typeof value === 'string' && !unless?.(value)) yield { path, id: value }
}

/** Kinds whose entities are plugged into sockets, each of which takes one plug. */
const plugs = kinds
  .map(({ collection, references }) => ({
    collection,
    references: references.filter((r) => r.isPlug),
  }))
  .filter((k) => k.references.length > 0)
const plugged: ReadonlySet<unknown> = new Set(plugs.map((p) => p.collection))

function socketsUsedOnce(plan: SitePlan, say: Say): void {
  const inUse = new Map<string, { collection: Collection; id: string }>()
  for (const { collection, references } of plugs)
    for (const [id, entity] of Object.entries(plan[collection]))
      for (const reference of references)
        for (const { path, id: portId } of idsAt(entity, reference)) {
          const other = inUse.get(portId)
          if (other && !(reference.isPlug === 'beside its kind' && other.collection === collection))
            say(
              [collection, id, ...path],
              `the port '${portId}' has the ${kindOf(other.collection).word} '${other.id}' in it already`,
            )
          inUse.set(portId, { collection, id })
        }
}

function idUsedOnce(plan: SitePlan, collection: Collection, id: string, say: Say): void {
  const own = plan[collection][id]!.id
  if (own !== id) say([collection, id, 'id'], `the id '${own}' differs from its key '${id}'`)
  const other = collections
    .slice(0, collections.indexOf(collection))
    .find((c) => Object.hasOwn(plan[c], id))
  if (other) say([collection, id], `the id '${id}' is used by a ${kindOf(other).word} already`)
}

function referencesLead(
  plan: SitePlan,
  entity: object,
  references: readonly Reference<never>[],
  at: readonly string[],
  say: Say,
): void {
  for (const reference of references)
    for (const { path, id } of idsAt(entity, reference))
      if (!reference.to.some((c) => Object.hasOwn(plan[c as Collection], id)))
        say([...at, ...path], `there is no ${oneOf(reference.to)} '${id}'`)
}
const oneOf = (to: readonly string[]): string => {
  const words = to.map((c) => kindOf(c as Collection).word)
  return words.length === 1 ? words[0]! : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`
}

/** Looks at the entities that are given, and at the sockets and the single parts where asked. */
function problemsOf(
  plan: SitePlan,
  idsOf: (c: Collection) => Iterable<string>,
  isTouched: (top: Top) => boolean,
): PlanProblem[] {
  const problems: PlanProblem[] = []
  const say: Say = (path, reason) => void problems.push({ path, reason })
  for (const collection of collections) {
    const { references, check } = kindOf(collection)
    const entities = plan[collection] as Record<string, object>
    for (const id of idsOf(collection)) {
      idUsedOnce(plan, collection, id, say)
      const entity = entities[id]!
      referencesLead(plan, entity, references, [collection, id], say)
      check?.(entity as never, plan as never, (path, reason) =>
        say([collection, id, ...path], reason),
      )
    }
  }
  if (collections.some((c) => plugged.has(c) && isTouched(c))) socketsUsedOnce(plan, say)
  for (const { top, references } of singles)
    if (isTouched(top)) referencesLead(plan, plan[top], references, [top], say)
  return problems
}

export const referenceProblems = (plan: SitePlan): PlanProblem[] =>
  problemsOf(
    plan,
    (c) => Object.keys(plan[c]),
    () => true,
  )

/** Collections whose entities something refers to. */
const referred: ReadonlySet<unknown> = new Set(
  [...kinds, ...singles].flatMap((k) => k.references.flatMap((r) => r.to)),
)
const isDeciding = (top: unknown, field: unknown): boolean =>
  isCollection(top) && kindOf(top).deciding.includes(String(field))

/**
 * The same for a plan that differs from one without problems only by these patches. Where something
 * goes that others may refer to, or what devices are made of changes, that is the whole plan; else
 * it is what the patches touch.
 */
export function referenceProblemsAfter(
  plan: SitePlan,
  patches: readonly PlanPatch[],
): PlanProblem[] {
  const touched = new Map<unknown, Set<string>>()
  for (const {
    op,
    path: [top, id, field],
  } of patches) {
    const isWide =
      isCollection(top) &&
      (field === undefined
        ? op === 'replace' || (op === 'remove' && referred.has(top))
        : field === 'id' || isDeciding(top, field))
    if (isWide || describedBy(top) === undefined) return referenceProblems(plan)
    // A new id may stand elsewhere already. (Of a single part the second key is a field.)
    const at =
      isCollection(top) && field === undefined && op === 'add'
        ? collections.filter((c) => c === top || Object.hasOwn(plan[c], String(id)))
        : [top]
    for (const c of at) touched.set(c, (touched.get(c) ?? new Set()).add(String(id)))
  }
  return problemsOf(
    plan,
    (c) => [...(touched.get(c) ?? [])].filter((id) => Object.hasOwn(plan[c], id)),
    (top) => touched.has(top),
  )
}
