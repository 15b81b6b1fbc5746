/** What stayed the same between two values of JSON stays the same object, so that whoever remembers something about it need not look again. */
import isEqual from 'fast-deep-equal'

const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null

/** The second value, with every part that equals the part of the first in the same place being that very part; the first itself where all is equal. */
export function shareUnchanged<T>(before: T, after: T): T {
  if (isEqual(before, after)) return before
  if (!isObject(before) || !isObject(after) || Array.isArray(before) !== Array.isArray(after)) return after
  const entries = Object.entries(after).map(([key, part]) => [key, Object.hasOwn(before, key) ? shareUnchanged(before[key], part) : part] as const)
  return (Array.isArray(after) ? entries.map(([, part]) => part) : Object.fromEntries(entries)) as T
}
