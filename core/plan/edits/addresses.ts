/** Edits of where segments lie in the address space. */
import { z } from 'zod'
import {
  address,
  addressAfter,
  allocate,
  allocateSixtyFours,
  containsAddress,
  containsPrefix,
  divide,
  formatAddress,
  formatPrefix,
  prefix,
  prefixAround,
  usableRange,
  usualRanges,
  type AddressSpan,
  type Allocation,
  type AllocationResult,
  type Prefix,
} from '../../addressing'
import { defineEdit, EditRefused } from '../edit'
import {
  idSchema,
  ipv4Schema,
  spanSchema,
  subnet6Schema,
  subnetSchema,
  type Segment,
  type SitePlan,
} from '../schema'
import { tunnelSpace } from '../tunnelPlaces'

/**
 * Prefixes that this plan knows somebody else uses: the providers' LANs and hand-offs, the factory
 * subnets of its equipment, networks that stay or lie behind tunnels.
 */
export function foreignPrefixes(plan: SitePlan): Prefix[] {
  const texts = new Set<string>()
  for (const u of Object.values(plan.uplinks)) {
    if (u.handOff.providerLan && u.handOff.providerLan !== 'none') texts.add(u.handOff.providerLan)
    if (u.handOff.address) texts.add(networkOf(u.handOff.address))
  }
  for (const profileId of new Set(Object.values(plan.devices).map((d) => d.profileId))) {
    const factory = plan.profiles[profileId]?.factory.address
    if (factory) texts.add(networkOf(factory))
  }
  for (const n of Object.values(plan.knownNetworks)) texts.add(n.prefix)
  for (const t of Object.values(plan.tunnels)) for (const n of tunnelSpace(plan, t)) texts.add(n)
  return [...texts].map(prefix)
}

/** The network that an address with a length lies in, e.g. 203.0.113.10/29 -> 203.0.113.8/29. */
export function networkOf(addressWithLength: string): string {
  const [text, length] = addressWithLength.split('/') as [string, string]
  return formatPrefix(prefixAround(address(text), Number(length)))
}

/** Devices that need an address outside the pool, per segment. */
export const fixedAddressCount = (plan: SitePlan, segmentId: string): number =>
  Object.values(plan.devices).filter(
    (d) => d.addressing.segmentId === segmentId && d.addressing.mode !== 'automatic',
  ).length

/**
 * What the planner is asked for: the given segments to be placed, the others to be left where they
 * are. `keep` lets the given ones stay where they can.
 */
export function allocationsFor(
  plan: SitePlan,
  segmentIds: readonly string[],
  keep = false,
): AllocationResult {
  const moving = new Set(segmentIds)
  const staying = Object.values(plan.segments)
    .filter((s) => !moving.has(s.id) && s.subnet)
    .map((s) => prefix(s.subnet!))
  return allocate({
    space: plan.site.addressSpace.map(prefix),
    avoid: [...foreignPrefixes(plan), ...staying],
    rather: usualRanges.map((u) => u.prefix),
    needs: segmentIds.map((id) => {
      const s = plan.segments[id]
      if (!s) throw new EditRefused(`there is no segment '${id}'`)
      return {
        id,
        vlanId: s.vlanId,
        expectedHosts: s.expectedHosts,
        growthPercent: s.growthPercent,
        fixedAddresses: fixedAddressCount(plan, id),
        alignLength: s.alignLength,
        current: keep || s.locked ? s.subnet : null,
        locked: s.locked && s.subnet !== null,
      }
    }),
    gatewayPosition: plan.site.preferences.gatewayPosition,
    vlanNumbering: plan.site.preferences.vlanNumbering,
  })
}

/**
 * Puts a segment into its new subnet. Where that only grew around the old one, gateway, block and
 * addresses of devices stay as they are.
 */
function settle(draft: SitePlan, { id, subnet, gateway, fixedBlock, pool }: Allocation): void {
  const segment = draft.segments[id]!
  if (segment.subnet === subnet) return
  const grew =
    segment.subnet !== null &&
    segment.gateway !== null &&
    segment.fixedBlock !== null &&
    containsPrefix(prefix(subnet), prefix(segment.subnet))
  if (grew)
    Object.assign(segment, {
      subnet,
      pools: poolsAround(prefix(subnet), [segment.gateway!], [segment.fixedBlock!]),
    })
  else {
    Object.assign(segment, {
      subnet,
      gateway,
      fixedBlock,
      pools: [pool],
    } satisfies Partial<Segment>)
    renumberDevices(draft, id, gateway, fixedBlock)
  }
}

/** Runs of a subnet worth handing out that leave the given addresses and spans alone. */
export function poolsAround(
  subnet: Prefix,
  addresses: readonly string[],
  spans: readonly AddressSpan[],
): AddressSpan[] {
  const usable = usableRange(subnet)
  const taken = [
    ...addresses.map((a) => ({ first: address(a).value, last: address(a).value })),
    ...spans.map((s) => ({ first: address(s.first).value, last: address(s.last).value })),
  ].sort((a, b) => (a.first < b.first ? -1 : 1))
  const runs: AddressSpan[] = []
  let from = usable.first
  const close = (to: bigint): void => {
    if (to - from >= 3n)
      runs.push({
        first: formatAddress({ family: 4, value: from }),
        last: formatAddress({ family: 4, value: to }),
      })
  }
  for (const t of taken) {
    if (t.last < from || t.first > usable.last) continue
    close(t.first - 1n)
    from = t.last + 1n
  }
  close(usable.last)
  return runs.slice(0, 8)
}

const refuseUnplaced = (draft: SitePlan, [missing]: AllocationResult['unplaced']): void => {
  if (missing)
    throw new EditRefused(
      `no /${missing.length} is left in ${draft.site.addressSpace.join(', ')} for ` +
        `${draft.segments[missing.id]!.name}; add space or expect fewer hosts`,
    )
}

const allocateSegments = defineEdit({
  name: 'allocateSegments',
  args: z.strictObject({ segmentIds: z.array(idSchema).min(1).max(4094) }),
  apply(draft, { segmentIds }) {
    const { allocations, unplaced } = allocationsFor(draft as SitePlan, segmentIds)
    refuseUnplaced(draft as SitePlan, unplaced)
    for (const a of allocations) {
      const segment = draft.segments[a.id]!
      // Placed where it was: what it hands out is divided anew all the same.
      if (segment.subnet === a.subnet && segment.gateway && segment.fixedBlock)
        segment.pools = poolsAround(prefix(a.subnet), [segment.gateway], [segment.fixedBlock])
      else settle(draft as SitePlan, a)
    }
  },
  describe: (plan, { segmentIds }) =>
    `Place ${segmentIds.map((id) => plan.segments[id]?.name ?? id).join(', ')} in ${plan.site.addressSpace.join(', ')}`,
})

/** Plans all segments again and moves as few as it can; locked ones stay. */
const replanSegments = defineEdit({
  name: 'replanSegments',
  args: z.strictObject({}),
  apply(draft) {
    const { allocations, unplaced } = allocationsFor(
      draft as SitePlan,
      Object.keys(draft.segments),
      true,
    )
    refuseUnplaced(draft as SitePlan, unplaced)
    for (const a of allocations) settle(draft as SitePlan, a)
  },
  describe: (plan) => {
    const { moves, allocations } = allocationsFor(plan, Object.keys(plan.segments), true)
    const placed = allocations.filter((a) => plan.segments[a.id]!.subnet === null)
    const text = [
      ...moves.map((m) => `${plan.segments[m.id]!.name} ${m.from} to ${m.to}`),
      ...placed.map((a) => `${plan.segments[a.id]!.name} ${a.subnet}`),
    ]
    return text.length === 0
      ? 'Plan addresses again; nothing moves'
      : `Plan addresses again: ${text.slice(0, 4).join(', ')}${text.length > 4 ? ` and ${text.length - 4} more` : ''}`
  },
})

/** A subnet chosen by hand: drawn, typed, or put into a gap. */
const setSubnet = defineEdit({
  name: 'setSubnet',
  args: z.strictObject({ segmentId: idSchema, subnet: subnetSchema.nullable() }),
  apply(draft, { segmentId, subnet }) {
    const segment = segmentOf(draft as SitePlan, segmentId)
    if (subnet === null) {
      Object.assign(segment, { subnet: null, gateway: null, fixedBlock: null, pools: [] })
      return
    }
    const p = prefix(subnet)
    if (p.length > 29)
      throw new EditRefused(
        `${subnet} is too small for a segment with a gateway and a pool; a /29 is the least`,
      )
    const inside =
      segment.gateway !== null &&
      segment.fixedBlock !== null &&
      [segment.gateway, segment.fixedBlock.first, segment.fixedBlock.last].every((a) =>
        containsAddress(p, address(a)),
      )
    if (inside) {
      Object.assign(segment, {
        subnet,
        pools: poolsAround(p, [segment.gateway!], [segment.fixedBlock!]),
      })
      return
    }
    const { gateway, fixedBlock, pool } = divide(
      p,
      fixedAddressCount(draft as SitePlan, segmentId),
      draft.site.preferences.gatewayPosition,
    )
    settle(draft as SitePlan, {
      id: segmentId,
      subnet,
      gateway,
      fixedBlock,
      pool,
      headroomPercent: 0,
    })
  },
  describe: (plan, { segmentId, subnet }) =>
    subnet
      ? `Put ${plan.segments[segmentId]?.name ?? segmentId} on ${subnet}`
      : `Take ${plan.segments[segmentId]?.name ?? segmentId} off its subnet`,
})

/** Gives every segment a /64 of the IPv6 space; those that have a good one keep it. */
const allocateSixtyFoursEdit = defineEdit({
  name: 'allocateSixtyFours',
  args: z.strictObject({}),
  apply(draft) {
    if (draft.site.addressSpace6.length === 0)
      throw new EditRefused('the site has no IPv6 space yet; record the delegated prefix first')
    const { placed, unplaced } = allocateSixtyFours(
      draft.site.addressSpace6.map(prefix),
      Object.values(draft.segments).map((s) => ({
        id: s.id,
        vlanId: s.vlanId,
        current: s.subnet6,
        locked: s.locked,
      })),
      draft.site.preferences.vlanNumbering,
      foreignPrefixes(draft as SitePlan),
    )
    if (unplaced[0])
      throw new EditRefused(
        `${draft.site.addressSpace6.join(', ')} holds too few /64s; ${unplaced.length} of ` +
          `${Object.keys(draft.segments).length} segments would have none. Ask the provider ` +
          'for a shorter prefix.',
      )
    for (const { id, subnet6 } of placed) draft.segments[id]!.subnet6 = subnet6
  },
  describe: (plan) => `Give the segments /64s of ${plan.site.addressSpace6.join(', ')}`,
})

function segmentOf(draft: SitePlan, id: string): Segment {
  const segment = draft.segments[id]
  if (!segment)
    throw new EditRefused(`there is no segment '${id}'; it may have been removed meanwhile`)
  return segment
}

/**
 * Gives the devices with reserved or fixed addresses of a segment the next ones of its fixed block,
 * in the order of their ids.
 */
function renumberDevices(
  draft: SitePlan,
  segmentId: string,
  gateway: string,
  fixedBlock: AddressSpan,
): void {
  const own = Object.values(draft.devices)
    .filter((d) => d.addressing.segmentId === segmentId && d.addressing.mode !== 'automatic')
    .sort((a, b) => (a.id < b.id ? -1 : 1))
  let next = fixedBlock.first
  for (const d of own) {
    d.addressing.address = next
    if (d.addressing.mode === 'fixed') d.addressing.gateway = gateway
    next = addressAfter(next, 1)
  }
}

/**
 * One pool of a segment, the first where nothing else is said; one more where the number is the
 * next.
 */
const setPool = defineEdit({
  name: 'setPool',
  args: z.strictObject({
    segmentId: idSchema,
    first: ipv4Schema,
    last: ipv4Schema,
    index: z.int().min(0).max(7).default(0),
  }),
  apply(draft, { segmentId, first, last, index }) {
    const { pools } = segmentOf(draft as SitePlan, segmentId)
    if (index > pools.length)
      throw new EditRefused(
        `there are ${pools.length} pools; the next has the number ${pools.length}`,
      )
    pools[index] = { first, last }
  },
  describe: (plan, { segmentId, first, last }) =>
    `Set the pool of ${plan.segments[segmentId]?.name ?? segmentId} to ${first}-${last}`,
})

const setPools = defineEdit({
  name: 'setPools',
  args: z.strictObject({ segmentId: idSchema, pools: z.array(spanSchema).max(8) }),
  apply(draft, { segmentId, pools }) {
    segmentOf(draft as SitePlan, segmentId).pools = pools
  },
  describe: (plan, { segmentId, pools }) =>
    `Set the pools of ${plan.segments[segmentId]?.name ?? segmentId} to ` +
    `${pools.map((p) => `${p.first}-${p.last}`).join(', ') || 'none'}`,
})

const setGateway = defineEdit({
  name: 'setGateway',
  args: z.strictObject({ segmentId: idSchema, gateway: ipv4Schema }),
  apply(draft, { segmentId, gateway }) {
    segmentOf(draft as SitePlan, segmentId).gateway = gateway
    for (const d of Object.values(draft.devices))
      if (d.addressing.segmentId === segmentId && d.addressing.mode === 'fixed')
        d.addressing.gateway = gateway
  },
  describe: (plan, { segmentId, gateway }) =>
    `Set the gateway of ${plan.segments[segmentId]?.name ?? segmentId} to ${gateway}`,
})

const setAddressSpace = defineEdit({
  name: 'setAddressSpace',
  args: z.strictObject({ addressSpace: z.array(subnetSchema).min(1).max(8) }),
  apply(draft, { addressSpace }) {
    draft.site.addressSpace = addressSpace
  },
  describe: (_, { addressSpace }) => `Use ${addressSpace.join(', ')}`,
})

const setAddressSpace6 = defineEdit({
  name: 'setAddressSpace6',
  args: z.strictObject({ addressSpace6: z.array(subnet6Schema).max(4) }),
  apply(draft, { addressSpace6 }) {
    draft.site.addressSpace6 = addressSpace6
  },
  describe: (_, { addressSpace6 }) =>
    addressSpace6.length === 0 ? 'Use no IPv6' : `Use ${addressSpace6.join(', ')}`,
})

export const addressEditList = [
  allocateSegments,
  replanSegments,
  setSubnet,
  allocateSixtyFoursEdit,
  setPool,
  setPools,
  setGateway,
  setAddressSpace,
  setAddressSpace6,
]
