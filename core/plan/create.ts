/** An empty plan, and the services that every site starts with. */
import {
  PLAN_VERSION,
  type Device,
  type HandOff,
  type Location,
  type Segment,
  type Service,
  type SitePlan,
  type Uplink,
} from './schema'

/** Port numbers from the IANA service name registry. */
export const commonServices: readonly Service[] = [
  { id: 'svc-ping', name: 'ping', protocol: 'icmp', ports: [] },
  { id: 'svc-web', name: 'web', protocol: 'tcp', ports: [80, 443] },
  { id: 'svc-dns', name: 'names', protocol: 'udp', ports: [53] },
  { id: 'svc-ssh', name: 'secure shell', protocol: 'tcp', ports: [22] },
  { id: 'svc-video', name: 'video stream', protocol: 'tcp', ports: [554] },
  { id: 'svc-print', name: 'printing', protocol: 'tcp', ports: [631] },
  { id: 'svc-files', name: 'file shares', protocol: 'tcp', ports: [445] },
]

export function createPlan(
  name: string,
  addressSpace: readonly string[] = ['10.2.0.0/16'],
): SitePlan {
  return {
    version: PLAN_VERSION,
    site: {
      name,
      country: 'GB',
      timeZone: 'Europe/London',
      units: 'metric',
      addressSpace: [...addressSpace],
      addressSpace6: [],
      domain: null,
      electricity: null,
      preferences: {
        vlanNumbering: 'third-octet',
        gatewayPosition: 'first',
        vlanOne: 'empty',
        infrastructure: 'reserved',
        betweenSegments: 'deny',
        growthYears: 3,
        spanningTreeRootId: null,
      },
      cabling: { slackPercent: 10, spareLeads: 2 },
      management: { banner: '', logTo: null, monitoring: null },
    },
    locations: {},
    profiles: {},
    devices: {},
    ports: {},
    links: {},
    segments: {},
    uplinks: {},
    wirelessNetworks: {},
    services: Object.fromEntries(commonServices.map((s) => [s.id, s])),
    groups: {},
    intents: {},
    forwards: {},
    knownNetworks: {},
    controller: { hostDeviceId: null, port: 8043, discovery: 'dhcp-option' },
  }
}

export const unknownHandOff: HandOff = {
  mode: null,
  pppoeUser: null,
  passwordRef: null,
  accessPointName: null,
  forcedSpeedMbps: null,
  ipv6: null,
  vlan: null,
  priority: null,
  mtu: null,
  addressKind: null,
  address: null,
  gateway: null,
  nameServers: [],
  providerLan: null,
  pinnedHardwareAddress: null,
  downMbps: null,
  upMbps: null,
  cap: null,
}

/** What a new entity has where nothing else is said of it. */
export const blankLocation: Omit<Location, 'id' | 'name'> = {
  kind: 'building',
  mains: true,
  outlets: null,
  outletDistanceM: null,
  latitude: null,
  longitude: null,
  heightM: null,
  people: 0,
  clients: [],
}
export const blankSegment: Omit<Segment, 'id' | 'name' | 'purpose' | 'vlanId' | 'expectedHosts'> = {
  growthPercent: 50,
  subnet: null,
  gateway: null,
  fixedBlock: null,
  pools: [],
  leaseSeconds: 86_400,
  subnet6: null,
  locked: false,
  alignLength: null,
  dhcp: { mode: 'server', relayTo: null },
  options: { nameServers: [], timeServers: [], routes: [] },
  churn: null,
}
export const blankUplink: Omit<Uplink, 'id' | 'name'> = {
  rank: 0,
  portId: null,
  handOff: unknownHandOff,
}
export const blankDevice: Omit<Device, 'id' | 'name' | 'profileId'> = {
  locationId: null,
  serial: null,
  hardwareAddress: null,
  firmware: null,
  addressing: { mode: 'automatic', segmentId: null, address: null, gateway: null },
  power: 'outlet',
  stays: false,
  licencesHeld: [],
  wirelessNetworkId: null,
  serviceIds: [],
}

/** The lines in the order in which they are used. */
export const uplinksInOrder = (plan: SitePlan): Uplink[] =>
  Object.values(plan.uplinks).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))

/**
 * Largest packet by a line, octets: as recorded, else what its kind leaves of an Ethernet frame
 * (RFC 2516 7: 1492 under PPPoE).
 */
export const lineMtuOf = (h: Pick<HandOff, 'mode' | 'mtu'>): number =>
  h.mtu ?? (h.mode === 'pppoe' ? 1492 : 1500)
