/** What small sites have in common: a gateway with its line, a switch, a controller, somebody at work. */
import {
  editCall as edit,
  applyEdits,
  createPlan,
  unknownHandOff,
  type EditCall,
  type SegmentPurpose,
  type SitePlan,
} from '@mast/core/plan'

export interface SmallSite {
  readonly name: string
  /** Of its addresses, for example 10.61.0.0/16. */
  readonly space: string
  /** In its hardware addresses, two digits of a hexadecimal number. */
  readonly octet: string
  /** Of its serials, five digits; those of two sites differ in three places and more. */
  readonly number: number
  readonly hasController?: boolean
}

export const segment = (
  id: string,
  name: string,
  purpose: SegmentPurpose,
  vlanId: number,
  expectedHosts: number,
): EditCall =>
  edit('addSegment', {
    id,
    name,
    purpose,
    vlanId,
    expectedHosts,
    growthPercent: 50,
    leaseSeconds: 28_800,
  })
export const cable = (id: string, a: string, b: string, lengthM = 5): EditCall =>
  edit('addLink', { id, a, b, medium: 'copper', lengthM })
export const allow = (
  from: string,
  to: string,
  services: readonly string[] | 'any',
  reason: string,
): EditCall =>
  edit('stateIntent', {
    id: `int-${from}-${to}`,
    from,
    to,
    services: services === 'any' ? 'any' : [...services],
    action: 'allow',
    reason,
  })
/** What a provider said of a line without a tag that gives its address by itself. */
export const plainHandOff = {
  ...unknownHandOff,
  mode: 'automatic',
  vlan: 'untagged',
  priority: 0,
  mtu: 1500,
  addressKind: 'public',
  providerLan: 'none',
  pinnedHardwareAddress: 'none',
  forcedSpeedMbps: 'negotiated',
  ipv6: 'none',
  downMbps: 100,
  upMbps: 40,
  cap: 'none',
} as const

/** Devices and hosts of one site, with numbers that are only here. */
export function makers({ octet, number }: Pick<SmallSite, 'octet' | 'number'>) {
  const mac = (n: number): string => `02:4a:${octet}:00:00:${n.toString(16).padStart(2, '0')}`
  return {
    device: (id: string, name: string, profileId: string, n: number, more: object = {}): EditCall =>
      edit('addDevice', {
        id,
        name,
        profileId,
        locationId: 'room',
        serial: `AM-${profileId.split('-')[0]!.slice(0, 3).toUpperCase()}-${number + n * 37}`,
        hardwareAddress: mac(n),
        ...more,
      }),
    host: (
      id: string,
      name: string,
      profileId: string,
      n: number,
      segmentId: string,
      more: object = {},
    ): EditCall =>
      edit('addDevice', {
        id,
        name,
        profileId,
        locationId: 'room',
        hardwareAddress: mac(n),
        addressing: { mode: 'automatic', segmentId, address: null, gateway: null },
        ...more,
      }),
  }
}
export const inManagement = (mode: 'reserved' | 'fixed'): object => ({
  addressing: { mode, segmentId: 'management', address: null, gateway: null },
})

/**
 * Management 10 and staff 20, a gateway, a switch of eight in which sockets 1 to 3 are taken, a desk
 * in socket 4, and one line. Who adds segments allocates them.
 */
export function smallSite(site: SmallSite): SitePlan {
  const { device, host } = makers(site)
  const hasController = site.hasController ?? true
  return applyEdits(createPlan(site.name, [site.space]), [
    edit('addLocation', { id: 'room', name: 'Back room', kind: 'cupboard', mains: true }),
    segment('management', 'Management', 'management', 10, 10),
    segment('staff', 'Staff', 'staff', 20, 12),
    device('gateway', 'Gateway', 'gateway-4-2', 1),
    device('switch', 'Switch', 'switch-8-poe-65', 2, inManagement('reserved')),
    ...(hasController
      ? [
          edit('addDevice', {
            id: 'controller',
            name: 'Controller',
            profileId: 'controller-host',
            locationId: 'room',
            hardwareAddress: `02:4a:${site.octet}:00:01:01`,
            ...inManagement('fixed'),
          }),
          edit('setController', { hostDeviceId: 'controller' }),
          cable('l-controller', 'switch.3', 'controller.eth0', 2),
        ]
      : []),
    host('desk', 'Front desk', 'wired-host', 3, 'staff'),
    edit('allocateSegments', { segmentIds: ['management', 'staff'] }),
    edit('addUplink', {
      id: 'line',
      name: 'Line',
      portId: 'gateway.wan1',
      handOff: { ...plainHandOff, nameServers: [] },
    }),
    cable('l-trunk', 'gateway.1', 'switch.1', 2),
    cable('l-desk', 'switch.4', 'desk.eth0', 8),
    edit('setUntagged', {
      segmentId: 'management',
      portIds: ['gateway.1', 'switch.1', 'switch.2', 'switch.3'],
    }),
    edit('setUntagged', { segmentId: 'staff', portIds: ['switch.4'] }),
    edit('addTag', { segmentId: 'staff', portIds: ['gateway.1', 'switch.1'] }),
    allow('management', 'internet', 'any', 'devices fetch time, names and firmware'),
    allow('staff', 'internet', 'any', 'the desk works on the internet'),
  ])
}

/** A host that keeps its address in a segment of its own, 30, in socket 5 of the switch. */
export const server = (
  site: SmallSite,
  segmentName: string,
  { id, name, serviceIds = [] }: { id: string; name: string; serviceIds?: readonly string[] },
): EditCall[] => [
  segment('servers', segmentName, 'servers', 30, 6),
  makers(site).host(id, name, 'wired-host', 6, 'servers', {
    serviceIds,
    addressing: { mode: 'reserved', segmentId: 'servers', address: null, gateway: null },
  }),
  edit('allocateSegments', { segmentIds: ['servers'] }),
  cable(`l-${id}`, 'switch.5', `${id}.eth0`, 3),
  edit('setUntagged', { segmentId: 'servers', portIds: ['switch.5'] }),
  edit('addTag', { segmentId: 'servers', portIds: ['gateway.1', 'switch.1'] }),
]

/** Two units from socket 5 of the switch through the air to somebody of the staff at another place. */
export const acrossTheAir = (
  site: SmallSite,
  given: {
    readonly profileId: string
    readonly lengthM: number
    readonly near: { readonly name: string; readonly locationId: string }
    readonly far: { readonly name: string; readonly locationId: string }
    readonly host: { readonly id: string; readonly name: string }
  },
): EditCall[] => {
  const { profileId, lengthM, far, host } = given
  const unit = (id: 'near' | 'far', n: number): EditCall =>
    makers(site).device(id, given[id].name, profileId, n, {
      power: 'injector',
      locationId: given[id].locationId,
    })
  return [
    unit('near', 6),
    unit('far', 7),
    makers(site).host(host.id, host.name, 'wired-host', 8, 'staff', { locationId: far.locationId }),
    cable('l-near', 'switch.5', 'near.eth0', 20),
    edit('addLink', { id: 'l-air', a: 'near.air', b: 'far.air', medium: 'radio', lengthM }),
    cable(`l-${host.id}`, 'far.eth0', `${host.id}.eth0`, 10),
    edit('setUntagged', { segmentId: 'staff', portIds: ['switch.5'] }),
  ]
}

/** A managed access point in socket 2, for a network of a segment. */
export const accessPoint = (
  site: SmallSite,
  network: {
    readonly id: string
    readonly name: string
    readonly segmentId: string
    readonly more?: object
  },
): EditCall[] => [
  makers(site).device('ap', 'Access point', 'ap-indoor-2x2', 5, inManagement('reserved')),
  cable('l-ap', 'switch.2', 'ap.eth0', 12),
  edit('setUntagged', { segmentId: 'management', portIds: ['ap.eth0'] }),
  edit('addTag', {
    segmentId: network.segmentId,
    portIds: ['gateway.1', 'switch.1', 'switch.2', 'ap.eth0'],
  }),
  edit('addWirelessNetwork', {
    id: network.id,
    name: network.name,
    segmentId: network.segmentId,
    security: 'wpa2-wpa3',
    keyRef: `wifi-${network.id}`,
    clientIsolation: true,
    accessPointIds: ['ap'],
    ...network.more,
  }),
]
