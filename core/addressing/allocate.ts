/**
 * Variable-length subnetting: places every segment in the given space, the largest first, so that alignment wastes
 * nothing that the order of arrival would have wasted. A size is the smallest power of two that holds the hosts with
 * their growth, the fixed block, the gateway, and the network and broadcast addresses.
 */
import { formatPrefix, overlaps, prefix, prefixAround, prefixSize, containsPrefix, usableRange, type Prefix, type Range } from './prefix'
import { formatAddress } from './address'

export interface SegmentNeed {
  readonly id: string
  /** Hosts expected at the busiest time. */
  readonly expectedHosts: number
  readonly growthPercent: number
  /** Devices with a reserved or fixed address. */
  readonly fixedAddresses: number
  readonly vlanId: number
}

export interface AllocationRequest {
  readonly space: readonly Prefix[]
  /** Prefixes that must not be touched: what the provider uses, factory subnets, segments that stay. */
  readonly avoid: readonly Prefix[]
  readonly needs: readonly SegmentNeed[]
  readonly gatewayPosition: 'first' | 'last'
  /** `third-octet` puts VLAN 20 on x.y.20.0 where the size and the space allow it. */
  readonly vlanNumbering: 'third-octet' | 'free'
}

export interface Allocation {
  readonly id: string
  readonly subnet: string
  readonly gateway: string
  readonly fixedBlock: AddressSpan
  readonly pool: AddressSpan
  /** Percent by which the hosts may grow beyond the pool's planned use before the pool is full. */
  readonly headroomPercent: number
}

export interface AddressSpan { readonly first: string; readonly last: string }

export interface AllocationResult {
  readonly allocations: readonly Allocation[]
  /** Segments for which no room was left, with the prefix length that they need. */
  readonly unplaced: readonly { id: string; length: number }[]
}

/** Hosts with growth, rounded up. */
export const grownHosts = (need: Pick<SegmentNeed, 'expectedHosts' | 'growthPercent'>): number =>
  Math.ceil(need.expectedHosts * (1 + need.growthPercent / 100))

/** Addresses kept for infrastructure and reservations: twice what is planned, at least 8. */
export const fixedBlockSize = (fixedAddresses: number): number => Math.max(8, fixedAddresses * 2)

/** The prefix length that a need asks for. Never longer than /29: smaller leaves no room for a pool. */
export function lengthFor(need: SegmentNeed): number {
  const addresses = grownHosts(need) + fixedBlockSize(need.fixedAddresses) + 1 + 2
  return Math.min(29, 32 - Math.ceil(Math.log2(addresses)))
}

/** Divides a subnet: gateway at one end, then the fixed block, the rest is the pool. Needs a /29 or shorter. */
export function divide(subnet: Prefix, fixedAddresses: number, gatewayPosition: 'first' | 'last'): Pick<Allocation, 'gateway' | 'fixedBlock' | 'pool'> {
  if (subnet.length > 29) throw new RangeError(`${formatPrefix(subnet)} is too small to divide; expected /29 or shorter`)
  const usable = usableRange(subnet)
  const gateway = gatewayPosition === 'first' ? usable.first : usable.last
  const first = gatewayPosition === 'first' ? usable.first + 1n : usable.first
  const last = gatewayPosition === 'first' ? usable.last : usable.last - 1n
  const free = Number(last - first + 1n)
  const fixed = BigInt(Math.min(fixedBlockSize(fixedAddresses), Math.max(1, Math.floor(free / 2))))
  const text = (value: bigint): string => formatAddress({ family: subnet.family, value })
  return {
    gateway: text(gateway),
    fixedBlock: { first: text(first), last: text(first + fixed - 1n) },
    pool: { first: text(first + fixed), last: text(last) },
  }
}

export function allocate(request: AllocationRequest): AllocationResult {
  const taken: Prefix[] = [...request.avoid]
  const placed = new Map<string, Prefix>()
  const order = [...request.needs].sort((a, b) => lengthFor(a) - lengthFor(b) || a.vlanId - b.vlanId || (a.id < b.id ? -1 : 1))
  const place = (need: SegmentNeed, at: Prefix): void => { placed.set(need.id, at); taken.push(at) }
  const isFree = (p: Prefix): boolean => !taken.some((t) => overlaps(t, p))

  if (request.vlanNumbering === 'third-octet')
    for (const need of order) {
      const at = onThirdOctet(need, request.space)
      if (at && isFree(at)) place(need, at)
    }
  const unplaced: { id: string; length: number }[] = []
  for (const need of order) {
    if (placed.has(need.id)) continue
    const length = lengthFor(need)
    const at = firstFree(request.space, length, taken)
    if (at) place(need, at)
    else unplaced.push({ id: need.id, length })
  }
  const allocations = request.needs.flatMap((need) => {
    const at = placed.get(need.id)
    return at ? [describe(need, at, request.gatewayPosition)] : []
  })
  return { allocations, unplaced }
}

function describe(need: SegmentNeed, at: Prefix, gatewayPosition: 'first' | 'last'): Allocation {
  const parts = divide(at, need.fixedAddresses, gatewayPosition)
  const poolSize = spanSize(parts.pool)
  const headroomPercent = need.expectedHosts === 0 ? 100 : Math.floor((poolSize / need.expectedHosts - 1) * 100)
  return { id: need.id, subnet: formatPrefix(at), ...parts, headroomPercent }
}

/** Addresses in an inclusive IPv4 span. */
export function spanSize(span: AddressSpan): number {
  const octets = (text: string): number => text.split('.').reduce((sum, o) => sum * 256 + Number(o), 0)
  return octets(span.last) - octets(span.first) + 1
}

/** Under the third-octet habit a segment takes a whole /24 (or shorter, where the number is aligned for it). */
function onThirdOctet(need: SegmentNeed, space: readonly Prefix[]): Prefix | undefined {
  const length = Math.min(24, lengthFor(need))
  for (const s of space) {
    if (s.family !== 4 || s.length > 24 || need.vlanId > 255) continue
    const at: Prefix = { family: 4, network: ((s.network >> 16n) << 16n) | (BigInt(need.vlanId) << 8n), length }
    const aligned = prefixAround({ family: 4, value: at.network }, length).network === at.network
    if (aligned && containsPrefix(s, at)) return at
  }
  return undefined
}

/** The lowest aligned prefix of a length that overlaps nothing taken. Skips past each obstacle rather than stepping. */
export function firstFree(space: readonly Prefix[], length: number, taken: readonly Prefix[]): Prefix | undefined {
  for (const s of space) {
    if (length < s.length) continue
    const end: Range = { family: s.family, first: s.network, last: s.network + prefixSize(s) - 1n }
    let at: Prefix = { family: s.family, network: s.network, length }
    while (at.network <= end.last) {
      const blocker = taken.find((t) => overlaps(t, at))
      if (!blocker) return at
      const after = blocker.network + prefixSize(blocker)
      const step = prefixSize(at)
      const next = ((after + step - 1n) / step) * step
      at = { ...at, network: next > at.network ? next : at.network + step }
    }
  }
  return undefined
}

/** A private /16 (then /20) that overlaps nothing known, for "pick one that collides with nothing". */
export function pickSpace(avoid: readonly Prefix[]): Prefix | undefined {
  const candidates = [prefix('10.0.0.0/8'), prefix('172.16.0.0/12'), prefix('192.168.0.0/16')]
  // 10.0 and 10.1 are what everybody picks first, so a later tunnel to another site is likely to meet them.
  const habitual = [prefix('10.0.0.0/15')]
  return firstFree(candidates, 16, [...avoid, ...habitual]) ?? firstFree(candidates, 20, avoid)
}
