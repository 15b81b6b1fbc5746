/** An empty plan, and the services that every site starts with. */
import {
  collections,
  PLAN_VERSION,
  plainFailover,
  plainWireless,
  type Collection,
  type HandOff,
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

const emptyMaps = (): Pick<SitePlan, Collection> =>
  Object.fromEntries(collections.map((c) => [c, {}])) as unknown as Pick<SitePlan, Collection>

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
      failover: { ...plainFailover },
      wireless: { ...plainWireless },
      cabling: { slackPercent: 10, spareLeads: 2 },
      management: { banner: '', logTo: null, monitoring: null, backupEveryDays: 7 },
    },
    ...emptyMaps(),
    services: Object.fromEntries(commonServices.map((s) => [s.id, s])),
    controller: {
      hostDeviceId: null,
      elsewhere: null,
      hosted: null,
      port: 8043,
      discovery: 'dhcp-option',
      runs: 'always',
      accounts: 'local',
      bootstrap: null,
    },
  }
}

/** The lines in the order in which they are used. */
/** A line of weight 0 stands behind those whose order it has. */
const waits = (u: Uplink): number => (u.weight === 0 ? 1 : 0)
export const uplinksInOrder = (plan: SitePlan): Uplink[] =>
  Object.values(plan.uplinks).sort(
    (a, b) => a.rank - b.rank || waits(a) - waits(b) || (a.id < b.id ? -1 : 1),
  )

/**
 * Largest packet by a line, octets: as recorded, else what its kind leaves of an Ethernet frame
 * (RFC 2516 7: 1492 under PPPoE).
 */
export const lineMtuOf = (h: Pick<HandOff, 'mode' | 'mtu'>): number =>
  h.mtu ?? (h.mode === 'pppoe' ? 1492 : 1500)
