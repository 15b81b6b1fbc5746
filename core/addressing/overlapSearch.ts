/**
 * Overlaps in a long list of prefixes. Two prefixes overlap only where one holds the other, so in
 * the order of their networks, the shorter
 * first, a stack of open prefixes tells every one its container in a single pass. Sorted by radix
 * on 16-bit digits.
 */
import { addressBits } from './address'
import type { Prefix } from './prefix'

/**
 * Prefixes of one family as typed arrays: networks in 16-bit digits, the most significant first,
 * and lengths.
 */
export interface PackedPrefixes {
  readonly family: 4 | 6
  readonly count: number
  readonly digits: readonly Uint16Array[]
  readonly lengths: Uint8Array
}

/** @throws RangeError where the prefixes are of two families. */
export function packPrefixes(family: 4 | 6, list: readonly Prefix[]): PackedPrefixes {
  const words = addressBits(family) / 16
  const digits = Array.from({ length: words }, () => new Uint16Array(list.length))
  const lengths = new Uint8Array(list.length)
  list.forEach((p, i) => {
    if (p.family !== family) throw new RangeError(`prefix ${i} is not IPv${family}`)
    for (let w = 0; w < words; w++)
      digits[w]![i] = Number((p.network >> BigInt(16 * (words - 1 - w))) & 0xffffn)
    lengths[i] = p.length
  })
  return { family, count: list.length, digits, lengths }
}

/** Indexes in the order of network, then length. */
export function sortedOrder({ count, digits, lengths }: PackedPrefixes): Uint32Array {
  let from = new Uint32Array(count)
  let to = new Uint32Array(count)
  for (let i = 0; i < count; i++) from[i] = i
  const counts = new Uint32Array(65_537)
  const pass = (key: Uint16Array | Uint8Array, range: number): void => {
    counts.fill(0, 0, range + 1)
    for (let i = 0; i < count; i++) counts[key[i]! + 1]!++
    for (let k = 1; k <= range; k++) counts[k]! += counts[k - 1]!
    for (let i = 0; i < count; i++) {
      const at = from[i]!
      to[counts[key[at]!]!++] = at
    }
    ;[from, to] = [to, from]
  }
  pass(lengths, 129)
  for (let w = digits.length - 1; w >= 0; w--) pass(digits[w]!, 65_536)
  return from
}

/**
 * Index of the closest prefix that holds each one, -1 where none does. Equal prefixes hold each
 * other in the order of the list.
 */
export function containers(
  packed: PackedPrefixes,
  order: Uint32Array = sortedOrder(packed),
): Int32Array {
  const { count, lengths } = packed
  const out = new Int32Array(count).fill(-1)
  const stack: number[] = []
  for (let k = 0; k < count; k++) {
    const i = order[k]!
    while (stack.length > 0 && !holds(packed, stack[stack.length - 1]!, i, lengths)) stack.pop()
    if (stack.length > 0) out[i] = stack[stack.length - 1]!
    stack.push(i)
  }
  return out
}

function holds(
  { digits }: PackedPrefixes,
  outer: number,
  inner: number,
  lengths: Uint8Array,
): boolean {
  let bits = lengths[outer]!
  for (let w = 0; bits > 0; w++, bits -= 16) {
    const differing = digits[w]![outer]! ^ digits[w]![inner]!
    if (bits >= 16 ? differing !== 0 : differing >>> (16 - bits) !== 0) return false
  }
  return true
}

/**
 * Every pair that overlaps, by index, the holder first. There can be many: where all are equal, n
 * (n - 1) / 2.
 */
export function* overlappingPairs(list: readonly Prefix[]): Generator<readonly [number, number]> {
  for (const family of [4, 6] as const) {
    const own = list.flatMap((p, i) => (p.family === family ? [i] : []))
    const held = containers(
      packPrefixes(
        family,
        own.map((i) => list[i]!),
      ),
    )
    for (let i = 0; i < own.length; i++)
      for (let c = held[i]!; c >= 0; c = held[c]!) yield [own[c]!, own[i]!]
  }
}
