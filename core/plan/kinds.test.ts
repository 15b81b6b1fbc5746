import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import { kinds, singles } from './kinds'

/** The schema at a field of a schema, through what may be null. */
function within(schema: z.ZodType, key: string): z.ZodType | undefined {
  let at = schema as unknown as {
    unwrap?: () => z.ZodType
    shape?: Record<string, z.ZodType>
    element?: z.ZodType
  }
  while (at.unwrap && !at.shape && !at.element) at = at.unwrap() as unknown as typeof at
  return key === '*' ? at.element : at.shape?.[key]
}
const at = (schema: z.ZodType, path: string): z.ZodType | undefined =>
  path.split('.').reduce<z.ZodType | undefined>((s, key) => s && within(s, key), schema)

describe('what is said of each kind', () => {
  const all = [...kinds, ...singles]
  it.each(all.map((k) => ['collection' in k ? k.collection : k.top, k] as const))(
    'of %s speaks of fields that there are',
    (_, kind) => {
      const collections = kinds.map((k) => k.collection as string)
      for (const r of kind.references) {
        expect(at(kind.schema, r.at), r.at).toBeDefined()
        expect(r.whenGone === 'drop', r.at).toBe(r.at.endsWith('.*'))
        expect(collections).toEqual(expect.arrayContaining([...r.to]))
      }
      for (const field of kind.apart) expect(at(kind.schema, field), field).toBeDefined()
      if (!('collection' in kind)) return
      const fields = [...Object.keys(kind.blank), ...Object.keys(kind.together), ...kind.deciding]
      for (const field of fields) expect(at(kind.schema, field), field).toBeDefined()
      // What is said of a new one is what such a field takes.
      for (const [field, value] of Object.entries(kind.blank))
        expect(at(kind.schema, field)!.safeParse(value).error, field).toBeUndefined()
    },
  )
  it('has one word for a field, wherever it stands', () => {
    const seen = new Map<string, string>()
    for (const k of all)
      for (const [field, word] of Object.entries(k.fieldWords)) {
        expect(seen.get(field) ?? word, field).toBe(word)
        seen.set(field, word)
      }
  })
})
