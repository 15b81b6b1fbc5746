/** What stayed the same between two values of JSON stays the same object, so that whoever remembers something about it need not look again. */

type Fields = Record<string, unknown>
const isObject = (x: unknown): x is Fields => typeof x === 'object' && x !== null

/** The second value, with every part that equals the part of the first in the same place being that very part; the first itself where all is equal. */
export function shareUnchanged<T>(before: T, after: T): T {
  if (!isObject(before) || !isObject(after) || Array.isArray(before) !== Array.isArray(after)) return after
  const keys = Object.keys(after)
  const parts = keys.map((key) => (Object.hasOwn(before, key) ? shareUnchanged(before[key], after[key]) : after[key]))
  const isSame = keys.length === Object.keys(before).length && keys.every((key, i) => Object.hasOwn(before, key) && parts[i] === before[key])
  if (isSame) return before
  return (Array.isArray(after) ? parts : Object.fromEntries(keys.map((key, i) => [key, parts[i]]))) as T
}
