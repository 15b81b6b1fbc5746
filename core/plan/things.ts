/**
 * What a patch touches, in pieces that two people can change apart. Fields that only make sense
 * together (a subnet with its gateway
 * and pool, the tags of a port) are one thing; adding or removing an entity touches all of it.
 */
import type { PlanPatch } from './edit'
import { describedBy } from './kinds'
import { own } from './inherited'

export interface Thing {
  /** A collection of the plan, `site` or `controller`. */
  readonly top: string
  /** Of the entity; empty for `site` and `controller`. */
  readonly id: string
  /** A field or a group of fields; `*` is the whole entity. */
  readonly part: string
}

export function thingOf(path: readonly (string | number)[]): Thing {
  const [top, ...rest] = path.map(String) as [string, ...string[]]
  const described = describedBy(top)
  const isKind = described !== undefined && 'collection' in described
  const id = isKind ? rest.shift()! : ''
  const [field, within] = rest
  if (field === undefined || (isKind && described.isOneStatement)) return { top, id, part: '*' }
  if (within !== undefined && described?.apart.includes(field))
    return { top, id, part: `${field}.${within}` }
  return { top, id, part: (isKind && own(described.together, field)) || field }
}

const sameThing = (a: Thing, b: Thing): boolean =>
  a.top === b.top &&
  a.id === b.id &&
  (a.part === b.part ||
    a.part === '*' ||
    b.part === '*' ||
    a.part.startsWith(`${b.part}.`) ||
    b.part.startsWith(`${a.part}.`))

export const thingKey = (t: Thing): string => `${t.top}/${t.id}/${t.part}`

export function thingsOf(patches: readonly PlanPatch[]): Thing[] {
  const all = new Map<string, Thing>()
  for (const p of patches) {
    const thing = thingOf(p.path)
    all.set(thingKey(thing), thing)
  }
  return [...all.values()]
}

/** The things of the first list that the second touches too. */
export function shared(mine: readonly Thing[], theirs: readonly Thing[]): Thing[] {
  const byEntity = new Map<string, Thing[]>()
  for (const t of theirs) {
    const key = `${t.top}/${t.id}`
    const list = byEntity.get(key)
    if (list) list.push(t)
    else byEntity.set(key, [t])
  }
  return mine.filter((m) => byEntity.get(`${m.top}/${m.id}`)?.some((t) => sameThing(m, t)))
}
