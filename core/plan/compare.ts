/**
 * What differs between two plans, by entity and field, and the patches that lead from one to the
 * other.
 */
import { canonicalJson } from './canonical'
import type { PlanPatch } from './edit'
import { own } from './inherited'
import { collections, type Collection, type SitePlan } from './schema'

export interface FieldDifference {
  readonly field: string
  readonly before: unknown
  readonly after: unknown
}
export interface Difference {
  readonly top: Collection | 'site' | 'controller'
  /** Empty for `site` and `controller`. */
  readonly id: string
  readonly name: string
  readonly kind: 'added' | 'removed' | 'changed'
  /** Of a change; empty where the whole entity came or went. */
  readonly fields: readonly FieldDifference[]
}

type Fields = Record<string, unknown>
const same = (a: unknown, b: unknown): boolean =>
  a === b || canonicalJson(a ?? null) === canonicalJson(b ?? null)

function fieldDifferences(before: Fields, after: Fields): FieldDifference[] {
  const fields = new Set([...Object.keys(before), ...Object.keys(after)])
  return [...fields]
    .filter((f) => !same(before[f], after[f]))
    .map((field) => ({ field, before: before[field], after: after[field] }))
}

/** A port's name is only unique on its device, so its id stands for it. */
const nameOf = (top: Collection, entity: Fields, id: string): string =>
  typeof entity.name === 'string' && top !== 'ports' ? entity.name : id

/**
 * Keys under which two maps do not hold the very same object. Made for large maps of which nearly
 * all is the same.
 */
function differingKeys(a: Record<string, Fields>, b: Record<string, Fields>): string[] {
  const keys: string[] = []
  for (const id in b) if (a[id] !== b[id]) keys.push(id)
  for (const id in a) if (!Object.hasOwn(b, id)) keys.push(id)
  return keys
}

export function comparePlans(before: SitePlan, after: SitePlan): Difference[] {
  const out: Difference[] = []
  for (const top of ['site', 'controller'] as const) {
    const fields = fieldDifferences(before[top], after[top])
    if (fields.length > 0)
      out.push({
        top,
        id: '',
        name: top === 'site' ? 'the site' : 'the controller',
        kind: 'changed',
        fields,
      })
  }
  for (const top of collections) {
    const [a, b] = [before[top], after[top]] as [Record<string, Fields>, Record<string, Fields>]
    if (a === b) continue
    const ids = differingKeys(a, b)
    for (const id of ids.sort()) {
      const [was, is] = [own(a, id), own(b, id)]
      if (!was) out.push({ top, id, name: nameOf(top, is!, id), kind: 'added', fields: [] })
      else if (!is) out.push({ top, id, name: nameOf(top, was, id), kind: 'removed', fields: [] })
      else {
        const fields = fieldDifferences(was, is)
        if (fields.length > 0)
          out.push({ top, id, name: nameOf(top, is, id), kind: 'changed', fields })
      }
    }
  }
  return out
}

/** Patches, by whole fields, that make the first plan the second. */
export function patchesBetween(before: SitePlan, after: SitePlan): PlanPatch[] {
  return comparePlans(before, after).flatMap((d): PlanPatch[] => {
    const root = after[d.top] as unknown as Record<string, Fields>
    if (d.kind === 'removed') return [{ op: 'remove', path: [d.top, d.id] }]
    if (d.kind === 'added') return [{ op: 'add', path: [d.top, d.id], value: root[d.id] }]
    return d.fields.map(({ field, after: value }) => ({
      op: 'replace',
      path: d.id === '' ? [d.top, field] : [d.top, d.id, field],
      value,
    }))
  })
}
