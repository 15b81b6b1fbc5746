/** Values and fields of a plan in words, for histories and conflicts. */
import { own } from './inherited'
import { isCollection, kindOf, kinds, singles, type Collection } from './kinds'
import type { Kind } from './kinds/kind'
import type { SitePlan } from './schema'

const fieldWords: Readonly<Record<string, string>> = Object.assign(
  {},
  ...[...kinds, ...singles].map((k) => k.fieldWords),
)
export const wordsForTop = (top: string): string => (isCollection(top) ? kindOf(top).word : top)
export const wordsForField = (field: string): string =>
  field
    .split('.')
    .map((f) => own(fieldWords, f) ?? f)
    .join(', ')

/** The name of whatever has an id, in a plan or the id where nothing has. */
export function nameOfId(plan: SitePlan, id: string): string {
  for (const { collection, nameOf } of kinds as readonly Kind[]) {
    const entity = own(plan[collection as Collection] as Record<string, { name?: string }>, id)
    if (!entity) continue
    if (nameOf) return nameOf(entity as never, plan as never, (other) => nameOfId(plan, other))
    if (entity.name) return entity.name
  }
  return id
}

/** A value as a person would say it: names for ids, spans with a dash, `none` for nothing. */
export function valueWords(plan: SitePlan, value: unknown): string {
  if (value === null || value === undefined) return 'none'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(value)
  if (typeof value === 'string') return value === '' ? 'none' : nameOfId(plan, value)
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : value.map((v) => valueWords(plan, v)).join(', ')
  const fields = value as Record<string, unknown>
  if (typeof fields.first === 'string' && typeof fields.last === 'string')
    return `${fields.first}-${fields.last}`
  return (
    Object.entries(fields)
      .filter(([k, v]) => k !== 'id' && v !== null && !(Array.isArray(v) && v.length === 0))
      .map(([k, v]) => `${wordsForField(k)} ${valueWords(plan, v)}`)
      .join('; ') || 'none'
  )
}
