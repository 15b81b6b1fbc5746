/**
 * Variable-length subnetting. A size is the smallest power of two that holds the hosts with their
 * growth, the fixed block, the gateway, and
 * the network and broadcast addresses. What is placed already stays where it is as long as it can;
 * the rest goes, the largest first,
 * into the smallest free block that holds it, so that alignment wastes nothing that the order of
 * arrival would have wasted.
 */
import { FreeSpace } from './freeSpace'
import {
  containsPrefix,
  formatPrefix,
  overlaps,
  parsePrefix,
  prefix,
  prefixAround,
  prefixSize,
  usableRange,
  type Prefix,
  type Range,
} from './prefix'
import { address, formatAddress } from './address'
import { usualRanges } from './usualRanges'

export interface SegmentNeed {
  readonly id: string
  /** Hosts expected at the busiest time. */
  readonly expectedHosts: number
  readonly growthPercent: number
  /** Devices with a reserved or fixed address. */
  readonly fixedAddresses: number
  readonly vlanId: number
  /** The network address is a multiple of this length's size; its own where there is none. */
  readonly alignLength?: number | null
  /** Where it is now. */
  readonly current?: string | null
  /** Stays where it is, come what may. */
  readonly locked?: boolean
}

export interface AllocationRequest {
  readonly space: readonly Prefix[]
  /**
   * Prefixes that must not be touched: what the provider uses, factory subnets, segments that stay.
   */
  readonly avoid: readonly Prefix[]
  /**
   * Prefixes that are left alone while there is other room, such as the ranges that everybody has.
   */
  readonly rather?: readonly Prefix[]
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

export interface AddressSpan {
  readonly first: string
  readonly last: string
}

/** What changes place, and why it could not stay. */
export interface Move {
  readonly id: string
  readonly from: string
  readonly to: string
  readonly why: 'too small' | 'not in the space' | 'overlaps' | 'not aligned' | 'makes room'
}

export interface AllocationResult {
  readonly allocations: readonly Allocation[]
  /** Segments for which no room was left, with the prefix length that they need. */
  readonly unplaced: readonly { id: string; length: number }[]
  readonly moves: readonly Move[]
}

/** Hosts with growth, rounded up. */
export const grownHosts = (need: Pick<SegmentNeed, 'expectedHosts' | 'growthPercent'>): number =>
  Math.ceil(need.expectedHosts * (1 + need.growthPercent / 100))

/** Addresses kept for infrastructure and reservations: twice what is planned, at least 8. */
export const fixedBlockSize = (fixedAddresses: number): number => Math.max(8, fixedAddresses * 2)

/**
 * The prefix length that a need asks for. Never longer than /29: smaller leaves no room for a pool.
 */
export function lengthFor(need: SegmentNeed): number {
  const addresses = grownHosts(need) + fixedBlockSize(need.fixedAddresses) + 1 + 2
  return Math.min(29, 32 - Math.ceil(Math.log2(addresses)))
}

/**
 * Divides a subnet: gateway at one end, then the fixed block, the rest is the pool. Needs a /29 or
 * shorter.
 */
export function divide(
  subnet: Prefix,
  fixedAddresses: number,
  gatewayPosition: 'first' | 'last',
): Pick<Allocation, 'gateway' | 'fixedBlock' | 'pool'> {
  if (subnet.length > 29)
    throw new RangeError(`${formatPrefix(subnet)} is too small to divide; expected /29 or shorter`)
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

const alignOf = (need: SegmentNeed): number => Math.min(need.alignLength ?? 32, lengthFor(need))
const isAligned = (at: Prefix, alignLength: number): boolean =>
  prefixAround({ family: at.family, value: at.network }, Math.min(alignLength, at.length))
    .network === at.network
const bySize = (a: SegmentNeed, b: SegmentNeed): number =>
  lengthFor(a) - lengthFor(b) || a.vlanId - b.vlanId || (a.id < b.id ? -1 : 1)

/** Why a segment cannot stay where it is; undefined where it can. */
function cannotStay(
  need: SegmentNeed,
  at: Prefix,
  request: AllocationRequest,
  free: FreeSpace,
): Move['why'] | undefined {
  if (!request.space.some((s) => containsPrefix(s, at))) return 'not in the space'
  if (at.length > lengthFor(need)) return 'too small'
  if (!isAligned(at, need.alignLength ?? at.length)) return 'not aligned'
  return free.isFree(at) ? undefined : 'overlaps'
}

/**
 * Places every need, moving as few of those that have a place as it can. Needs and space of IPv4.
 */
export function allocate(request: AllocationRequest): AllocationResult {
  const free = new FreeSpace(4, request.space, request.avoid)
  const placed = new Map<string, Prefix>()
  const reasons = new Map<string, Move['why']>()
  const order = [...request.needs].sort(bySize)
  const current = new Map(
    order.flatMap((n) => {
      const at = n.current ? parsePrefix(n.current) : undefined
      return at ? [[n.id, at] as const] : []
    }),
  )

  for (const need of order.filter((n) => n.locked && current.has(n.id))) {
    placed.set(need.id, current.get(need.id)!)
    free.remove(current.get(need.id)!)
  }
  for (const need of [...order].sort((a, b) => a.vlanId - b.vlanId || (a.id < b.id ? -1 : 1))) {
    const at = current.get(need.id)
    if (!at || placed.has(need.id)) continue
    const why = cannotStay(need, at, request, free)
    if (why) reasons.set(need.id, why)
    else {
      placed.set(need.id, at)
      free.takeExact(at)
    }
  }
  // What has outgrown its place grows around it where the neighbours are free: its hosts keep their
  // addresses.
  for (const need of order.filter((n) => reasons.get(n.id) === 'too small')) {
    const around = prefixAround(
      { family: 4, value: current.get(need.id)!.network },
      lengthFor(need),
    )
    if (isAligned(around, need.alignLength ?? 32) && free.takeExact(around))
      placed.set(need.id, around)
  }
  const placeAll = (): SegmentNeed[] => {
    if (request.vlanNumbering === 'third-octet')
      for (const need of order) {
        const at = placed.has(need.id) ? undefined : onThirdOctet(need, request.space)
        if (at && free.takeExact(at)) placed.set(need.id, at)
      }
    return order.filter((need) => {
      const at = placed.has(need.id) ? undefined : free.take(lengthFor(need), alignOf(need))
      if (at) placed.set(need.id, at)
      return !placed.has(need.id)
    })
  }
  const spared = (request.rather ?? []).flatMap((p) => free.remove(p))
  let homeless = placeAll()
  for (const p of spared) free.release(p)
  if (spared.length > 0 && homeless.length > 0) homeless = placeAll()
  const evicted = homeless.length > 0 ? makeRoom(request, order, placed, free, homeless) : []
  for (const id of evicted) if (!reasons.has(id)) reasons.set(id, 'makes room')

  const allocations = request.needs.flatMap((need) => {
    const at = placed.get(need.id)
    return at ? [describe(need, at, request.gatewayPosition)] : []
  })
  const moves = request.needs.flatMap((need): Move[] => {
    const [from, to] = [current.get(need.id), placed.get(need.id)]
    if (!from || !to || (from.network === to.network && from.length === to.length)) return []
    return [
      {
        id: need.id,
        from: formatPrefix(from),
        to: formatPrefix(to),
        why: reasons.get(need.id) ?? 'makes room',
      },
    ]
  })
  return {
    allocations,
    unplaced: order
      .filter((n) => !placed.has(n.id))
      .map((n) => ({ id: n.id, length: lengthFor(n) })),
    moves,
  }
}

/** How many of the cheapest places are tried before everything is packed anew. */
const PLACES_TRIED = 64

/**
 * Moves others for those that found no room: as few as possible, then everything that is not
 * locked. Gives those that were moved.
 */
function makeRoom(
  request: AllocationRequest,
  order: readonly SegmentNeed[],
  placed: Map<string, Prefix>,
  free: FreeSpace,
  homeless: readonly SegmentNeed[],
): string[] {
  const moved: string[] = []
  const needOf = new Map(order.map((n) => [n.id, n]))
  let stuck = false
  for (const need of homeless) {
    const length = lengthFor(need)
    const movable = [...placed].filter(([id]) => !needOf.get(id)!.locked)
    const candidates = new Map<bigint, { at: Prefix; out: [string, Prefix][] }>()
    for (const [, taken] of movable) {
      const at = prefixAround({ family: 4, value: taken.network }, length)
      if (
        candidates.has(at.network) ||
        !isAligned(at, alignOf(need)) ||
        !request.space.some((s) => containsPrefix(s, at)) ||
        request.avoid.some((a) => overlaps(a, at))
      )
        continue
      const over = [...placed].filter(([, p]) => overlaps(p, at))
      if (over.every(([id]) => !needOf.get(id)!.locked))
        candidates.set(at.network, { at, out: over })
    }
    const cheapest = [...candidates.values()]
      .sort(
        (a, b) =>
          a.out.length - b.out.length ||
          sizeOf(a.out) - sizeOf(b.out) ||
          (a.at.network < b.at.network ? -1 : 1),
      )
      .slice(0, PLACES_TRIED)
    const found = cheapest.some(({ at, out }) => {
      const trial = free.clone()
      for (const [, p] of out) trial.release(p)
      if (!trial.takeExact(at)) return false
      const again = out
        .map(([id]) => needOf.get(id)!)
        .sort(bySize)
        .map((n) => [n.id, trial.take(lengthFor(n), alignOf(n))] as const)
      if (again.some(([, p]) => p === undefined)) return false
      for (const [, p] of out) free.release(p)
      free.takeExact(at)
      placed.set(need.id, at)
      for (const [id, p] of again) {
        placed.set(id, p!)
        free.takeExact(p!)
        moved.push(id)
      }
      return true
    })
    if (!found) stuck = true
  }
  if (!stuck) return moved
  const fresh = new FreeSpace(4, request.space, request.avoid)
  const packed = new Map<string, Prefix>()
  for (const n of order)
    if (n.locked && placed.has(n.id)) {
      packed.set(n.id, placed.get(n.id)!)
      fresh.remove(placed.get(n.id)!)
    }
  for (const n of order) {
    const at = packed.has(n.id) ? undefined : fresh.take(lengthFor(n), alignOf(n))
    if (at) packed.set(n.id, at)
  }
  if (packed.size <= placed.size) return moved
  const others = [...placed.keys()]
  placed.clear()
  for (const [id, at] of packed) placed.set(id, at)
  return [...moved, ...others]
}
const sizeOf = (list: readonly [string, Prefix][]): number =>
  list.reduce((n, [, p]) => n + Number(prefixSize(p)), 0)

function describe(need: SegmentNeed, at: Prefix, gatewayPosition: 'first' | 'last'): Allocation {
  const parts = divide(at, need.fixedAddresses, gatewayPosition)
  const poolSize = spanSize(parts.pool)
  const headroomPercent =
    need.expectedHosts === 0 ? 100 : Math.floor((poolSize / need.expectedHosts - 1) * 100)
  return { id: need.id, subnet: formatPrefix(at), ...parts, headroomPercent }
}

/** Addresses in an inclusive IPv4 span. */
export function spanSize(span: AddressSpan): number {
  return Number(address(span.last).value - address(span.first).value) + 1
}

/**
 * Under the third-octet habit a segment takes a whole /24 (or shorter, where the number is aligned
 * for it).
 */
function onThirdOctet(need: SegmentNeed, space: readonly Prefix[]): Prefix | undefined {
  const length = Math.min(24, lengthFor(need))
  for (const s of space) {
    if (s.family !== 4 || s.length > 24 || need.vlanId > 255) continue
    const at: Prefix = {
      family: 4,
      network: ((s.network >> 16n) << 16n) | (BigInt(need.vlanId) << 8n),
      length,
    }
    const aligned = prefixAround({ family: 4, value: at.network }, length).network === at.network
    if (aligned && containsPrefix(s, at)) return at
  }
  return undefined
}

/**
 * The lowest aligned prefix of a length that overlaps nothing taken. Skips past each obstacle
 * rather than stepping.
 */
export function firstFree(
  space: readonly Prefix[],
  length: number,
  taken: readonly Prefix[],
): Prefix | undefined {
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

/**
 * A private /16 (then /20) that overlaps nothing known, for "pick one that collides with nothing".
 */
export function pickSpace(avoid: readonly Prefix[]): Prefix | undefined {
  const candidates = [prefix('10.0.0.0/8'), prefix('172.16.0.0/12'), prefix('192.168.0.0/16')]
  // What everybody picks first, a later tunnel is likely to meet.
  return (
    firstFree(candidates, 16, [
      ...avoid,
      prefix('10.0.0.0/15'),
      ...usualRanges.map((u) => u.prefix),
    ]) ?? firstFree(candidates, 20, avoid)
  )
}
