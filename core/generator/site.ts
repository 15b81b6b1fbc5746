/**
 * Sites made up from a seed: devices in a tree of trunks, segments, hosts of every way of
 * addressing, intents in any order, a line of any
 * kind. Valid plans, with or without mistakes in the wiring; what tries the analysis against the
 * stand-ins, the kernel and the clock.
 */
import { addressAfter } from '../addressing'
import {
  inPlan,
  allocationsFor,
  ANYWHERE,
  segments,
  catalogue,
  commonServices,
  createPlan,
  MANAGED,
  plainLine,
  portIdOf,
  unknownHandOff,
  type Device,
  type HandOff,
  type Hours,
  wirelessNetworks,
  type Segment,
  type Service,
  type SitePlan,
} from '../plan'
import type { Chance } from './random'

export interface Shape {
  readonly switches: number
  readonly accessPoints: number
  readonly segments: number
  readonly hostsPerSegment: number
  readonly intents: number
  /** Probability that a trunk or a socket of a host is wired wrongly. */
  readonly mistakes: number
  /**
   * Whether intents speak of hosts, groups, everywhere, the managed devices and hours as well, and
   * ports are forwarded.
   */
  readonly finer?: boolean
  readonly switchProfile: 'switch-24-poe-190' | 'switch-8-poe-65'
}

/** A small site of random size, as the judges compare them by the hundred. */
export const smallShape = (chance: Chance, mistakes: number): Shape => ({
  switches: chance.between(1, 4),
  accessPoints: chance.between(0, 1),
  segments: chance.between(2, 5),
  hostsPerSegment: chance.between(1, 2),
  intents: chance.between(0, 14),
  mistakes,
  finer: true,
  switchProfile: 'switch-8-poe-65',
})

/** What a clock is put beside: 200 devices, 60 segments, some 5,000 ports. */
export const largeShape: Shape = {
  switches: 190,
  accessPoints: 2,
  segments: 60,
  hostsPerSegment: 0.12,
  intents: 200,
  mistakes: 0,
  switchProfile: 'switch-24-poe-190',
}

const mac = (n: number): string =>
  `02:${[0, n >>> 24, n >>> 16, n >>> 8, n].map((o) => (o & 255).toString(16).padStart(2, '0')).join(':')}`

interface Socket {
  readonly portId: string
  readonly deviceId: string
}

export function randomSite(chance: Chance, shape: Shape): SitePlan {
  const plan = createPlan(`Site ${chance.between(1000, 9999)}`, ['10.0.0.0/8'])
  Object.assign(plan.site.preferences, {
    vlanNumbering: chance.one(['third-octet', 'free']),
    gatewayPosition: chance.one(['first', 'last']),
    betweenSegments: chance.one(['deny', 'deny', 'allow']),
  })
  addServices(plan, chance)
  addSegments(plan, chance, shape)
  const segmentIds = Object.keys(plan.segments)
  let serial = 0
  const addDevice = (id: string, profileId: string, more: Partial<Device> = {}): void => {
    const profile = catalogue[profileId]!
    plan.profiles[profileId] ??= structuredClone(profile)
    plan.devices[id] = {
      id,
      name: id,
      profileId,
      locationId: null,
      serial: profile.adoptable ? `AM-${String(++serial).padStart(6, '0')}` : null,
      hardwareAddress: mac(++serial * 16),
      firmware: null,
      addressing: { mode: 'automatic', segmentId: null, address: null, gateway: null },
      power: 'outlet',
      stays: false,
      licencesHeld: [],
      wirelessNetworkId: null,
      serviceIds: [],
      place: null,
      radios: [],
      mode: null,
      listensToId: null,
      school: null,
      setUpAt: null,
      setUpBy: null,
      watchdog: null,
      firmwareWanted: null,
      ...more,
    }
    for (const p of profile.ports)
      plan.ports[portIdOf(id, p.name)] = {
        id: portIdOf(id, p.name),
        deviceId: id,
        name: p.name,
        untaggedSegmentId: null,
        taggedSegmentIds: [],
      }
  }
  const inManagement = (mode: 'reserved' | 'automatic'): Partial<Device> => ({
    addressing: { mode, segmentId: 'seg-0', address: null, gateway: null },
  })

  addDevice('gw', 'gateway-4-2')
  const free: Socket[] = lanSockets(plan, 'gw')
  let links = 0
  const trunk = (deviceId: string): void => {
    const [up] = free.splice(chance.between(0, Math.min(free.length - 1, 3)), 1)
    const [own, ...rest] = lanSockets(plan, deviceId)
    link(plan, `l-${++links}`, up!.portId, own!.portId)
    for (const s of [up!, own!]) {
      inPlan(plan.ports, s.portId).untaggedSegmentId = 'seg-0'
      inPlan(plan.ports, s.portId).taggedSegmentIds = segmentIds
        .slice(1)
        .filter(() => !chance.happens(shape.mistakes / 4))
    }
    free.push(...rest)
  }
  for (let i = 0; i < shape.switches; i++) {
    addDevice(`sw-${i}`, shape.switchProfile, inManagement(chance.one(['reserved', 'automatic'])))
    trunk(`sw-${i}`)
  }
  for (let i = 0; i < shape.accessPoints && free.length > 1; i++) {
    addDevice(`ap-${i}`, 'ap-indoor-2x2', { ...inManagement('automatic'), power: 'poe' })
    trunk(`ap-${i}`)
    const segmentId = chance.one(segmentIds)
    const isOpen = chance.happens(0.3)
    plan.wirelessNetworks[`wifi-${i}`] = {
      id: `wifi-${i}`,
      name: `Air ${i}`,
      segmentId,
      security: isOpen ? 'open' : 'wpa2-wpa3',
      keyRef: isOpen ? null : `key-wifi-${i}`,
      ...wirelessNetworks.blank,
      clientIsolation: chance.happens(0.5),
      accessPointIds: [`ap-${i}`],
    }
    for (let h = 0; h < 2; h++)
      addDevice(`air-${i}-${h}`, 'handset', {
        wirelessNetworkId: `wifi-${i}`,
        addressing: { mode: 'automatic', segmentId, address: null, gateway: null },
      })
  }
  const hosts = Math.round(shape.segments * shape.hostsPerSegment)
  for (let i = 0; i < hosts && free.length > 0; i++) {
    const segmentId = segmentIds[i % segmentIds.length]!
    addDevice(`host-${i}`, 'wired-host', {
      addressing: {
        mode: chance.one(['automatic', 'automatic', 'reserved', 'fixed']),
        segmentId,
        address: null,
        gateway: null,
      },
    })
    const [socket] = free.splice(chance.between(0, free.length - 1), 1)
    link(plan, `l-${++links}`, socket!.portId, portIdOf(`host-${i}`, 'eth0'))
    inPlan(plan.ports, socket!.portId).untaggedSegmentId = chance.happens(shape.mistakes)
      ? chance.one([...segmentIds, null])
      : segmentId
  }
  for (const d of Object.values(plan.devices))
    if (inPlan(plan.profiles, d.profileId).kind === 'host')
      d.serviceIds = Object.keys(plan.services)
  addAddresses(plan)
  addLine(plan, chance)
  addIntents(plan, chance, shape.intents)
  if (shape.finer) addFiner(plan, chance)
  if (shape.finer && shape.mistakes > 0 && chance.happens(0.5)) addLoop(plan, chance)
  return plan
}

function lanSockets(plan: SitePlan, deviceId: string): Socket[] {
  return inPlan(plan.profiles, inPlan(plan.devices, deviceId).profileId)
    .ports.filter((p) => p.role === 'lan' && p.medium === 'copper')
    .map((p) => ({ portId: portIdOf(deviceId, p.name), deviceId }))
}
const link = (plan: SitePlan, id: string, a: string, b: string): void => {
  plan.links[id] = { id, a, b, medium: 'copper', lengthM: 10 }
}

/** Beside the common ones some that share ports with them, so that the order of rules matters. */
function addServices(plan: SitePlan, chance: Chance): void {
  for (const s of commonServices) plan.services[s.id] = { ...s, ports: [...s.ports] }
  for (let i = 0; i < 3; i++) {
    const protocol = chance.one(['tcp', 'tcp', 'udp'] as const)
    plan.services[`svc-r${i}`] = {
      id: `svc-r${i}`,
      name: `random ${i}`,
      protocol,
      ports: [chance.one([80, 443, 22, 53, 445]), ...spanFrom(chance)],
    }
  }
}

/** One port, or a span of some. */
function spanFrom(chance: Chance): Service['ports'] {
  const first = chance.between(1024, 9000)
  return chance.happens(0.3) ? [{ first, last: first + chance.between(1, 2000) }] : [first]
}

function addSegments(plan: SitePlan, chance: Chance, shape: Shape): void {
  const purposes = [
    'staff',
    'servers',
    'payments',
    'cameras',
    'voice',
    'instruments',
    'guests',
  ] as const
  const vlans = new Set<number>()
  for (let i = 0; i < shape.segments; i++) {
    let vlanId = chance.between(2, 250)
    while (vlans.has(vlanId)) vlanId = chance.between(2, 4000)
    vlans.add(vlanId)
    const id = `seg-${i}`
    plan.segments[id] = {
      ...structuredClone(segments.blank),
      id,
      name: `Segment ${i}`,
      purpose: i === 0 ? 'management' : chance.one(purposes),
      vlanId,
      expectedHosts: chance.between(4, 300),
      growthPercent: chance.one([0, 50, 100]),
    } satisfies Segment
  }
}

/** Subnets by the planner, then the fixed and reserved addresses from the blocks. */
function addAddresses(plan: SitePlan): void {
  const { allocations } = allocationsFor(plan, Object.keys(plan.segments))
  for (const { id, subnet, gateway, fixedBlock, pool } of allocations) {
    Object.assign(inPlan(plan.segments, id), { subnet, gateway, fixedBlock, pools: [pool] })
    let next = fixedBlock.first
    for (const d of Object.values(plan.devices).filter(
      (x) => x.addressing.segmentId === id && x.addressing.mode !== 'automatic',
    )) {
      d.addressing.address = next
      if (d.addressing.mode === 'fixed') d.addressing.gateway = gateway
      next = addressAfter(next, 1)
    }
  }
}

function addLine(plan: SitePlan, chance: Chance): void {
  const kind = chance.one(['automatic', 'fixed', 'private', 'carrier-grade'] as const)
  const handOff: HandOff = {
    ...unknownHandOff,
    mode: kind === 'fixed' ? 'fixed' : 'automatic',
    vlan: chance.one(['untagged', 7, 35, 100]),
    priority: 0,
    mtu: 1500,
    pinnedHardwareAddress: 'none',
    addressKind:
      kind === 'private' ? 'private' : kind === 'carrier-grade' ? 'carrier-grade' : 'public',
    providerLan: kind === 'private' ? '192.168.77.0/24' : 'none',
    ...(kind === 'fixed'
      ? { address: '203.0.113.10/29', gateway: '203.0.113.9', nameServers: ['198.51.100.53'] }
      : {}),
  }
  plan.uplinks.line = {
    id: 'line',
    name: 'Line',
    rank: 0,
    portId: 'gw.wan1',
    handOff,
    ...plainLine,
  }
}

/** Any pair, any service, any order, equal ranks included. */
function addIntents(plan: SitePlan, chance: Chance, count: number): void {
  const places = [...Object.keys(plan.segments), 'internet']
  for (let i = 0; i < count; i++) {
    const from = chance.one(places)
    const to = chance.one(places)
    if (from === to) continue
    const id = `int-${i}`
    plan.intents[id] = {
      id,
      from,
      to,
      service: chance.happens(0.3) ? 'any' : chance.one(Object.keys(plan.services)),
      action: chance.one(['allow', 'allow', 'deny']),
      rank: chance.between(0, 6) * 10,
      hours: null,
      reason: '',
    }
  }
}

/**
 * A second cable between two bridges, closing a loop that the spanning tree has to open; with tags
 * of its own, so that it matters which cable that is.
 */
function addLoop(plan: SitePlan, chance: Chance): void {
  const used = new Set([
    ...Object.values(plan.links).flatMap((l) => [l.a, l.b]),
    ...Object.values(plan.uplinks).map((u) => u.portId),
  ])
  const free = ['gw', ...Object.keys(plan.devices).filter((id) => id.startsWith('sw-'))]
    .map((id) => lanSockets(plan, id).filter((s) => !used.has(s.portId)))
    .filter((list) => list.length > 0)
  if (free.length < 2) return
  const [one, ...others] = [...free].sort(() => (chance.happens(0.5) ? 1 : -1))
  const ends = [chance.one(one!), chance.one(chance.one(others))]
  link(plan, 'l-loop', ends[0]!.portId, ends[1]!.portId)
  for (const s of ends)
    Object.assign(inPlan(plan.ports, s.portId), {
      untaggedSegmentId: 'seg-0',
      taggedSegmentIds: Object.keys(plan.segments)
        .slice(1)
        .filter(() => chance.happens(0.7)),
    })
  const roots = ['gw', ...Object.keys(plan.devices).filter((id) => id.startsWith('sw-'))]
  plan.site.preferences.spanningTreeRootId = chance.happens(0.4) ? chance.one(roots) : null
}

/**
 * Hosts, groups, everywhere, managed devices, hours, port forwards; of hosts also those whose
 * address nobody knows.
 */
function addFiner(plan: SitePlan, chance: Chance): void {
  const hosts = Object.values(plan.devices)
    .filter((d) => inPlan(plan.profiles, d.profileId).kind === 'host')
    .map((d) => d.id)
  const segmentIds = Object.keys(plan.segments)
  for (let i = 0; i < 2 && hosts.length > 0; i++) {
    const memberIds = [
      ...new Set([
        chance.one(hosts),
        chance.one(hosts),
        ...(chance.happens(0.3) ? [chance.one(segmentIds)] : []),
      ]),
    ]
    plan.groups[`group-${i}`] = { id: `group-${i}`, name: `Group ${i}`, memberIds }
  }
  const ends = [...hosts, ...Object.keys(plan.groups), ...Object.keys(plan.groups), ANYWHERE]
  const sources = [...segmentIds, 'internet', ...ends]
  for (let i = 0; i < chance.between(0, 10); i++) {
    const from = chance.one(sources)
    const to = chance.one([...segmentIds, 'internet', ...ends, MANAGED])
    if (from === to) continue
    plan.intents[`fine-${i}`] = {
      id: `fine-${i}`,
      from,
      to,
      service: chance.happens(0.4) ? 'any' : chance.one(Object.keys(plan.services)),
      action: chance.one(['allow', 'allow', 'deny']),
      rank: chance.between(0, 6) * 10,
      hours: chance.happens(0.3) ? someHours(chance) : null,
      reason: '',
    }
  }
  for (let i = 0; i < chance.between(0, 3) && hosts.length > 0; i++) {
    const first = chance.one([443, 8080, 8443, 2222, 3389])
    const count = chance.happens(0.2) ? 3 : 1
    plan.forwards[`led-${i}`] = {
      id: `led-${i}`,
      name: `Led in ${i}`,
      protocol: chance.one(['tcp', 'tcp', 'udp']),
      outside: { first, last: first + count - 1 },
      deviceId: chance.one(hosts),
      inside: count > 1 ? first : chance.one([443, 80, 22, 554, first]),
      reason: '',
    }
  }
}

/** Whole hours, some beyond midnight. */
function someHours(chance: Chance): Hours {
  const from = chance.between(0, 23)
  const days = [1, 2, 3, 4, 5, 6, 7].filter(() => chance.happens(0.6))
  return {
    days: days.length > 0 ? days : [1],
    fromMinute: from * 60,
    toMinute: ((from + chance.between(1, 23)) % 24) * 60,
  }
}
