/**
 * Values made from schemas: what they allow, what they nearly allow, and what nobody should send.
 */
import { z } from 'zod'
import type { Chance } from '@mast/core/generator'

type Json = Record<string, unknown>

/** What breaks programs that did not think of it. */
const hostile: readonly unknown[] = [
  null,
  true,
  -1,
  0,
  1.5,
  2 ** 31,
  2 ** 53,
  -(2 ** 63),
  1e308,
  '',
  ' ',
  '\u0000',
  'a\u0000b',
  '\ud800',
  '\udfff\ud800',
  'constructor',
  '__proto__',
  'toString',
  'hasOwnProperty',
  'length',
  '-',
  '..',
  '../../etc/passwd',
  '%00',
  '%2e%2e',
  `'; drop table log; --`,
  '$1',
  '{{7*7}}',
  '<script>x()</script>',
  '=1+1',
  '\u202egnp.exe',
  'x'.repeat(5000),
  '9999-12-31T23:59:59Z',
  '0000-01-01T00:00:00Z',
  '2026-02-30T00:00:00Z',
  '999.999.999.999',
  '0.0.0.0/0',
  '::1/129',
  '1e9',
  [],
  {},
  [[[[[[[[[[]]]]]]]]]],
  { constructor: { prototype: { x: 1 } } },
  JSON.parse('{"__proto__":{"x":1}}'),
  Array.from({ length: 300 }, (_, i) => i),
  Infinity,
  NaN,
]

const known = new WeakMap<z.ZodType, Json>()
function jsonSchemaOf(schema: z.ZodType): Json {
  const made =
    known.get(schema) ??
    (z.toJSONSchema(schema, {
      unrepresentable: 'any',
      io: 'input',
      reused: 'inline',
      cycles: 'ref',
    }) as Json)
  known.set(schema, made)
  return made
}

/** A copy with so many of its parts replaced by what nobody should send, or taken out. */
export function spoilt(value: unknown, chance: Chance, parts: number): unknown {
  const copy = structuredClone(value)
  for (let n = 0; n < parts; n++) {
    let at = copy as Json
    for (let depth = 0; depth < 12; depth++) {
      const keys = Object.keys(at)
      if (keys.length === 0) break
      const key = chance.one(keys)
      const next = at[key]
      if (typeof next === 'object' && next !== null && chance.happens(0.8)) {
        at = next as Json
        continue
      }
      if (chance.happens(0.3)) delete at[key]
      else
        Object.defineProperty(at, key, {
          value: chance.one(hostile),
          enumerable: true,
          configurable: true,
          writable: true,
        })
      break
    }
  }
  return copy
}

export interface Words {
  readonly ids: readonly string[]
  readonly texts: readonly string[]
}

/** @param wild how often something is not as the schema says, from 0 to 1 */
export function valueFor(schema: z.ZodType, chance: Chance, words: Words, wild: number): unknown {
  const { $defs, ...root } = jsonSchemaOf(schema)
  const make = (s: Json | boolean, depth: number): unknown => {
    if (typeof s === 'boolean') return chance.one(hostile)
    if (chance.happens(wild)) return chance.one(hostile)
    if (depth > 12) return null
    if (typeof s.$ref === 'string')
      return make(
        ($defs as Record<string, Json> | undefined)?.[s.$ref.split('/').at(-1)!] ?? {},
        depth + 1,
      )
    if ('const' in s) return s.const
    if (Array.isArray(s.enum)) return chance.one(s.enum)
    const options = (s.anyOf ?? s.oneOf) as Json[] | undefined
    if (options) return make(chance.one(options), depth + 1)
    if (Array.isArray(s.allOf)) return make((s.allOf as Json[])[0]!, depth + 1)
    switch (s.type) {
      case 'object': {
        const out: Json = {}
        const required = new Set((s.required as string[] | undefined) ?? [])
        for (const [key, of] of Object.entries(
          (s.properties as Record<string, Json> | undefined) ?? {},
        ))
          if (required.has(key) ? !chance.happens(wild) : chance.happens(0.5))
            Object.defineProperty(out, key, {
              value: make(of, depth + 1),
              enumerable: true,
              configurable: true,
              writable: true,
            })
        if (typeof s.additionalProperties === 'object')
          for (let n = chance.between(0, 3); n > 0; n--)
            Object.defineProperty(out, chance.one(words.ids), {
              value: make(s.additionalProperties as Json, depth + 1),
              enumerable: true,
              configurable: true,
              writable: true,
            })
        if (chance.happens(wild))
          Object.defineProperty(out, chance.one(['extra', '__proto__', 'constructor']), {
            value: chance.one(hostile),
            enumerable: true,
            configurable: true,
            writable: true,
          })
        return out
      }
      case 'array':
        return Array.from(
          {
            length: Math.max(
              (s.minItems as number | undefined) ?? 0,
              chance.between(0, Math.min(4, (s.maxItems as number | undefined) ?? 4)),
            ),
          },
          () => make((s.items as Json | undefined) ?? {}, depth + 1),
        )
      case 'integer':
      case 'number': {
        const [low, high] = [
          Math.max(-1e6, (s.minimum as number | undefined) ?? -1000),
          Math.min(1e6, (s.maximum as number | undefined) ?? 1000),
        ]
        return chance.one([
          low,
          high,
          chance.between(Math.ceil(low), Math.floor(Math.max(low, high))),
        ])
      }
      case 'boolean':
        return chance.happens(0.5)
      case 'null':
        return null
      case 'string':
        return textFor(s)
      default:
        return chance.one([chance.one(hostile), chance.one(words.ids), {}, []])
    }
  }
  /** Of the words that are known, one that fits the pattern where there is any. */
  const textFor = (s: Json): string => {
    const pattern = typeof s.pattern === 'string' ? new RegExp(s.pattern) : undefined
    const all = [...words.texts, ...words.ids]
    for (let n = 0; n < 12; n++) {
      const t = chance.one(all)
      if (!pattern || pattern.test(t))
        return t.slice(0, (s.maxLength as number | undefined) ?? 5000)
    }
    return all.find((t) => !pattern || pattern.test(t)) ?? chance.one(all)
  }
  return make(root, 0)
}

/**
 * As a body: what JSON cannot say (an infinite number, half a character) is said by escapes and
 * exponents.
 */
export const bodyOf = (value: unknown): string =>
  (
    JSON.stringify(value, (_, v: unknown) =>
      v === Infinity ? '\u0001infinite' : Number.isNaN(v) ? '\u0001none' : v,
    ) ?? 'null'
  )
    .replaceAll('"\\u0001infinite"', '1e999')
    .replaceAll('"\\u0001none"', '-0')
