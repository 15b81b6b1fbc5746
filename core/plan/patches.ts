/**
 * Patches applied to a document (RFC 6902 in spirit, with paths as arrays): a new document that
 * shares what was not touched, and the patches that lead back. A path
 * leads along keys that objects themselves have and whole indices within arrays, nowhere else: not
 * by inherited names, not to `length`, not beyond an end.
 */
import type { Patch } from 'immer'
import { isInherited } from './inherited'

export type PlanPatch = Patch
type Container = Record<string, unknown> | unknown[]

/** A patch does not fit the document; the message says where. */
export class PatchRefused extends Error {}

const isContainer = (x: unknown): x is Container => typeof x === 'object' && x !== null

/**
 * @throws PatchRefused where one does not fit; the document is as it was.
 * @returns `patches` without those that change nothing, `inverse` in the order in which they are to
 * be applied
 */
export function applyPatches(
  document: object,
  patches: readonly PlanPatch[],
): { document: object; patches: PlanPatch[]; inverse: PlanPatch[] } {
  /** What belongs to the new document alone and may be changed in place. */
  const fresh = new Set<Container>()
  const copyOf = (x: Container): Container => {
    if (fresh.has(x)) return x
    const copy = Array.isArray(x) ? [...x] : { ...x }
    fresh.add(copy)
    return copy
  }
  const root = copyOf(document as Container)
  const done: PlanPatch[] = []
  const inverse: PlanPatch[] = []
  for (const patch of patches) {
    const { path } = patch
    const refuse = (why: string): never => {
      throw new PatchRefused(`${path.join('.')}: ${why}`)
    }
    let at = root
    for (const key of path.slice(0, -1)) {
      checkStep(at, key, refuse)
      const next = (at as Record<string | number, unknown>)[key]
      if (!isContainer(next)) return refuse(`${key} has no parts`)
      const copy = copyOf(next)
      if (copy !== next) (at as Record<string | number, unknown>)[key] = copy
      at = copy
    }
    const back = Array.isArray(at)
      ? changeArray(at, patch, refuse)
      : changeObject(at, patch, refuse)
    if (!back) continue
    done.push(patch)
    inverse.push({ path, ...back })
  }
  return { document: root, patches: done, inverse: inverse.reverse() }
}

type Refuse = (why: string) => never
type Back = Pick<PlanPatch, 'op' | 'value'> | undefined

function checkStep(at: Container, key: string | number, refuse: Refuse): void {
  const isThere = Array.isArray(at)
    ? isIndex(key) && key < at.length
    : typeof key === 'string' && Object.hasOwn(at, key)
  if (!isThere) refuse(`there is no ${key}`)
}
const isIndex = (key: string | number | undefined): key is number =>
  Number.isInteger(key) && (key as number) >= 0
const sameValue = (a: unknown, b: unknown): boolean =>
  a === b || (isContainer(a) && isContainer(b) && JSON.stringify(a) === JSON.stringify(b))

function changeArray(at: unknown[], { op, path, value }: PlanPatch, refuse: Refuse): Back {
  const key = path.at(-1)
  if (!isIndex(key) || key > at.length || (op !== 'add' && key === at.length))
    return refuse(`${key} is no place in a list of ${at.length}`)
  const was = at[key]
  if (op === 'add') {
    at.splice(key, 0, copied(value))
    return { op: 'remove' }
  }
  if (op === 'remove') {
    at.splice(key, 1)
    return { op: 'add', value: was }
  }
  if (sameValue(was, value)) return undefined
  at[key] = copied(value)
  return { op: 'replace', value: was }
}

function changeObject(
  at: Record<string, unknown>,
  { op, path, value }: PlanPatch,
  refuse: Refuse,
): Back {
  const key = path.at(-1)
  if (typeof key !== 'string' || key === '__proto__') return refuse(`${key} is no key`)
  const had = Object.hasOwn(at, key)
  const was = had ? at[key] : undefined
  if (op === 'remove') {
    if (!had) return refuse(`there is no ${key}`)
    delete at[key]
    return { op: 'add', value: was }
  }
  if (had && sameValue(was, value)) return undefined
  at[key] = copied(value)
  return had ? { op: 'replace', value: was } : { op: 'remove' }
}

/** Later patches may change what an earlier one brought; the patch itself stays as it is. */
const copied = (value: unknown): unknown => (isContainer(value) ? structuredClone(value) : value)

/**
 * Whether a patch names something that a plan cannot hold, whatever the plan: an inherited name on
 * its way.
 */
export const namesInherited = (patch: PlanPatch): boolean =>
  patch.path.some((key) => typeof key === 'string' && isInherited(key))
