/**
 * What stayed the same between two values of JSON stays the same object, so that whoever remembers
 * something about it need not look again.
 */

type Fields = Record<string, unknown>
const isObject = (x: unknown): x is Fields => typeof x === 'object' && x !== null
const areAlike = (a: unknown, b: unknown): boolean =>
  isObject(a) && isObject(b) && Array.isArray(a) === Array.isArray(b)

/**
 * Whether two values of JSON say the same. General comparers ask objects for their methods, which
 * stumbles over keys like `valueOf`.
 */
function saySame(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (!areAlike(a, b)) return false
  const [x, y] = [a as Fields, b as Fields]
  let keys = 0
  for (const key in x) {
    if (!Object.hasOwn(y, key) || !saySame(x[key], y[key])) return false
    keys++
  }
  return keys === Object.keys(y).length
}

/**
 * The second value, with every part that equals the part of the first in the same place being that
 * very part; the first itself where all is equal.
 */
export function shareUnchanged<T>(before: T, after: T): T {
  if (saySame(before, after)) return before
  if (!areAlike(before, after)) return after
  const was = before as Fields
  const entries = Object.entries(after as Fields).map(
    ([key, part]) =>
      [key, Object.hasOwn(was, key) ? shareUnchanged(was[key], part) : part] as const,
  )
  return (Array.isArray(after) ? entries.map(([, part]) => part) : Object.fromEntries(entries)) as T
}
