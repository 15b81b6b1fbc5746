/** An empty plan, and the services that every site starts with. */
import { PLAN_VERSION, type Service, type SitePlan } from './schema'

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

export function createPlan(name: string, addressSpace: readonly string[] = ['10.2.0.0/16']): SitePlan {
  return {
    version: PLAN_VERSION,
    site: {
      name, country: 'GB', timeZone: 'Europe/London', units: 'metric', addressSpace: [...addressSpace],
      preferences: { vlanNumbering: 'third-octet', gatewayPosition: 'first', betweenSegments: 'deny' },
    },
    locations: {}, profiles: {}, devices: {}, ports: {}, links: {}, segments: {}, uplinks: {}, wirelessNetworks: {},
    services: Object.fromEntries(commonServices.map((s) => [s.id, s])),
    intents: {},
    controller: { hostDeviceId: null, port: 8043, discovery: 'dhcp-option' },
  }
}

export const unknownHandOff: SitePlan['uplinks'][string]['handOff'] = {
  mode: null, vlan: null, priority: null, mtu: null, addressKind: null, address: null, gateway: null, nameServers: [],
  providerLan: null, pinnedHardwareAddress: null, downMbps: null, upMbps: null,
}
