/** Values and fields of a plan in words, for histories and conflicts. */
import { own } from './inherited'
import { collections, type Collection, type SitePlan } from './schema'

const fieldWords: Readonly<Record<string, string>> = {
  vlanId: 'VLAN',
  expectedHosts: 'expected hosts',
  growthPercent: 'growth, %',
  fixedBlock: 'fixed block',
  leaseSeconds: 'lease, s',
  untaggedSegmentId: 'untagged',
  taggedSegmentIds: 'tagged',
  hardwareAddress: 'hardware address',
  locationId: 'place',
  profileId: 'profile',
  segmentId: 'segment',
  wirelessNetworkId: 'joins',
  serviceIds: 'offers',
  accessPointIds: 'on',
  keyRef: 'key',
  clientIsolation: 'client isolation',
  lengthM: 'length, m',
  portId: 'port',
  handOff: 'hand-off',
  hostDeviceId: 'runs on',
  addressSpace: 'address space',
  timeZone: 'time zone',
  a: 'one end',
  b: 'other end',
  betweenSegments: 'between segments',
  gatewayPosition: 'gateway position',
  vlanNumbering: 'VLAN numbering',
  providerLan: "provider's LAN",
  pinnedHardwareAddress: 'pinned hardware address',
  addressKind: 'kind of address',
  nameServers: 'name servers',
  downMbps: 'down, Mbit/s',
  upMbps: 'up, Mbit/s',
  addressSpace6: 'IPv6 space',
  vlanOne: 'VLAN 1',
  infrastructure: 'addresses of infrastructure',
  growthYears: 'growth over, years',
  electricity: 'electricity',
  pricePerKwh: 'price per kWh',
  cabling: 'cabling',
  slackPercent: 'slack, %',
  spareLeads: 'spare leads',
  outletDistanceM: 'to the outlet, m',
  heightM: 'height, m',
  licencesHeld: 'licences',
  subnet6: 'IPv6 subnet',
  alignLength: 'aligned to',
  relayTo: 'relayed to',
  timeServers: 'time servers',
  churn: 'coming and going',
  arrivalsPerHour: 'arrivals an hour',
  heldMinutes: 'stay, min',
  fromHour: 'from, h',
  toHour: 'to, h',
  pppoeUser: 'PPPoE account',
  passwordRef: 'password',
  accessPointName: 'access point name',
  forcedSpeedMbps: 'forced speed, Mbit/s',
  pricePerGb: 'price per GB',
  gigabytes: 'included, GB',
  dhcp: 'DHCP',
  ipv6: 'IPv6',
  leadM: 'lead, m',
  serialShape: 'shape of serials',
  pools: 'pools',
  memberIds: 'members',
  fromMinute: 'from, min',
  toMinute: 'to, min',
}
const topWords: Record<Collection | 'site' | 'controller', string> = {
  site: 'site',
  controller: 'controller',
  locations: 'place',
  profiles: 'profile',
  devices: 'device',
  ports: 'port',
  links: 'cable',
  segments: 'segment',
  uplinks: 'line',
  wirelessNetworks: 'wireless network',
  services: 'service',
  groups: 'group',
  intents: 'intent',
  forwards: 'port forward',
  knownNetworks: 'known network',
}

export const wordsForTop = (top: string): string => own(topWords, top) ?? top
export const wordsForField = (field: string): string =>
  field
    .split('.')
    .map((f) => own(fieldWords, f) ?? f)
    .join(', ')

/** The name of whatever has an id, in a plan or the id where nothing has. */
export function nameOfId(plan: SitePlan, id: string): string {
  const port = own(plan.ports, id)
  if (port) return `${plan.devices[port.deviceId]?.name ?? port.deviceId} port ${port.name}`
  const link = own(plan.links, id)
  if (link) return `${nameOfId(plan, link.a)} to ${nameOfId(plan, link.b)}`
  const intent = own(plan.intents, id)
  if (intent) return `${nameOfId(plan, intent.from)} to ${nameOfId(plan, intent.to)}`
  for (const c of collections) {
    const entity = own<{ name?: string }>(plan[c] as Record<string, { name?: string }>, id)
    if (entity?.name) return entity.name
  }
  return id
}

/** A value as a person would say it: names for ids, spans with a dash, `none` for nothing. */
export function valueWords(plan: SitePlan, value: unknown): string {
  if (value === null || value === undefined) return 'none'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(value)
  if (typeof value === 'string') return value === '' ? 'none' : nameOfId(plan, value)
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : value.map((v) => valueWords(plan, v)).join(', ')
  const fields = value as Record<string, unknown>
  if (typeof fields.first === 'string' && typeof fields.last === 'string')
    return `${fields.first}-${fields.last}`
  return (
    Object.entries(fields)
      .filter(([k, v]) => k !== 'id' && v !== null && !(Array.isArray(v) && v.length === 0))
      .map(([k, v]) => `${wordsForField(k)} ${valueWords(plan, v)}`)
      .join('; ') || 'none'
  )
}
