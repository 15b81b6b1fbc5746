/** Ids of what is added: readable, and not taken by anything of any kind. */
import { isInherited } from './inherited'
import { collections } from './kinds'
import { isIdTaken } from './references'
import type { SitePlan } from './schema'

/** What is left of a name in an id, characters; ids may be longer, for the number behind it. */
const LONGEST = 40
/** The internet is a place of its own in rules. */
const PLACES: ReadonlySet<string> = new Set(['internet'])

/**
 * A readable id from a name that is not taken: "Quay AP 1" -> `quay-ap-1`. Names that objects of
 * the language have of themselves get a number too.
 */
export function idFor(name: string, taken: { has(id: string): boolean }): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, LONGEST)
    .replace(/-$/, '')
  const base = /^[a-z]/.test(plain) ? plain : `d-${plain}`.replace(/-$/, '')
  const isFree = (id: string): boolean => !taken.has(id) && !isInherited(id) && !PLACES.has(id)
  if (isFree(base)) return base
  let n = 2
  while (!isFree(`${base}-${n}`)) n++
  return `${base}-${n}`
}

/** The same for something that is added to a plan: ids are unique over all kinds. */
export const newId = (plan: SitePlan, name: string): string =>
  idFor(name, { has: (id) => isIdTaken(plan, id) })

/** Every id of a plan, to be added to where several are made at once. */
export const idsOf = (plan: SitePlan): Set<string> =>
  new Set(collections.flatMap((c) => Object.keys(plan[c])))
