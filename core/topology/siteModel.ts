/**
 * The plan with its indexes: built once, read by every computation. Lookups that must succeed in a
 * valid plan do not return undefined.
 */
import {
  controllerPlace,
  inPlan,
  portIdOf,
  uplinksInOrder,
  type ControllerPlace,
  type Device,
  type Link,
  type Port,
  type Profile,
  type ProfilePort,
  type Segment,
  type SitePlan,
  type Uplink,
  type WirelessNetwork,
} from '../plan'
import { remembered, selected } from '../remember'

export interface SiteModel {
  readonly plan: SitePlan
  readonly devices: readonly Device[]
  readonly segments: readonly Segment[]
  readonly gateway: Device | undefined
  /** Where the controller is; null where the plan has none. */
  readonly controllerPlace: ControllerPlace | null
  /** The host of its own that it runs on. */
  readonly controller: Device | undefined
  readonly hasController: boolean
  /** Lines of the providers, in the order in which they are used. */
  readonly lines: readonly Uplink[]
  /** The line that traffic leaves by while all are well: the first that goes into a socket. */
  readonly wayOut: (Uplink & { readonly portId: string }) | undefined
  /** Those that throw where there is none: what refers to something in a valid plan finds it. */
  segment(id: string): Segment
  device(id: string): Device
  port(id: string): Port
  portsOf(deviceId: string): readonly Port[]
  linkAt(portId: string): Link | undefined
  /** The port at the other end of the cable. */
  peerOf(portId: string): Port | undefined
  profileOf(deviceId: string): Profile
  /** The version that a device is to run. */
  firmwareWanted(deviceId: string): string
  profilePortOf(portId: string): ProfilePort
  networksOf(accessPointId: string): readonly WirelessNetwork[]
  /** Hosts, wired or not, that belong to a segment. */
  membersOf(segmentId: string): readonly Device[]
  vlanName(segmentId: string): string
  portName(portId: string): string
}

/** The order in which devices are listed: from the provider inwards. */
const kinds: readonly Profile['kind'][] = [
  'modem',
  'gateway',
  'switch',
  'injector',
  'bridge-radio',
  'access-point',
  'range-extender',
  'controller',
  'host',
]

export const siteModel: (plan: SitePlan) => SiteModel = remembered((plan) => build(plan))

function grouped<T>(items: readonly T[], key: (item: T) => string | null): Map<string, T[]> {
  const out = new Map<string, T[]>()
  for (const item of items) {
    const k = key(item)
    if (k === null) continue
    const list = out.get(k)
    if (list) list.push(item)
    else out.set(k, [item])
  }
  return out
}

function devicesInOrder(plan: SitePlan): readonly Device[] {
  const kindOf = (d: Device): number => kinds.indexOf(inPlan(plan.profiles, d.profileId).kind)
  return Object.values(plan.devices).sort(
    (a, b) =>
      kindOf(a) - kindOf(b) || (a.name < b.name ? -1 : a.name > b.name ? 1 : a.id < b.id ? -1 : 1),
  )
}
// Indexes that an edit which leaves their parts of the plan alone need not make again.
const housing = (plan: SitePlan): readonly unknown[] => [plan.devices, plan.profiles]
const devicesOf = selected(housing, devicesInOrder)
/** In the order of the housing: a document out of a database has lost the order of its keys. */
const portIdsOf = selected(housing, (plan) =>
  devicesOf(plan).map(
    (d) =>
      [d.id, inPlan(plan.profiles, d.profileId).ports.map((p) => portIdOf(d.id, p.name))] as const,
  ),
)
const portsByDevice = selected(
  (plan: SitePlan) => [...housing(plan), plan.ports],
  (plan) =>
    new Map(portIdsOf(plan).map(([id, list]) => [id, list.map((p) => inPlan(plan.ports, p))])),
)
const membersBySegment = selected(housing, (plan) =>
  grouped(devicesOf(plan), (d) => d.addressing.segmentId),
)
const linksByPort = selected(
  (plan: SitePlan) => [plan.links],
  (plan): ReadonlyMap<string, Link> => {
    const links = new Map<string, Link>()
    for (const l of Object.values(plan.links)) links.set(l.a, l).set(l.b, l)
    return links
  },
)
const portsByProfile = selected(
  (plan: SitePlan) => [plan.profiles],
  (plan) =>
    new Map(
      Object.values(plan.profiles).map((profile) => [
        profile.id,
        new Map(profile.ports.map((p) => [p.name, p])),
      ]),
    ),
)

/**
 * Of several gateways the one that has the line, else the one with most cables: the others stand
 * for spares, or for another way out.
 */
function gatewayOf(
  gateways: readonly Device[],
  withLine: string | undefined,
  cables: (deviceId: string) => number,
): Device | undefined {
  if (gateways.length <= 1) return gateways[0]
  return (
    gateways.find((d) => d.id === withLine) ??
    gateways.reduce((most, d) => (cables(d.id) > cables(most.id) ? d : most))
  )
}

function build(plan: SitePlan): SiteModel {
  const lines = uplinksInOrder(plan)
  const place = controllerPlace(plan)
  const wayOut = lines.find((u): u is Uplink & { portId: string } => u.portId !== null)
  const devices = devicesOf(plan)
  const segments = Object.values(plan.segments).sort(
    (a, b) => a.vlanId - b.vlanId || (a.id < b.id ? -1 : 1),
  )
  const ports = portsByDevice(plan)
  const members = membersBySegment(plan)
  const links = linksByPort(plan)
  const profilePorts = portsByProfile(plan)
  const profileOf = (deviceId: string): Profile =>
    inPlan(plan.profiles, inPlan(plan.devices, deviceId).profileId)
  return {
    plan,
    devices,
    segments,
    controllerPlace: place,
    controller: place?.kind === 'host' ? place.device : undefined,
    hasController: place !== null,
    gateway: gatewayOf(
      devices.filter((d) => profileOf(d.id).kind === 'gateway'),
      wayOut && plan.ports[wayOut.portId]?.deviceId,
      (id) => (ports.get(id) ?? []).filter((p) => links.has(p.id)).length,
    ),
    lines,
    wayOut,
    segment: (id) => inPlan(plan.segments, id),
    device: (id) => inPlan(plan.devices, id),
    port: (id) => inPlan(plan.ports, id),
    portsOf: (id) => ports.get(id) ?? [],
    linkAt: (id) => links.get(id),
    peerOf: (id) => {
      const l = links.get(id)
      return l && plan.ports[l.a === id ? l.b : l.a]
    },
    profileOf,
    firmwareWanted: (id) =>
      inPlan(plan.devices, id).firmwareWanted ?? profileOf(id).firmware.wanted,
    profilePortOf: (id) => {
      const port = inPlan(plan.ports, id)
      return profilePorts.get(inPlan(plan.devices, port.deviceId).profileId)!.get(port.name)!
    },
    networksOf: (id) =>
      Object.values(plan.wirelessNetworks).filter((w) => w.accessPointIds.includes(id)),
    membersOf: (id) => members.get(id) ?? [],
    vlanName: (id) => {
      const s = plan.segments[id]
      return s ? `VLAN ${s.vlanId} ${s.name}` : id
    },
    portName: (id) => {
      const port = plan.ports[id]
      return port ? `${plan.devices[port.deviceId]?.name ?? port.deviceId} port ${port.name}` : id
    },
  }
}
