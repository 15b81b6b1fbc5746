/**
 * A /64 for every segment out of delegated or unique local IPv6 space. Hosts configure themselves
 * only in a /64 (RFC 4862 5.5.3, RFC 7421).
 */
import { FreeSpace } from './freeSpace'
import { containsPrefix, formatPrefix, parsePrefix, prefixAround, type Prefix } from './prefix'

export interface SixNeed {
  readonly id: string
  readonly vlanId: number
  readonly current?: string | null
  readonly locked?: boolean
}
export interface SixResult {
  readonly placed: readonly { readonly id: string; readonly subnet6: string }[]
  readonly unplaced: readonly string[]
}

/** How many /64s a delegated prefix holds (RFC 6177 discusses how long it should be). */
export const sixtyFoursIn = (length: number): number => 2 ** Math.max(0, 64 - length)

/**
 * The /64 whose subnet id reads as the VLAN id does: VLAN 20 of 2001:db8:0:100::/56 is
 * 2001:db8:0:120::/64. Undefined where the digits do not
 * fit into the bits that are ours.
 */
export function readableSixtyFour(space: Prefix, vlanId: number): Prefix | undefined {
  const digits = Math.floor((64 - space.length) / 4)
  if (space.family !== 6 || String(vlanId).length > digits) return undefined
  return {
    family: 6,
    network: space.network + (BigInt(parseInt(String(vlanId), 16)) << 64n),
    length: 64,
  }
}

/**
 * Those that have a valid place keep it; then readable ids where that is the habit, then the lowest
 * free.
 */
export function allocateSixtyFours(
  spaces: readonly Prefix[],
  needs: readonly SixNeed[],
  numbering: 'third-octet' | 'free',
  avoid: readonly Prefix[] = [],
): SixResult {
  const usable = spaces.filter((s) => s.family === 6 && s.length <= 64)
  const free = new FreeSpace(
    6,
    usable,
    avoid.filter((a) => a.family === 6),
  )
  const placed = new Map<string, Prefix>()
  const order = [...needs].sort(
    (a, b) =>
      Number(b.locked ?? false) - Number(a.locked ?? false) ||
      a.vlanId - b.vlanId ||
      (a.id < b.id ? -1 : 1),
  )
  for (const n of order) {
    const at = n.current ? parsePrefix(n.current) : undefined
    if (!at) continue
    if (n.locked) {
      placed.set(n.id, at)
      free.remove(at)
    } else if (at.length === 64 && usable.some((s) => containsPrefix(s, at)) && free.takeExact(at))
      placed.set(n.id, at)
  }
  if (numbering === 'third-octet')
    for (const n of order) {
      const at = placed.has(n.id)
        ? undefined
        : usable.map((s) => readableSixtyFour(s, n.vlanId)).find((p) => p && free.takeExact(p))
      if (at) placed.set(n.id, at)
    }
  for (const n of order) {
    if (placed.has(n.id)) continue
    const at = free.take(64)
    if (at) placed.set(n.id, at)
  }
  return {
    placed: needs.flatMap((n) => {
      const at = placed.get(n.id)
      return at ? [{ id: n.id, subnet6: formatPrefix(at) }] : []
    }),
    unplaced: needs.filter((n) => !placed.has(n.id)).map((n) => n.id),
  }
}

/** The gateway's address in a /64: the first, as the low one is what people expect to ping. */
export const gatewayOf6 = (subnet6: string): string => {
  const p = parsePrefix(subnet6)
  if (!p || p.family !== 6)
    throw new RangeError(
      `'${subnet6}' is not an IPv6 prefix; expected for example 2001:db8:0:120::/64`,
    )
  return formatPrefix({ ...prefixAround({ family: 6, value: p.network + 1n }, 128) }).replace(
    '/128',
    '',
  )
}
