/** Edits of where segments lie in the address space. */
import { z } from 'zod'
import { allocate, prefix, type Allocation, type Prefix } from '../../addressing'
import { defineEdit, EditRefused } from '../edit'
import { idSchema, ipv4Schema, subnetSchema, type SitePlan } from '../schema'

/** Prefixes that this plan knows somebody else uses: the providers' LANs and hand-offs, the factory subnets of its equipment. */
export function foreignPrefixes(plan: SitePlan): Prefix[] {
  const texts = new Set<string>()
  for (const u of Object.values(plan.uplinks)) {
    if (u.handOff.providerLan && u.handOff.providerLan !== 'none') texts.add(u.handOff.providerLan)
    if (u.handOff.address) texts.add(networkOf(u.handOff.address))
  }
  for (const d of Object.values(plan.devices)) {
    const factory = plan.profiles[d.profileId]?.factory.address
    if (factory) texts.add(networkOf(factory))
  }
  return [...texts].map(prefix)
}

/** The network that an address with a length lies in, e.g. 203.0.113.10/29 -> 203.0.113.8/29. */
export function networkOf(addressWithLength: string): string {
  const [text, length] = addressWithLength.split('/') as [string, string]
  const value = text.split('.').reduce((sum, o) => (sum << 8n) | BigInt(o), 0n)
  const hostBits = BigInt(32 - Number(length))
  const network = (value >> hostBits) << hostBits
  return [24n, 16n, 8n, 0n].map((s) => String((network >> s) & 255n)).join('.') + `/${length}`
}

/** Devices that need an address outside the pool, per segment. */
export const fixedAddressCount = (plan: SitePlan, segmentId: string): number =>
  Object.values(plan.devices).filter((d) => d.addressing.segmentId === segmentId && d.addressing.mode !== 'automatic').length

export function allocationsFor(plan: SitePlan, segmentIds: readonly string[]): ReturnType<typeof allocate> {
  const moving = new Set(segmentIds)
  const staying = Object.values(plan.segments).filter((s) => !moving.has(s.id) && s.subnet).map((s) => prefix(s.subnet!))
  return allocate({
    space: plan.site.addressSpace.map(prefix),
    avoid: [...foreignPrefixes(plan), ...staying],
    needs: segmentIds.map((id) => {
      const s = plan.segments[id]
      if (!s) throw new EditRefused(`there is no segment '${id}'`)
      return { id, vlanId: s.vlanId, expectedHosts: s.expectedHosts, growthPercent: s.growthPercent, fixedAddresses: fixedAddressCount(plan, id) }
    }),
    gatewayPosition: plan.site.preferences.gatewayPosition,
    vlanNumbering: plan.site.preferences.vlanNumbering,
  })
}

const allocateSegments = defineEdit({
  name: 'allocateSegments',
  args: z.strictObject({ segmentIds: z.array(idSchema).min(1) }),
  apply(draft, { segmentIds }) {
    const { allocations, unplaced } = allocationsFor(draft as SitePlan, segmentIds)
    const [missing] = unplaced
    if (missing)
      throw new EditRefused(`no /${missing.length} is left in ${draft.site.addressSpace.join(', ')} for ${draft.segments[missing.id]!.name}; add space or expect fewer hosts`)
    for (const a of allocations) {
      const segment = draft.segments[a.id]!
      const { subnet, gateway, fixedBlock, pool } = a
      Object.assign(segment, { subnet, gateway, fixedBlock, pool } satisfies Omit<Allocation, 'id' | 'headroomPercent'>)
      renumberDevices(draft as SitePlan, a)
    }
  },
  describe: (plan, { segmentIds }) => `Place ${segmentIds.map((id) => plan.segments[id]?.name ?? id).join(', ')} in ${plan.site.addressSpace.join(', ')}`,
})

/** Gives the devices with reserved or fixed addresses of a segment the next ones of its fixed block, in the order of their ids. */
function renumberDevices(draft: SitePlan, allocation: Allocation): void {
  const own = Object.values(draft.devices).filter((d) => d.addressing.segmentId === allocation.id && d.addressing.mode !== 'automatic').sort((a, b) => (a.id < b.id ? -1 : 1))
  let next = allocation.fixedBlock.first
  for (const d of own) {
    d.addressing.address = next
    if (d.addressing.mode === 'fixed') d.addressing.gateway = allocation.gateway
    next = following(next)
  }
}

function following(text: string): string {
  const value = text.split('.').reduce((sum, o) => sum * 256 + Number(o), 0) + 1
  return [24, 16, 8, 0].map((s) => Math.floor(value / 2 ** s) % 256).join('.')
}

const setPool = defineEdit({
  name: 'setPool',
  args: z.strictObject({ segmentId: idSchema, first: ipv4Schema, last: ipv4Schema }),
  apply(draft, { segmentId, first, last }) {
    const segment = draft.segments[segmentId]
    if (!segment) throw new EditRefused(`there is no segment '${segmentId}'`)
    segment.pool = { first, last }
  },
  describe: (plan, { segmentId, first, last }) => `Set the pool of ${plan.segments[segmentId]?.name ?? segmentId} to ${first}-${last}`,
})

const setGateway = defineEdit({
  name: 'setGateway',
  args: z.strictObject({ segmentId: idSchema, gateway: ipv4Schema }),
  apply(draft, { segmentId, gateway }) {
    const segment = draft.segments[segmentId]
    if (!segment) throw new EditRefused(`there is no segment '${segmentId}'`)
    segment.gateway = gateway
    for (const d of Object.values(draft.devices))
      if (d.addressing.segmentId === segmentId && d.addressing.mode === 'fixed') d.addressing.gateway = gateway
  },
  describe: (plan, { segmentId, gateway }) => `Set the gateway of ${plan.segments[segmentId]?.name ?? segmentId} to ${gateway}`,
})

const setAddressSpace = defineEdit({
  name: 'setAddressSpace',
  args: z.strictObject({ addressSpace: z.array(subnetSchema).min(1).max(8) }),
  apply(draft, { addressSpace }) { draft.site.addressSpace = addressSpace },
  describe: (_, { addressSpace }) => `Use ${addressSpace.join(', ')}`,
})

export const addressEditList = [allocateSegments, setPool, setGateway, setAddressSpace]
