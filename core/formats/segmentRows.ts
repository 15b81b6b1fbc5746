/**
 * What readers of address plans have in common: what a file says of each segment, and the edits
 * that bring it into the plan.
 */
import { address, containsAddress, prefix } from '../addressing'
import {
  inPlan,
  editCall,
  firstFreeVlan,
  idFor,
  idsOf,
  segments as segmentKind,
  type Device,
  type EditCall,
  type Segment,
  type SitePlan,
} from '../plan'
import { siteModel } from '../topology'
import { hostLabel, hostNames } from '../naming'
import type { LineProblem } from './format'

/** What a file says of one segment; absent fields are left as they are. */
export type SegmentFacts = Partial<Omit<Segment, 'id'>>
export interface SegmentRow {
  readonly line: number
  readonly text: string
  readonly facts: SegmentFacts | null
  readonly problems: readonly LineProblem[]
}
/** What a file says of one host's address. */
export interface HostFact {
  readonly line: number
  /** Whose it is: by hardware address, else by its name in the DNS. */
  readonly hardwareAddress: string | null
  readonly name: string | null
  readonly address: string | null
  /** Typed into the host itself, with its gateway; null where the file does not say so. */
  readonly typed: { readonly gateway: string | null } | null
}
export interface AddressFile {
  readonly rows: readonly SegmentRow[]
  readonly hosts: readonly HostFact[]
  readonly problems: readonly LineProblem[]
  /** Lines that are understood and have no place in a plan. */
  readonly leftOut: readonly LineProblem[]
}

export interface AddressImport {
  readonly edits: readonly EditCall[]
  /** Segments. */
  readonly adds: number
  readonly changes: number
  readonly same: number
  /** Devices that get another address. */
  readonly hosts: number
  /**
   * Hosts that the plan does not know, with the edit that takes each in; null where its address
   * lies in no segment.
   */
  readonly strangers: readonly { readonly fact: HostFact; readonly takeIn: EditCall | null }[]
  /** Lines that give a device another address than a line before; the first counts. */
  readonly contradictions: readonly LineProblem[]
}

const plain = (value: unknown): string => JSON.stringify(value)

/**
 * The edits that a file asks for: segments are known by their VLAN, else by name, else by subnet;
 * devices by hardware address, else by name.
 */
export function importOf(plan: SitePlan, file: AddressFile): AddressImport {
  const edits: EditCall[] = []
  let [adds, changes, same, hosts] = [0, 0, 0, 0]
  const taken = idsOf(plan)
  const segments = Object.values(plan.segments)
  const subnets = new Map<string, string>(
    segments.flatMap((s) => (s.subnet ? [[s.subnet, s.id]] : [])),
  )
  for (const { facts } of file.rows) {
    if (!facts) continue
    const there =
      segments.find((s) => facts.vlanId !== undefined && s.vlanId === facts.vlanId) ??
      segments.find(
        (s) => facts.name !== undefined && s.name.toLowerCase() === facts.name.toLowerCase(),
      ) ??
      segments.find((s) => facts.subnet && s.subnet === facts.subnet)
    if (there) {
      const different = Object.fromEntries(
        Object.entries(facts).filter(([k, v]) => plain(v) !== plain(there[k as keyof Segment])),
      )
      if (facts.subnet) subnets.set(facts.subnet, there.id)
      if (Object.keys(different).length === 0) {
        same++
        continue
      }
      changes++
      edits.push(editCall('changeSegment', { id: there.id, changes: different }))
    } else {
      const vlanId = facts.vlanId ?? nextVlan(plan, edits)
      const name = facts.name ?? `VLAN ${vlanId}`
      const id = idFor(name, taken)
      taken.add(id)
      if (facts.subnet) subnets.set(facts.subnet, id)
      adds++
      edits.push(
        editCall('addSegment', {
          ...structuredClone(segmentKind.blank),
          purpose: 'staff',
          expectedHosts: 20,
          ...facts,
          id,
          name,
          vlanId,
        }),
      )
    }
  }
  const known = whoIsWho(plan)
  const gateways = new Set([
    ...segments.map((s) => s.gateway),
    ...file.rows.map((r) => r.facts?.gateway),
  ])
  const strangers: { fact: HostFact; takeIn: EditCall | null }[] = []
  const contradictions: LineProblem[] = []
  const said = new Map<string, HostFact>()
  for (const fact of file.hosts) {
    const segmentId =
      fact.address === null
        ? undefined
        : [...subnets].find(([subnet]) => within(subnet, fact.address!))?.[1]
    const device = known(fact)
    if (device) {
      const { addressing } = device
      const before = said.get(device.id)
      if (before && before.address !== fact.address)
        contradictions.push({
          line: fact.line,
          column: 1,
          reason:
            `line ${before.line} gives ${device.name} ${before.address ?? 'no address'}, this ` +
            `one ${fact.address ?? 'none'}; the first counts`,
        })
      if (before) continue
      said.set(device.id, fact)
      if (
        fact.address === null ||
        (addressing.address === fact.address && addressing.mode !== 'automatic')
      )
        continue
      const mode = fact.typed
        ? 'fixed'
        : fact.hardwareAddress || addressing.mode === 'automatic'
          ? 'reserved'
          : addressing.mode
      hosts++
      edits.push(
        editCall('changeDevice', {
          id: device.id,
          changes: {
            addressing: {
              mode,
              segmentId: segmentId ?? addressing.segmentId,
              address: fact.address,
              gateway: mode === 'fixed' ? (fact.typed?.gateway ?? addressing.gateway) : null,
            },
          },
        }),
      )
    } else if (fact.address === null || !gateways.has(fact.address))
      strangers.push({
        fact,
        takeIn:
          segmentId === undefined
            ? null
            : newHost(fact, segmentId, plan.segments[segmentId]?.gateway ?? null, taken),
      })
  }
  return { edits, adds, changes, same, hosts, strangers, contradictions }
}

/**
 * Devices by what a file calls them: their hardware address, their name in the DNS, the name of
 * their file.
 */
function whoIsWho(plan: SitePlan): (fact: HostFact) => Device | undefined {
  const devices = Object.values(plan.devices)
  const byHardware = new Map(
    devices.flatMap((d) => (d.hardwareAddress ? [[d.hardwareAddress, d] as const] : [])),
  )
  const byName = new Map([
    ...devices.map((d) => [hostLabel(d.name), d] as const).reverse(),
    ...hostNames(siteModel(plan)).flatMap((n) =>
      n.deviceId ? [[n.label, inPlan(plan.devices, n.deviceId)] as const] : [],
    ),
    ...devices.map((d) => [d.id, d] as const),
  ])
  return (fact) =>
    (fact.hardwareAddress ? byHardware.get(fact.hardwareAddress) : undefined) ??
    (fact.name ? byName.get(fact.name.toLowerCase().split('.')[0]!) : undefined)
}

function newHost(
  fact: HostFact,
  segmentId: string,
  gateway: string | null,
  taken: Set<string>,
): EditCall {
  const name = fact.name?.split('.')[0] ?? fact.hardwareAddress ?? fact.address!
  const id = idFor(name, taken)
  taken.add(id)
  const isReserved = fact.hardwareAddress !== null && fact.typed === null
  return editCall('addDevice', {
    id,
    name,
    profileId: 'wired-host',
    hardwareAddress: fact.hardwareAddress,
    stays: true,
    addressing: {
      mode: isReserved ? 'reserved' : 'fixed',
      segmentId,
      address: fact.address,
      gateway: isReserved ? null : (fact.typed?.gateway ?? gateway),
    },
  })
}

const within = (subnet: string, text: string): boolean =>
  containsAddress(prefix(subnet), address(text))

function nextVlan(plan: SitePlan, edits: readonly EditCall[]): number {
  const used = new Set([
    ...Object.values(plan.segments).map((s) => s.vlanId),
    ...edits.flatMap((e) => (e.name === 'addSegment' ? [(e.args as Segment).vlanId] : [])),
  ])
  // Where all are taken the schema says that there is no VLAN 0.
  return firstFreeVlan('management', used) ?? 0
}
