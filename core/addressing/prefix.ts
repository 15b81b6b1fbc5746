/** Subnets as prefixes (RFC 4632): containment, overlap, usable hosts, collapsing and gaps. */
import { addressBits, formatAddress, parseAddress, type Address } from './address'

export interface Prefix {
  readonly family: 4 | 6
  /** The network address; host bits are zero. */
  readonly network: bigint
  readonly length: number
}

/** An inclusive run of addresses of one family. */
export interface Range {
  readonly family: 4 | 6
  readonly first: bigint
  readonly last: bigint
}

export const prefixSize = (p: Prefix): bigint => 1n << BigInt(addressBits(p.family) - p.length)
export const lastOf = (p: Prefix): bigint => p.network + prefixSize(p) - 1n
export const rangeOf = (p: Prefix): Range => ({
  family: p.family,
  first: p.network,
  last: lastOf(p),
})

export type PrefixProblem = 'not an address' | 'no length' | 'length out of range' | 'host bits set'

/** Parses `address/length`; host bits must be zero. */
export function readPrefix(text: string): Prefix | { problem: PrefixProblem; network?: Prefix } {
  const slash = text.indexOf('/')
  if (slash < 0) return { problem: 'no length' }
  const at = parseAddress(text.slice(0, slash))
  if (!at) return { problem: 'not an address' }
  const lengthText = text.slice(slash + 1)
  const length = Number(lengthText)
  if (!/^(0|[1-9]\d{0,2})$/.test(lengthText) || length > addressBits(at.family))
    return { problem: 'length out of range' }
  const network = prefixAround(at, length)
  return network.network === at.value ? network : { problem: 'host bits set', network }
}

export function parsePrefix(text: string): Prefix | undefined {
  const read = readPrefix(text)
  return 'problem' in read ? undefined : read
}

/** As {@link parsePrefix}, for text known to be good. @throws RangeError where it is not. */
export function prefix(text: string): Prefix {
  const read = readPrefix(text)
  if ('problem' in read)
    throw new RangeError(
      `'${text}' is not a subnet (${read.problem}); expected for example 10.20.30.0/24`,
    )
  return read
}

export const formatPrefix = (p: Prefix): string =>
  `${formatAddress({ family: p.family, value: p.network })}/${p.length}`

/** The prefix of a length that an address lies in. */
export function prefixAround(a: Address, length: number): Prefix {
  const hostBits = BigInt(addressBits(a.family) - length)
  return { family: a.family, network: (a.value >> hostBits) << hostBits, length }
}

export const containsAddress = (p: Prefix, a: Address): boolean =>
  p.family === a.family && a.value >= p.network && a.value <= lastOf(p)

/** Whether an address lies in one of some networks; none lies nowhere. */
export function liesIn(networks: readonly string[], text: string | null | undefined): boolean {
  const a = text ? parseAddress(text) : undefined
  return (
    a !== undefined &&
    networks.some((n) => {
      const p = parsePrefix(n)
      return p !== undefined && containsAddress(p, a)
    })
  )
}

export const containsPrefix = (outer: Prefix, inner: Prefix): boolean =>
  outer.family === inner.family &&
  outer.length <= inner.length &&
  inner.network >= outer.network &&
  lastOf(inner) <= lastOf(outer)

export const overlaps = (a: Prefix, b: Prefix): boolean =>
  containsPrefix(a, b) || containsPrefix(b, a)

/** The dotted mask of an IPv4 length, e.g. 20 -> `255.255.240.0`. */
export const maskOf = (length: number): string =>
  formatAddress({
    family: 4,
    value: length === 0 ? 0n : (0xffffffffn << BigInt(32 - length)) & 0xffffffffn,
  })

/**
 * Addresses that hosts may have. For IPv4 the network and broadcast addresses are left out (RFC
 * 919, RFC 1812 4.2.3.1),
 * except in a /31, where both are hosts (RFC 3021), and a /32. For IPv6 the all-zeros address is
 * left out as the
 * subnet-router anycast address (RFC 4291 2.6.1), except in a /127 (RFC 6164) and a /128.
 */
export function usableRange(p: Prefix): Range {
  const size = prefixSize(p)
  if (size <= 2n) return rangeOf(p)
  return {
    family: p.family,
    first: p.network + 1n,
    last: p.family === 4 ? lastOf(p) - 1n : lastOf(p),
  }
}

export function usableHosts(p: Prefix): bigint {
  const r = usableRange(p)
  return r.last - r.first + 1n
}

const byNetwork = (a: Prefix, b: Prefix): number =>
  a.family - b.family ||
  (a.network < b.network ? -1 : a.network > b.network ? 1 : a.length - b.length)

/** The fewest prefixes that cover the same addresses, in order (summary routes). */
export function collapse(prefixes: readonly Prefix[]): Prefix[] {
  const out: Prefix[] = []
  for (const next of [...prefixes].sort(byNetwork)) {
    const top = out.at(-1)
    if (top && containsPrefix(top, next)) continue
    out.push(next)
    while (out.length > 1) {
      const b = out.at(-1)!
      const a = out.at(-2)!
      const joined =
        a.length === b.length && a.family === b.family && a.length > 0
          ? prefixAround({ family: a.family, value: a.network }, a.length - 1)
          : undefined
      if (!joined || joined.network !== a.network || lastOf(joined) !== lastOf(b)) break
      out.splice(-2, 2, joined)
    }
  }
  return out
}

/** What is left of a space when the taken prefixes are cut out of it, as ranges in order. */
export function gaps(space: Prefix, taken: readonly Prefix[]): Range[] {
  const out: Range[] = []
  let from = space.network
  for (const t of collapse(taken.filter((t) => overlaps(space, t)))) {
    if (t.network > from) out.push({ family: space.family, first: from, last: t.network - 1n })
    if (lastOf(t) + 1n > from) from = lastOf(t) + 1n
  }
  if (from <= lastOf(space)) out.push({ family: space.family, first: from, last: lastOf(space) })
  return out
}
