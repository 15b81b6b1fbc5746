/** Invented equipment, named by what it is. A plan keeps a copy of each profile that it uses. */
import { dishFive, elevenGhz, handFive, sectorFive, sixtyGhz } from './bridgeUnits'
import {
  abilities,
  type Licence,
  type Light,
  type Profile,
  type ProfilePort,
  type Radio,
} from './schema'

const copper = (
  name: string,
  role: ProfilePort['role'],
  more: Partial<ProfilePort> = {},
): ProfilePort => ({
  name,
  role,
  medium: 'copper',
  speedMbps: 1000,
  poeOutType: null,
  poeIn: false,
  licenceId: null,
  ...more,
})
const optical = (
  name: string,
  role: ProfilePort['role'],
  more: Partial<ProfilePort> = {},
): ProfilePort => ({
  name,
  role,
  medium: 'optical',
  speedMbps: 10_000,
  poeOutType: null,
  poeIn: false,
  licenceId: null,
  ...more,
})
const numbered = (from: number, to: number, make: (name: string) => ProfilePort): ProfilePort[] =>
  Array.from({ length: to - from + 1 }, (_, i) => make(String(from + i)))

const lamp = (
  colour: Light['colour'],
  rhythm: Light['rhythm'],
  state: Light['state'],
  meaning: string,
): Light => ({ colour, rhythm, state, meaning })
/**
 * Our own: teal where it waits for something or somebody, amber where it works; the rhythm alone
 * tells them all apart.
 */
const lights: Light[] = [
  lamp('off', 'none', 'off', 'No power: look at the lead, or at the powered socket that feeds it.'),
  lamp('amber', '-.', 'starting', 'Starting. Leave it alone until the rhythm changes.'),
  lamp(
    'teal',
    '.',
    'seeking-address',
    'Asking for an address. If it stays so, the untagged VLAN of its port has no DHCP.',
  ),
  lamp(
    'teal',
    '..',
    'seeking-controller',
    'Has an address, does not reach the controller. Look at the route from its VLAN to the controller.',
  ),
  lamp(
    'teal',
    '...',
    'awaiting-claim',
    'The controller has heard it and waits for a person to claim its serial. Nothing is wrong.',
  ),
  lamp('amber', '-..', 'loading', 'Writing firmware or configuration. Do not cut its power.'),
  lamp('teal', '-', 'in-service', 'In service.'),
  lamp('amber', '-.-', 'fault', 'It could not go on by itself; read its last report.'),
]
/** The lamp for the link of an extender: long signals first, so that they are no other's. */
const extenderLights: Light[] = [
  lamp('off', 'none', 'off', 'No power: look at the outlet.'),
  lamp('amber', '-.', 'starting', 'Starting. Leave it alone until the rhythm changes.'),
  lamp('teal', '--', 'link-good', 'Hears what it repeats well, with two thirds or more.'),
  lamp('teal', '--.', 'link-fair', 'Hears what it repeats with a half to two thirds.'),
  lamp('amber', '--..', 'link-poor', 'Hears what it repeats with less than a half, or not at all.'),
]

type Given = Pick<Profile, 'id' | 'name' | 'kind' | 'ports' | 'drawW'> &
  Partial<Omit<Profile, 'firmware' | 'waits' | 'limits'>> & {
    firmware?: Partial<Profile['firmware']>
    waits?: Partial<Profile['waits']>
    limits?: Partial<Profile['limits']>
  }
/** Fills in what a plain thing without pages, radios and limits has. */
export function profileOf(given: Given): Profile {
  return {
    air: [],
    bridge: null,
    vlan: 'none',
    adoptable: false,
    system: 'own',
    poeBudgetW: null,
    poeAllocation: 'class',
    poeClass: null,
    leadM: 1.5,
    mount: 'shelf',
    serialShape: null,
    abilities: [],
    licences: [],
    lights: given.adoptable ? lights : [],
    factory: { address: null, dhcp: 'none', account: null },
    setUp: { ways: ['cable'], resetSeconds: null, lamp: '', display: [] },
    ...given,
    firmware: { shipped: '', wanted: '', minimum: '', ...given.firmware },
    waits: { bootSeconds: 0, firmwareSeconds: 0, applySeconds: 0, ...given.waits },
    limits: {
      controllerCapacity: null,
      tunnels: null,
      plainMbps: null,
      inspectedMbps: null,
      tunnelledMbps: null,
      ...given.limits,
    },
  }
}

const label = 'installer, password on the label'
const client: Profile['factory'] = { address: null, dhcp: 'client', account: null }
const secondLine: Licence = {
  id: 'second-line',
  name: 'Second line',
  kind: 'licence',
  unlocks: 'the optical line socket',
}
const filtering: Licence = {
  id: 'filter-registration',
  name: 'Filter registration',
  kind: 'registration',
  unlocks: 'filters by country and category; until then the gateway drops what it cannot look up',
}
const cloudAccount: Licence = {
  id: 'controller-account',
  name: 'Administrator account',
  kind: 'account',
  unlocks: 'claiming devices in the controller',
}
const reporting: Profile['abilities'] = ['neighbours', 'monitoring', 'remote-log']
/** Way by way as it is usual for its kind; times of buttons are invented like the rest. */
const byWire: Profile['setUp'] = {
  ways: ['cable', 'console'],
  resetSeconds: 10,
  lamp: 'left of the sockets',
  display: [],
}
const byAir: Profile['setUp'] = {
  ways: ['cable', 'set-up-radio', 'short-range'],
  resetSeconds: 15,
  lamp: 'in the middle of its face',
  display: [],
}
const onPole: Profile['setUp'] = {
  ways: ['cable', 'short-range'],
  resetSeconds: 20,
  lamp: 'beneath, beside its socket',
  display: [],
}
/** Of a radio that is set by its buttons. */
const oneCharacter: Profile['setUp']['display'] = [
  { shows: 'o', meaning: 'Starting. Leave it alone.' },
  { shows: 'n', meaning: 'Waits for its role: near end; press once more for the far end.' },
  { shows: 'f', meaning: 'Is the far end and looks for a near end on its channel.' },
  { shows: '=', meaning: 'Hears the other end: turn it for the highest digit.' },
  { shows: '9', meaning: 'Digits from 1 to 9 tell how well it hears; 9 is best.' },
  { shows: 'E', meaning: 'It cannot go on: channel or country are not set.' },
]
const managedSwitch = {
  kind: 'switch',
  abilities: [...abilities],
  vlan: 'managed',
  adoptable: true,
  factory: { address: '192.168.2.1/24', dhcp: 'client', account: label },
  firmware: { shipped: '3.1.0', wanted: '3.6.2', minimum: '3.0.0' },
  waits: { bootSeconds: 60, firmwareSeconds: 150, applySeconds: 20 },
  setUp: byWire,
} satisfies Partial<Given>
/** A radio of one band, or of several of which one is set. */
const radio = (
  bands: Radio['bands'],
  generation: Radio['generation'],
  streams: number,
  powerDbm: number,
  gainDbi: number,
): Radio => ({ bands, generation, streams, powerDbm, gainDbi, beam: null })
const accessPoint = {
  kind: 'access-point',
  abilities: reporting,
  air: [radio(['2.4'], 6, 2, 20, 3), radio(['5'], 6, 2, 23, 4)],
  vlan: 'managed',
  adoptable: true,
  leadM: null,
  factory: { address: '192.168.2.20/24', dhcp: 'client', account: label },
  firmware: { shipped: '5.0.3', wanted: '5.2.0', minimum: '5.0.0' },
  waits: { bootSeconds: 75, firmwareSeconds: 120, applySeconds: 25 },
  setUp: byAir,
} satisfies Partial<Given>
const poweredSocket = copper('eth0', 'lan', { poeIn: true })

const list: Profile[] = [
  profileOf({
    id: 'gateway-4-2',
    name: 'Gateway 4+2',
    kind: 'gateway',
    abilities: ['spanning-tree', ...reporting],
    vlan: 'managed',
    adoptable: true,
    drawW: 18,
    mount: 'rack',
    serialShape: 'AM-???-#####',
    ports: [
      copper('wan1', 'wan'),
      ...numbered(1, 3, (n) => copper(n, 'lan')),
      optical('wan2', 'wan', { licenceId: 'second-line' }),
      optical('sfp1', 'lan'),
    ],
    factory: { address: '192.168.1.1/24', dhcp: 'server', account: label },
    firmware: { shipped: '1.8.0', wanted: '2.4.1', minimum: '1.6.0' },
    waits: { bootSeconds: 90, firmwareSeconds: 180, applySeconds: 30 },
    setUp: byWire,
    limits: { tunnels: 20, plainMbps: 3000, inspectedMbps: 850, tunnelledMbps: 420 },
    licences: [secondLine, filtering],
  }),
  profileOf({
    ...managedSwitch,
    id: 'switch-24-poe-190',
    name: 'Switch 24 PoE+ 190 W',
    drawW: 28,
    poeBudgetW: 190,
    mount: 'rack',
    serialShape: 'AM-???-#####',
    ports: [
      ...numbered(1, 24, (n) => copper(n, 'lan', { poeOutType: 2 })),
      optical('sfp1', 'lan'),
      optical('sfp2', 'lan'),
    ],
  }),
  profileOf({
    ...managedSwitch,
    id: 'switch-8-poe-65',
    name: 'Switch 8 PoE+ 65 W',
    drawW: 12,
    poeBudgetW: 65,
    serialShape: 'AM-???-#####',
    ports: [...numbered(1, 8, (n) => copper(n, 'lan', { poeOutType: 2 })), optical('sfp1', 'lan')],
  }),
  profileOf({
    id: 'switch-5-plain',
    name: 'Switch 5 plain',
    kind: 'switch',
    vlan: 'transparent',
    drawW: 3,
    ports: numbered(1, 5, (n) => copper(n, 'lan')),
    waits: { bootSeconds: 2 },
  }),
  profileOf({
    ...accessPoint,
    id: 'ap-indoor-2x2',
    name: 'Indoor AP 2x2',
    drawW: 11,
    poeClass: 3,
    mount: 'ceiling',
    ports: [poweredSocket],
  }),
  profileOf({
    ...accessPoint,
    id: 'ap-outdoor-2x2',
    name: 'Outdoor AP 2x2',
    air: [radio(['2.4'], 6, 2, 20, 5), radio(['5'], 6, 2, 24, 6)],
    drawW: 19,
    poeClass: 4,
    mount: 'pole',
    ports: [poweredSocket],
  }),
  profileOf({
    id: 'bridge-5ghz-dish',
    name: 'Bridge radio 5 GHz dish',
    kind: 'bridge-radio',
    setUp: onPole,
    bridge: dishFive,
    vlan: 'transparent',
    drawW: 9,
    poeClass: 3,
    leadM: null,
    mount: 'pole',
    ports: [poweredSocket, copper('air', 'lan', { speedMbps: 450 })],
    factory: { address: '192.168.5.20/24', dhcp: 'none', account: 'radio, radio' },
    firmware: { shipped: '4.1', wanted: '4.4', minimum: '4.0' },
    waits: { bootSeconds: 80, firmwareSeconds: 140, applySeconds: 30 },
  }),
  profileOf({
    id: 'bridge-5ghz-managed',
    name: 'Bridge radio 5 GHz dish, adopted by a controller',
    kind: 'bridge-radio',
    setUp: onPole,
    bridge: dishFive,
    vlan: 'transparent',
    adoptable: true,
    drawW: 9,
    poeClass: 3,
    leadM: null,
    mount: 'pole',
    ports: [poweredSocket, copper('air', 'lan', { speedMbps: 450 })],
    factory: { address: '192.168.5.20/24', dhcp: 'client', account: label },
    firmware: { shipped: '4.1', wanted: '4.4', minimum: '4.0' },
    waits: { bootSeconds: 80, firmwareSeconds: 140, applySeconds: 30 },
  }),
  profileOf({
    id: 'bridge-60ghz',
    name: 'Bridge radio 60 GHz',
    kind: 'bridge-radio',
    setUp: onPole,
    bridge: sixtyGhz,
    vlan: 'transparent',
    drawW: 11,
    poeClass: 3,
    leadM: null,
    mount: 'pole',
    ports: [poweredSocket, copper('air', 'lan', { speedMbps: 1000 })],
    factory: { address: '192.168.5.30/24', dhcp: 'none', account: 'radio, radio' },
    firmware: { shipped: '2.0', wanted: '2.3', minimum: '2.0' },
    waits: { bootSeconds: 70, firmwareSeconds: 120, applySeconds: 30 },
  }),
  profileOf({
    id: 'bridge-5ghz-sector',
    name: 'Bridge radio 5 GHz sector, four far ends',
    kind: 'bridge-radio',
    setUp: onPole,
    bridge: sectorFive,
    vlan: 'transparent',
    drawW: 10,
    poeClass: 3,
    leadM: null,
    mount: 'pole',
    ports: [
      poweredSocket,
      ...['air1', 'air2', 'air3', 'air4'].map((name) => copper(name, 'lan', { speedMbps: 450 })),
    ],
    factory: { address: '192.168.5.10/24', dhcp: 'none', account: 'radio, radio' },
    firmware: { shipped: '4.1', wanted: '4.4', minimum: '4.0' },
    waits: { bootSeconds: 80, firmwareSeconds: 140, applySeconds: 30 },
  }),
  profileOf({
    id: 'bridge-hand-pair',
    name: 'Bridge radio, set by its buttons',
    kind: 'bridge-radio',
    setUp: { ...onPole, display: oneCharacter },
    bridge: handFive,
    vlan: 'transparent',
    drawW: 5,
    poeClass: 2,
    leadM: null,
    mount: 'pole',
    ports: [poweredSocket, copper('air', 'lan', { speedMbps: 100 })],
    factory: { address: '192.168.6.10/24', dhcp: 'none', account: 'radio, radio' },
    firmware: { shipped: '1.3', wanted: '1.5', minimum: '1.3' },
    waits: { bootSeconds: 60, firmwareSeconds: 120, applySeconds: 20 },
  }),
  profileOf({
    id: 'bridge-11ghz',
    name: 'Bridge radio 11 GHz, licensed',
    kind: 'bridge-radio',
    setUp: onPole,
    bridge: elevenGhz,
    vlan: 'transparent',
    drawW: 28,
    poeClass: 5,
    leadM: null,
    mount: 'pole',
    ports: [poweredSocket, copper('air', 'lan', { speedMbps: 1000 })],
    factory: { address: '192.168.5.40/24', dhcp: 'none', account: 'radio, radio' },
    firmware: { shipped: '7.0', wanted: '7.2', minimum: '7.0' },
    waits: { bootSeconds: 100, firmwareSeconds: 180, applySeconds: 40 },
    licences: [
      {
        id: 'unlock-code',
        name: 'Unlock code',
        kind: 'licence',
        unlocks: 'its transmitter, for the serial on its label',
      },
    ],
  }),
  profileOf({
    id: 'extender-2x2',
    name: 'Range extender 2x2',
    kind: 'range-extender',
    setUp: { ways: ['cable', 'set-up-radio'], resetSeconds: 10, lamp: 'in its front', display: [] },
    air: [radio(['2.4'], 5, 2, 18, 2), radio(['5'], 5, 2, 20, 2)],
    vlan: 'transparent',
    drawW: 7,
    leadM: 0,
    mount: 'wall',
    ports: [copper('eth0', 'lan')],
    lights: extenderLights,
    factory: { address: '192.168.7.1/24', dhcp: 'server', account: null },
    firmware: { shipped: '1.2', wanted: '1.2', minimum: '' },
    waits: { bootSeconds: 60, applySeconds: 60 },
  }),
  profileOf({
    id: 'injector-30',
    name: 'Power injector 30 W',
    kind: 'injector',
    vlan: 'transparent',
    drawW: 33,
    leadM: 1.2,
    ports: [copper('data', 'lan'), copper('powered', 'lan', { poeOutType: 2 })],
  }),
  profileOf({
    id: 'cellular-router',
    name: 'Cellular router',
    setUp: {
      ways: ['cable', 'set-up-radio'],
      resetSeconds: 8,
      lamp: 'three in its front',
      display: [],
    },
    kind: 'modem',
    drawW: 8,
    leadM: 1.5,
    mount: 'wall',
    ports: [copper('lan1', 'lan'), copper('lan2', 'lan')],
    factory: {
      address: '192.168.8.1/24',
      dhcp: 'server',
      account: 'admin page, password on the label',
    },
    firmware: { shipped: '7.0', wanted: '7.2', minimum: '7.0' },
    waits: { bootSeconds: 110, firmwareSeconds: 240, applySeconds: 40 },
    licences: [
      { id: 'sim', name: 'SIM with its contract', kind: 'licence', unlocks: 'the cellular line' },
    ],
  }),
  profileOf({
    id: 'modem-plain',
    name: 'Provider modem',
    kind: 'modem',
    drawW: 10,
    ports: [copper('lan1', 'lan')],
    waits: { bootSeconds: 120 },
  }),
  profileOf({
    id: 'controller-host',
    name: 'Controller host',
    kind: 'controller',
    system: 'linux',
    drawW: 15,
    ports: [copper('eth0', 'host')],
    factory: client,
    waits: { bootSeconds: 40 },
    limits: {
      controllerCapacity: { gateway: 2, switch: 30, 'access-point': 60, 'bridge-radio': 20 },
    },
    licences: [cloudAccount],
  }),
  profileOf({
    id: 'wired-host',
    name: 'Wired host',
    kind: 'host',
    system: 'linux',
    drawW: 40,
    ports: [copper('eth0', 'host')],
    factory: client,
    waits: { bootSeconds: 20 },
  }),
  profileOf({
    id: 'recorder',
    name: 'Camera recorder',
    kind: 'host',
    drawW: 35,
    mount: 'rack',
    ports: [copper('eth0', 'host')],
    factory: client,
    waits: { bootSeconds: 90 },
  }),
  profileOf({
    id: 'camera-poe',
    name: 'Camera PoE',
    kind: 'host',
    drawW: 12,
    poeClass: 3,
    leadM: null,
    mount: 'wall',
    ports: [copper('eth0', 'host', { poeIn: true })],
    factory: client,
    waits: { bootSeconds: 45 },
  }),
  profileOf({
    id: 'card-terminal',
    name: 'Card terminal',
    kind: 'host',
    drawW: 6,
    leadM: 1,
    ports: [copper('eth0', 'host')],
    factory: client,
    waits: { bootSeconds: 40 },
  }),
  profileOf({
    id: 'desk-handset',
    name: 'Desk handset PoE',
    kind: 'host',
    drawW: 5,
    poeClass: 2,
    leadM: null,
    ports: [copper('eth0', 'host', { poeIn: true })],
    factory: client,
    waits: { bootSeconds: 50 },
  }),
  profileOf({
    id: 'sensor-wired',
    name: 'Wired sensor',
    kind: 'host',
    drawW: 3,
    poeClass: 1,
    leadM: null,
    mount: 'pole',
    ports: [copper('eth0', 'host', { poeIn: true })],
    factory: client,
    waits: { bootSeconds: 15 },
  }),
  profileOf({
    id: 'handset',
    name: 'Wi-Fi handset',
    kind: 'host',
    air: [radio(['2.4', '5'], 4, 1, 14, 0)],
    drawW: 5,
    leadM: 1,
    mount: 'none',
    ports: [copper('eth0', 'host')],
    factory: client,
    waits: { bootSeconds: 15 },
  }),
]

export const catalogue: Readonly<Record<string, Profile>> = Object.fromEntries(
  list.map((p) => [p.id, p]),
)
