/** What readers of address plans have in common: what a file says of each segment, and the edits that bring it into the plan. */
import { blankSegment, type EditCall, type Segment, type SitePlan } from '../plan'
import { idFor } from './equipmentCsv'

export interface LineProblem { readonly line: number; readonly column: number; readonly reason: string }
/** What a file says of one segment; absent fields are left as they are. */
export type SegmentFacts = Partial<Omit<Segment, 'id'>>
export interface SegmentRow { readonly line: number; readonly text: string; readonly facts: SegmentFacts | null; readonly problems: readonly LineProblem[] }
export interface ReservationFact { readonly line: number; readonly hardwareAddress: string; readonly address: string | null; readonly name: string | null }
export interface AddressFile {
  readonly rows: readonly SegmentRow[]
  readonly reservations: readonly ReservationFact[]
  readonly problems: readonly LineProblem[]
  /** Lines that are understood and have no place in a plan. */
  readonly leftOut: readonly LineProblem[]
}

export interface AddressImport { readonly edits: readonly EditCall[]; readonly adds: number; readonly changes: number; readonly same: number; readonly reservations: number; /** Reservations of nobody known. */ readonly strangers: readonly ReservationFact[] }

const plain = (value: unknown): string => JSON.stringify(value)

/** The edits that a file asks for: segments are known by their VLAN, else by name, else by subnet; devices by hardware address. */
export function importOf(plan: SitePlan, file: AddressFile): AddressImport {
  const edits: EditCall[] = []
  let [adds, changes, same, reservations] = [0, 0, 0, 0]
  const taken = new Set([...Object.keys(plan.segments), ...Object.keys(plan.devices), ...Object.keys(plan.locations), ...Object.keys(plan.profiles)])
  const segments = Object.values(plan.segments)
  const subnets = new Map<string, string>(segments.flatMap((s) => (s.subnet ? [[s.subnet, s.id]] : [])))
  for (const { facts } of file.rows) {
    if (!facts) continue
    const known = segments.find((s) => facts.vlanId !== undefined && s.vlanId === facts.vlanId) ?? segments.find((s) => facts.name !== undefined && s.name.toLowerCase() === facts.name.toLowerCase())
      ?? segments.find((s) => facts.subnet && s.subnet === facts.subnet)
    if (known) {
      const different = Object.fromEntries(Object.entries(facts).filter(([k, v]) => plain(v) !== plain(known[k as keyof Segment])))
      if (facts.subnet) subnets.set(facts.subnet, known.id)
      if (Object.keys(different).length === 0) { same++; continue }
      changes++
      edits.push({ name: 'changeSegment', args: { id: known.id, changes: different } })
    } else {
      const vlanId = facts.vlanId ?? nextVlan(plan, edits)
      const name = facts.name ?? `VLAN ${vlanId}`
      const id = idFor(name, taken)
      taken.add(id)
      if (facts.subnet) subnets.set(facts.subnet, id)
      adds++
      edits.push({ name: 'addSegment', args: { ...structuredClone(blankSegment), purpose: 'staff', expectedHosts: 20, ...facts, id, name, vlanId } })
    }
  }
  const byHardware = new Map(Object.values(plan.devices).flatMap((d) => (d.hardwareAddress ? [[d.hardwareAddress, d] as const] : [])))
  const strangers: ReservationFact[] = []
  for (const r of file.reservations) {
    const device = byHardware.get(r.hardwareAddress)
    if (!device) { strangers.push(r); continue }
    if (r.address === null || (device.addressing.address === r.address && device.addressing.mode !== 'automatic')) continue
    const segmentId = [...subnets].find(([subnet]) => within(subnet, r.address!))?.[1] ?? device.addressing.segmentId
    reservations++
    edits.push({ name: 'changeDevice', args: { id: device.id, changes: { addressing: { mode: 'reserved', segmentId, address: r.address, gateway: null } } } })
  }
  return { edits, adds, changes, same, reservations, strangers }
}

function within(subnet: string, text: string): boolean {
  const [network, length] = subnet.split('/') as [string, string]
  const value = (t: string): number => t.split('.').reduce((n, o) => n * 256 + Number(o), 0)
  const size = 2 ** (32 - Number(length))
  return Math.floor(value(text) / size) === Math.floor(value(network) / size)
}

function nextVlan(plan: SitePlan, edits: readonly EditCall[]): number {
  const used = new Set([...Object.values(plan.segments).map((s) => s.vlanId), ...edits.flatMap((e) => (e.name === 'addSegment' ? [(e.args as Segment).vlanId] : []))])
  let vlan = 10
  while (used.has(vlan)) vlan += 10
  return vlan
}
