/**
 * The main demo site, with its honest mistakes left in. Everything is invented; public addresses
 * are documentation ones.
 */
import {
  editCall as edit,
  applyEdits,
  createPlan,
  unknownHandOff,
  type EditCall,
  type Location,
  type SegmentPurpose,
  type SitePlan,
} from '@mast/core/plan'
import { kittiwakeReadings } from './kittiwakeReadings'
import { kittiwakeBridges } from './kittiwakeBridges'
import { kittiwakePlaces } from './kittiwakePlaces'
import { tunnelEdits } from './kittiwakeTunnels'

const place = (id: string, name: string, kind: Location['kind'], more: object = {}): EditCall =>
  edit('addLocation', { id, name, kind, ...more })
const segment = (
  id: string,
  name: string,
  purpose: SegmentPurpose,
  vlanId: number,
  expectedHosts: number,
  growthPercent: number,
  more: object = {},
): EditCall =>
  edit('addSegment', { id, name, purpose, vlanId, expectedHosts, growthPercent, ...more })
/** Hardware addresses count up in the locally administered range, serials in invented ones. */
const address = (n: number): string =>
  `02:4b:48:${[n >> 16, n >> 8, n].map((o) => (o & 255).toString(16).padStart(2, '0')).join(':')}`
const device = (
  id: string,
  name: string,
  profileId: string,
  n: number,
  more: object = {},
): EditCall => edit('addDevice', { id, name, profileId, hardwareAddress: address(n * 16), ...more })
const labelled = (
  id: string,
  name: string,
  profileId: string,
  series: string,
  n: number,
  more: object = {},
): EditCall =>
  device(id, name, profileId, n, { serial: `AM-${series}-${48_200 + n * 37}`, ...more })
const host = (
  id: string,
  name: string,
  profileId: string,
  n: number,
  segmentId: string,
  locationId: string,
  more: object = {},
): EditCall =>
  device(id, name, profileId, n, {
    locationId,
    addressing: { mode: 'automatic', segmentId, address: null, gateway: null },
    ...more,
  })
const addressed = (segmentId: string, mode: 'reserved' | 'fixed' = 'reserved'): object => ({
  addressing: { mode, segmentId, address: null, gateway: null },
})
const link = (
  id: string,
  a: string,
  b: string,
  lengthM: number,
  medium: 'copper' | 'fibre' | 'radio' = 'copper',
): EditCall => edit('addLink', { id, a, b, medium, lengthM })
const allow = (from: string, to: string, services: 'any' | string[], reason: string): EditCall =>
  edit('stateIntent', { id: `int-${from}-${to}`, from, to, services, action: 'allow', reason })
const untagged = (segmentId: string, ...portIds: string[]): EditCall =>
  edit('setUntagged', { segmentId, portIds })
const tag = (segmentId: string, ...portIds: string[]): EditCall =>
  edit('addTag', { segmentId, portIds })

const places: EditCall[] = [
  place('cupboard', 'Equipment cupboard', 'cupboard', {
    outlets: 6,
    outletDistanceM: 1,
    latitude: 57.9031,
    longitude: -6.6984,
    heightM: 1.5,
  }),
  place('office', 'Harbour Office', 'building', {
    outlets: 12,
    outletDistanceM: 1,
    latitude: 57.9031,
    longitude: -6.6984,
    heightM: 7,
    people: 9,
    clients: [
      { kind: 'laptop', count: 7 },
      { kind: 'phone', count: 9 },
      { kind: 'desktop', count: 3 },
    ],
  }),
  place('workshop', 'Boatyard Workshop', 'building', {
    outlets: 8,
    outletDistanceM: 1,
    latitude: 57.9039,
    longitude: -6.7002,
    heightM: 5,
    people: 6,
    clients: [
      { kind: 'tablet', count: 4 },
      { kind: 'phone', count: 6 },
    ],
  }),
  place('ice-house', 'Ice House, east wall', 'outdoors', {
    mains: false,
    outlets: 0,
    latitude: 57.9042,
    longitude: -6.7009,
    heightM: 3,
  }),
  place('kiosk', 'Fuel Berth kiosk', 'kiosk', {
    outlets: 4,
    outletDistanceM: 1,
    latitude: 57.9016,
    longitude: -6.6921,
    heightM: 2.5,
    people: 2,
    clients: [
      { kind: 'till', count: 1 },
      { kind: 'card-terminal', count: 2 },
    ],
  }),
  place('pontoons', 'Visitor Pontoons A to C', 'outdoors', {
    mains: false,
    latitude: 57.9025,
    longitude: -6.6972,
    heightM: 4,
    people: 180,
    clients: [
      { kind: 'phone', count: 160 },
      { kind: 'laptop', count: 40 },
      { kind: 'tablet', count: 40 },
    ],
  }),
  place('quay', 'Quay wall', 'outdoors', {
    mains: false,
    latitude: 57.9029,
    longitude: -6.6979,
    heightM: 4,
  }),
  place('office-roof', 'Office roof', 'roof', {
    mains: false,
    latitude: 57.9031,
    longitude: -6.6984,
    heightM: 9,
  }),
  place('slipway', 'Slipway hut', 'kiosk', {
    outlets: 2,
    outletDistanceM: 0,
    latitude: 57.9036,
    longitude: -6.6968,
    heightM: 2.5,
    people: 2,
  }),
  place('light', 'Gannet Rock Light', 'mast', {
    mains: false,
    outlets: 0,
    latitude: 57.876,
    longitude: -6.672,
    heightM: 11,
  }),
]

const segments: EditCall[] = [
  segment('management', 'Management', 'management', 10, 24, 50),
  segment('office-net', 'Office', 'staff', 20, 40, 50),
  segment('payments', 'Payments', 'payments', 30, 6, 100),
  segment('cameras', 'Cameras', 'cameras', 40, 12, 100),
  segment('voice', 'Voice', 'voice', 50, 10, 50),
  segment('instruments', 'Instruments', 'instruments', 60, 8, 200),
  segment('crew', 'Crew', 'staff', 70, 40, 50, { leaseSeconds: 28_800 }),
  // A regatta day brings 240 devices at once, most of them for three hours; a lease of a day keeps
  // their addresses long after.
  segment('visitors', 'Visitors', 'guests', 90, 240, 60, {
    leaseSeconds: 86_400,
    churn: { arrivalsPerHour: 80, heldMinutes: 180, fromHour: 9, toHour: 21 },
  }),
]

const inCupboard = { locationId: 'cupboard' }
const devices: EditCall[] = [
  labelled('gateway', 'Harbour gateway', 'gateway-4-2', 'GAT', 1, {
    ...inCupboard,
    licencesHeld: ['filter-registration'],
  }),
  labelled('switch', 'Cupboard switch', 'switch-24-poe-190', 'SWI', 2, {
    ...inCupboard,
    ...addressed('management'),
  }),
  labelled('workshop-switch', 'Workshop switch', 'switch-8-poe-65', 'SWI', 3, {
    locationId: 'workshop',
    ...addressed('management'),
  }),
  edit('addDevice', {
    id: 'kiosk-switch',
    name: 'Kiosk switch',
    profileId: 'switch-5-plain',
    locationId: 'kiosk',
  }),
  edit('addDevice', {
    id: 'cellular',
    name: 'Cellular router',
    profileId: 'cellular-router',
    locationId: 'office',
    serial: 'CR-7710-0042',
    licencesHeld: ['sim'],
  }),
  labelled('light-switch', 'Rock switch', 'switch-8-poe-65', 'SWI', 16, {
    locationId: 'light',
    power: 'battery',
    ...addressed('management'),
  }),
  device('controller', 'Controller', 'controller-host', 4, {
    ...inCupboard,
    ...addressed('management', 'fixed'),
    licencesHeld: ['controller-account'],
  }),
  labelled('office-ap', 'Office AP', 'ap-indoor-2x2', 'APX', 5, {
    locationId: 'office',
    power: 'injector',
    ...addressed('management'),
  }),
  labelled('chart-room-ap', 'Chart room AP', 'ap-indoor-2x2', 'APX', 6, {
    locationId: 'office',
    power: 'injector',
    ...addressed('management'),
  }),
  labelled('workshop-ap', 'Workshop AP', 'ap-indoor-2x2', 'APX', 7, {
    locationId: 'workshop',
    power: 'injector',
    ...addressed('management'),
  }),
  labelled('quay-ap', 'Quay AP', 'ap-outdoor-2x2', 'APX', 8, {
    locationId: 'quay',
    ...addressed('management'),
  }),
  labelled('pontoon-a-ap', 'Pontoon A AP', 'ap-outdoor-2x2', 'APX', 9, {
    locationId: 'pontoons',
    ...addressed('management'),
  }),
  labelled('pontoon-c-ap', 'Pontoon C AP', 'ap-outdoor-2x2', 'APX', 10, {
    locationId: 'pontoons',
    ...addressed('management'),
  }),
  labelled('ice-ap', 'Ice House AP', 'ap-outdoor-2x2', 'APX', 11, {
    locationId: 'ice-house',
    ...addressed('management'),
  }),
  device('berth-bridge-office', 'Berth bridge, office end', 'bridge-60ghz', 12, {
    locationId: 'office-roof',
    power: 'poe',
    ...addressed('management', 'fixed'),
  }),
  device('berth-bridge-kiosk', 'Berth bridge, kiosk end', 'bridge-60ghz', 13, {
    locationId: 'kiosk',
    power: 'injector',
    ...addressed('management', 'fixed'),
  }),
  device('light-bridge-office', 'Light bridge, office end', 'bridge-5ghz-dish', 14, {
    locationId: 'office-roof',
    power: 'poe',
    ...addressed('management', 'fixed'),
  }),
  device('light-bridge-rock', 'Light bridge, rock end', 'bridge-5ghz-dish', 15, {
    locationId: 'light',
    power: 'battery',
    ...addressed('management', 'fixed'),
  }),
  edit('addDevice', {
    id: 'slipway-extender',
    name: 'Slipway extender',
    profileId: 'extender-2x2',
    locationId: 'slipway',
  }),

  host('harbour-desk', 'Harbour office desk', 'wired-host', 20, 'office-net', 'office'),
  host('office-server', 'Office server', 'wired-host', 21, 'office-net', 'cupboard', {
    ...addressed('office-net', 'fixed'),
    serviceIds: ['svc-web', 'svc-files', 'svc-readings'],
  }),
  host('printer', 'Office printer', 'wired-host', 22, 'office-net', 'office', {
    ...addressed('office-net'),
    serviceIds: ['svc-print'],
  }),
  host('chart-machine', 'Chart download machine', 'wired-host', 23, 'office-net', 'office', {
    ...addressed('office-net', 'reserved'),
  }),
  host('camera-recorder', 'Recorder', 'recorder', 24, 'cameras', 'cupboard', {
    ...addressed('cameras', 'fixed'),
    serviceIds: ['svc-web', 'svc-video'],
  }),
  ...(
    [
      ['quay', 'Quay', 'quay'],
      ['basin', 'Basin', 'quay'],
      ['gate', 'Gate', 'office'],
      ['yard', 'Yard', 'workshop'],
      ['slip', 'Slip', 'workshop'],
      ['hoist', 'Hoist', 'workshop'],
      ['ice', 'Ice House', 'ice-house'],
      ['fuel', 'Fuel berth', 'kiosk'],
      ['light', 'Light', 'light'],
    ] as const
  ).map(([id, name, at], i) =>
    host(`${id}-camera`, `${name} camera`, 'camera-poe', 30 + i, 'cameras', at, {
      serviceIds: ['svc-video'],
      ...(['fuel', 'hoist', 'gate'].includes(id) ? { power: 'injector' } : {}),
    }),
  ),
  ...[1, 2, 3, 4].map((n) =>
    host(`desk-handset-${n}`, `Desk handset ${n}`, 'desk-handset', 40 + n, 'voice', 'office'),
  ),
  ...[1, 2].map((n) =>
    host(`yard-handset-${n}`, `Yard handset ${n}`, 'handset', 45 + n, 'voice', 'workshop'),
  ),
  host('card-office', 'Card terminal, office', 'card-terminal', 50, 'payments', 'office'),
  host('card-fuel', 'Card terminal, fuel berth', 'card-terminal', 51, 'payments', 'kiosk'),
  host('fuel-till', 'Fuel berth till', 'wired-host', 52, 'office-net', 'kiosk'),
  host('tide-gauge', 'Tide gauge', 'sensor-wired', 55, 'instruments', 'quay'),
  host('wind-mast', 'Wind mast', 'sensor-wired', 56, 'instruments', 'workshop'),
  host('light-sensor', 'Light sensor', 'sensor-wired', 57, 'instruments', 'light'),
  host('crew-tablet', 'Crew tablet', 'handset', 60, 'crew', 'workshop'),
  host('visitor-phone', 'Visitor phone', 'handset', 61, 'visitors', 'pontoons'),
]

const everywhere = [
  'office-net',
  'payments',
  'cameras',
  'voice',
  'instruments',
  'crew',
  'visitors',
] as const
const air = ['crew', 'visitors', 'voice'] as const
const trunk = (ends: readonly string[], ids: readonly string[]): EditCall[] => [
  untagged('management', ...ends),
  ...ids.map((id) => tag(id, ...ends)),
]

const wires: EditCall[] = [
  link('l-core', 'gateway.1', 'switch.24', 1),
  ...trunk(['gateway.1', 'switch.24'], everywhere),
  // Copper through the duct to the workshop: 140 m, which no copper link holds.
  link('l-workshop', 'switch.23', 'workshop-switch.8', 140),
  ...trunk(['switch.23', 'workshop-switch.8'], everywhere),
  link('l-controller', 'switch.1', 'controller.eth0', 2),
  untagged('management', 'switch.1', 'gateway.2'),
  link('l-office-ap', 'switch.2', 'office-ap.eth0', 24),
  ...trunk(['switch.2', 'office-ap.eth0'], air),
  link('l-chart-ap', 'switch.3', 'chart-room-ap.eth0', 31),
  ...trunk(['switch.3', 'chart-room-ap.eth0'], air),
  link('l-quay-ap', 'switch.4', 'quay-ap.eth0', 58),
  ...trunk(['switch.4', 'quay-ap.eth0'], air),
  link('l-pontoon-a', 'switch.5', 'pontoon-a-ap.eth0', 74),
  ...trunk(['switch.5', 'pontoon-a-ap.eth0'], air),
  // The trunk to the last pontoon forgets the visitors at the switch.
  link('l-pontoon-c', 'switch.6', 'pontoon-c-ap.eth0', 88),
  ...trunk(['switch.6', 'pontoon-c-ap.eth0'], ['crew', 'voice']),
  tag('visitors', 'pontoon-c-ap.eth0'),
  link('l-berth-bridge', 'switch.7', 'berth-bridge-office.eth0', 16),
  ...trunk(['switch.7'], ['office-net', 'payments', 'cameras']),
  link('l-berth-air', 'berth-bridge-office.air', 'berth-bridge-kiosk.air', 420, 'radio'),
  link('l-kiosk', 'berth-bridge-kiosk.eth0', 'kiosk-switch.1', 6),
  link('l-light-bridge', 'switch.8', 'light-bridge-office.eth0', 18),
  ...trunk(['switch.8'], ['cameras', 'instruments']),
  link('l-light-air', 'light-bridge-office.air', 'light-bridge-rock.air', 3400, 'radio'),
  link('l-rock', 'light-bridge-rock.eth0', 'light-switch.8', 4),
  ...trunk(['light-switch.8'], ['cameras', 'instruments']),
  link('l-light-cam', 'light-switch.1', 'light-camera.eth0', 7),
  link('l-light-sensor', 'light-switch.2', 'light-sensor.eth0', 5),
  untagged('cameras', 'light-switch.1'),
  untagged('instruments', 'light-switch.2'),
  link('l-server', 'switch.9', 'office-server.eth0', 2),
  link('l-desk', 'switch.10', 'harbour-desk.eth0', 22),
  link('l-printer', 'switch.11', 'printer.eth0', 18),
  link('l-chart', 'switch.12', 'chart-machine.eth0', 27),
  untagged('office-net', 'switch.9', 'switch.10', 'switch.11', 'switch.12'),
  link('l-recorder', 'switch.13', 'camera-recorder.eth0', 2),
  link('l-quay-cam', 'switch.14', 'quay-camera.eth0', 52),
  link('l-basin-cam', 'switch.15', 'basin-camera.eth0', 68),
  link('l-gate-cam', 'switch.16', 'gate-camera.eth0', 31),
  untagged('cameras', 'switch.13', 'switch.14', 'switch.15', 'switch.16'),
  ...[1, 2, 3, 4].map((n) =>
    link(`l-handset-${n}`, `switch.${16 + n}`, `desk-handset-${n}.eth0`, 20 + n),
  ),
  untagged('voice', 'switch.17', 'switch.18', 'switch.19', 'switch.20'),
  link('l-card', 'switch.21', 'card-office.eth0', 12),
  untagged('payments', 'switch.21'),
  link('l-tide', 'switch.22', 'tide-gauge.eth0', 61),
  untagged('instruments', 'switch.22'),
  link('l-workshop-ap', 'workshop-switch.1', 'workshop-ap.eth0', 19),
  ...trunk(['workshop-switch.1', 'workshop-ap.eth0'], air),
  link('l-ice-ap', 'workshop-switch.2', 'ice-ap.eth0', 66),
  ...trunk(['workshop-switch.2', 'ice-ap.eth0'], air),
  // One camera more than the power of the workshop switch holds.
  ...(['yard', 'slip', 'hoist', 'ice'] as const).map((id, i) =>
    link(`l-${id}-cam`, `workshop-switch.${3 + i}`, `${id}-camera.eth0`, [14, 38, 26, 70][i]!),
  ),
  untagged(
    'cameras',
    'workshop-switch.3',
    'workshop-switch.4',
    'workshop-switch.5',
    'workshop-switch.6',
  ),
  link('l-wind', 'workshop-switch.7', 'wind-mast.eth0', 33),
  untagged('instruments', 'workshop-switch.7'),
  // The kiosk switch passes on what arrives and assigns nothing, so nobody behind it is where he
  // should be.
  link('l-till', 'kiosk-switch.2', 'fuel-till.eth0', 3),
  link('l-card-fuel', 'kiosk-switch.3', 'card-fuel.eth0', 4),
  link('l-fuel-cam', 'kiosk-switch.4', 'fuel-camera.eth0', 9),
]

const services: EditCall[] = [
  edit('addService', { id: 'svc-acquirer', name: 'card acquirer', protocol: 'tcp', ports: [8443] }),
  edit('addService', { id: 'svc-readings', name: 'readings', protocol: 'tcp', ports: [1883] }),
]

const policy: EditCall[] = [
  allow('management', 'internet', 'any', 'devices fetch time, names and firmware'),
  allow('management', 'cameras', 'any', 'cameras are set up from management'),
  allow('office-net', 'internet', 'any', 'the office works on the internet'),
  allow(
    'office-net',
    'cameras',
    ['svc-video', 'svc-web', 'svc-ping'],
    'the office watches the quay and the recorder',
  ),
  allow(
    'payments',
    'internet',
    ['svc-acquirer'],
    'card terminals reach their acquirer and nothing else',
  ),
  allow('instruments', 'office-server', ['svc-readings'], 'instruments send to the office server'),
  edit('stateIntent', {
    id: 'int-crew-office-server',
    from: 'crew',
    to: 'office-server',
    services: ['svc-files'],
    action: 'allow',
    reason: 'rosters, while the yard works',
    hours: { days: [1, 2, 3, 4, 5, 6], fromMinute: 360, toMinute: 1200 },
  }),
  edit('addForward', {
    id: 'led-readings',
    name: 'Tide readings',
    protocol: 'tcp',
    outside: { first: 8883, last: 8883 },
    deviceId: 'office-server',
    inside: 1883,
    reason: 'the port authority collects them',
  }),
  allow('voice', 'internet', 'any', 'calls go out to the exchange'),
  allow('crew', 'internet', 'any', 'the crew works on the internet'),
  allow('visitors', 'internet', 'any', 'visitors reach the internet and nothing else'),
  // Left over from an afternoon of trying to print from a phone.
  allow('visitors', 'office-net', ['svc-print'], 'so that a visitor could print a berth form'),
]

export function kittiwakeHarbour(): SitePlan {
  return applyEdits(createPlan('Kittiwake Harbour', ['10.20.0.0/16']), [
    edit('changeSite', {
      domain: 'kittiwake.internal',
      electricity: { pricePerKwh: 0.27, currency: 'GBP' },
      addressSpace6: ['2001:db8:20::/56'],
    }),
    ...places,
    ...segments,
    ...services,
    ...devices,
    edit('addUplink', {
      id: 'fibre',
      name: 'Harbour fibre',
      rank: 0,
      portId: 'gateway.wan1',
      handOff: {
        ...unknownHandOff,
        mode: 'pppoe',
        pppoeUser: 'kittiwake@fibre.example',
        passwordRef: 'line-fibre',
        vlan: 35,
        priority: 1,
        mtu: 1492,
        addressKind: 'public',
        providerLan: '192.168.1.0/24',
        pinnedHardwareAddress: 'none',
        forcedSpeedMbps: 'negotiated',
        ipv6: { mode: 'delegated', length: 56, prefix: '2001:db8:20::/56' },
        downMbps: 500,
        upMbps: 100,
        cap: 'none',
      },
      // One target alone, which is busy on regatta days.
      watch: {
        tests: [{ kind: 'ping', target: '198.51.100.53', port: null }],
        need: 'any',
        intervalSeconds: 5,
        answerSeconds: 2,
        failures: 12,
        successes: 4,
        linkLoss: 'at-once',
      },
      startSeconds: 150,
      parts: [
        { kind: 'duct', name: 'Quay road', failing: { timesAYear: 0.2, hours: 20 } },
        { kind: 'power strip', name: 'Equipment cupboard', failing: null },
      ],
      failing: { timesAYear: 3, hours: 5 },
      loss: {
        percent: 0.2,
        bursts: { percent: 40, lengthSeconds: 20, apartSeconds: 86_400 },
      },
    }),
    // The second line goes into the socket that a licence unlocks, and nobody bought it.
    edit('addUplink', {
      id: 'cellular-line',
      name: 'Cellular standby',
      rank: 1,
      portId: 'gateway.wan2',
      handOff: {
        ...unknownHandOff,
        mode: 'cellular',
        accessPointName: 'data.example',
        addressKind: 'carrier-grade',
        providerLan: '192.168.8.0/24',
        ipv6: 'none',
        downMbps: 60,
        upMbps: 15,
        cap: { gigabytes: 80, pricePerGb: 4 },
      },
      standby: 'cold',
      startSeconds: 25,
      // Its router hangs from the strip that feeds the modem of the fibre.
      parts: [
        { kind: 'mast', name: 'Harbour hill', failing: null },
        { kind: 'power strip', name: 'Equipment cupboard', failing: null },
      ],
      failing: { timesAYear: 6, hours: 1 },
      cellular: {
        account: 'Kittiwake Harbour Trust',
        card: '8944 0000 0000 1234 567',
        antennas: [
          { name: 'Mast, main', socket: 'A' },
          { name: 'Mast, second', socket: 'B' },
        ],
      },
    }),
    edit('addLineChoice', {
      id: 'cards-out',
      from: 'payments',
      service: 'svc-acquirer',
      uplinkIds: ['fibre', 'cellular-line'],
      rank: 10,
      reason: 'the harbour keeps taking cards',
    }),
    edit('addLineChoice', {
      id: 'visitors-out',
      from: 'visitors',
      service: 'any',
      uplinkIds: ['fibre'],
      rank: 20,
      reason: '80 GB a month are gone in an evening',
    }),
    edit('changeSite', {
      failover: {
        back: { kind: 'after-quiet', seconds: 300 },
        toleratedSeconds: 90,
        falseSwitchesAYear: 2,
      },
    }),
    edit('addKnownNetwork', {
      id: 'net-petrel',
      name: 'Petrel Street Chandlery',
      kind: 'joined',
      prefix: '192.168.1.0/24',
      note: 'its old LAN',
    }),
    edit('allocateSegments', { segmentIds: ['management', ...everywhere] }),
    edit('allocateSixtyFours', {}),
    edit('changeSegment', { id: 'management', changes: { locked: true } }),
    edit('setController', { hostDeviceId: 'controller' }),
    ...wires,
    edit('addWirelessNetwork', {
      id: 'visitor-wifi',
      name: 'Berth and Breakfast',
      segmentId: 'visitors',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-visitor-wifi',
      clientIsolation: true,
      accessPointIds: ['office-ap', 'quay-ap', 'pontoon-a-ap', 'pontoon-c-ap', 'ice-ap'],
      leadsUp: true,
      portal: {
        entry: 'terms',
        passwordRef: null,
        sessionMinutes: 720,
        before: [],
        title: 'Welcome to the harbour',
        text:
          'Mind the tide and your neighbours: no large downloads before nine in the evening. ' +
          'The harbour office keeps no record of what you read.',
        colour: '#1d4e5f',
      },
    }),
    edit('addWirelessNetwork', {
      id: 'crew-wifi',
      name: 'Below Decks',
      segmentId: 'crew',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-crew-wifi',
      clientIsolation: false,
      accessPointIds: ['office-ap', 'chart-room-ap', 'workshop-ap', 'quay-ap'],
    }),
    edit('addWirelessNetwork', {
      id: 'voice-wifi',
      name: 'Speaking Tube',
      segmentId: 'voice',
      security: 'wpa2',
      keyRef: 'wifi-voice-wifi',
      clientIsolation: false,
      accessPointIds: ['office-ap', 'workshop-ap', 'ice-ap'],
    }),
    edit('changeDevice', { id: 'visitor-phone', changes: { wirelessNetworkId: 'visitor-wifi' } }),
    edit('changeDevice', { id: 'crew-tablet', changes: { wirelessNetworkId: 'crew-wifi' } }),
    edit('changeDevice', { id: 'yard-handset-1', changes: { wirelessNetworkId: 'voice-wifi' } }),
    edit('changeDevice', { id: 'yard-handset-2', changes: { wirelessNetworkId: 'voice-wifi' } }),
    ...policy,
    ...kittiwakePlaces,
    ...kittiwakeReadings,
    ...kittiwakeBridges,
    ...tunnelEdits,
    // The pool of the office starts where the server has its fixed address.
    edit('setPool', { segmentId: 'office-net', first: '10.20.20.2', last: '10.20.20.254' }),
  ])
}
