/** Invented equipment, named by what it is. A plan keeps a copy of each profile that it uses. */
import type { Light, Profile, ProfilePort } from './schema'

const copper = (name: string, role: ProfilePort['role'], poeOutType: ProfilePort['poeOutType'] = null, poeIn = false): ProfilePort =>
  ({ name, role, medium: 'copper', speedMbps: 1000, poeOutType, poeIn })
const optical = (name: string, role: ProfilePort['role']): ProfilePort =>
  ({ name, role, medium: 'optical', speedMbps: 10_000, poeOutType: null, poeIn: false })
const numbered = (from: number, to: number, make: (name: string) => ProfilePort): ProfilePort[] =>
  Array.from({ length: to - from + 1 }, (_, i) => make(String(from + i)))

const lamp = (colour: Light['colour'], rhythm: Light['rhythm'], state: Light['state'], meaning: string): Light => ({ colour, rhythm, state, meaning })
const lights: Light[] = [
  lamp('off', 'none', 'off', 'No power: look at the lead, or at the powered socket that feeds it.'),
  lamp('amber', 'slow', 'starting', 'Starting. Leave it alone until the rhythm changes.'),
  lamp('teal', 'slow', 'seeking-address', 'Asking for an address. If it stays so, the untagged VLAN of its port has no DHCP.'),
  lamp('teal', 'fast', 'seeking-controller', 'Has an address, does not reach the controller. Look at the route from its VLAN to the controller.'),
  lamp('white', 'double', 'awaiting-claim', 'The controller has heard it and waits for a person to claim its serial. Nothing is wrong.'),
  lamp('amber', 'fast', 'loading', 'Writing firmware or configuration. Do not cut its power.'),
  lamp('white', 'steady', 'in-service', 'In service.'),
  lamp('amber', 'double', 'fault', 'It could not go on by itself; read its last report.'),
]

const profile = (given: Omit<Profile, 'lights'>): Profile => ({ ...given, lights: given.adoptable ? lights : [] })

const list: Profile[] = [
  profile({
    id: 'gateway-4-2', name: 'Gateway 4+2', kind: 'gateway', radios: 0, vlan: 'managed', adoptable: true, poeBudgetW: null, drawW: 18, poeClass: null,
    ports: [copper('wan1', 'wan'), ...numbered(1, 3, (n) => copper(n, 'lan')), optical('wan2', 'wan'), optical('sfp1', 'lan')],
    factory: { address: '192.168.1.1/24', dhcp: 'server', account: 'installer, password on the label' },
    firmware: { shipped: '1.8.0', wanted: '2.4.1' }, waits: { bootSeconds: 90, firmwareSeconds: 180, applySeconds: 30 },
  }),
  profile({
    id: 'switch-24-poe-190', name: 'Switch 24 PoE+ 190 W', kind: 'switch', radios: 0, vlan: 'managed', adoptable: true, poeBudgetW: 190, drawW: 28, poeClass: null,
    ports: [...numbered(1, 24, (n) => copper(n, 'lan', 2)), optical('sfp1', 'lan'), optical('sfp2', 'lan')],
    factory: { address: '192.168.2.1/24', dhcp: 'client', account: 'installer, password on the label' },
    firmware: { shipped: '3.1.0', wanted: '3.6.2' }, waits: { bootSeconds: 60, firmwareSeconds: 150, applySeconds: 20 },
  }),
  profile({
    id: 'switch-8-poe-65', name: 'Switch 8 PoE+ 65 W', kind: 'switch', radios: 0, vlan: 'managed', adoptable: true, poeBudgetW: 65, drawW: 12, poeClass: null,
    ports: [...numbered(1, 8, (n) => copper(n, 'lan', 2)), optical('sfp1', 'lan')],
    factory: { address: '192.168.2.1/24', dhcp: 'client', account: 'installer, password on the label' },
    firmware: { shipped: '3.1.0', wanted: '3.6.2' }, waits: { bootSeconds: 60, firmwareSeconds: 150, applySeconds: 20 },
  }),
  profile({
    id: 'switch-5-plain', name: 'Switch 5 plain', kind: 'switch', radios: 0, vlan: 'transparent', adoptable: false, poeBudgetW: null, drawW: 3, poeClass: null,
    ports: numbered(1, 5, (n) => copper(n, 'lan')),
    factory: { address: null, dhcp: 'none', account: null },
    firmware: { shipped: '', wanted: '' }, waits: { bootSeconds: 2, firmwareSeconds: 0, applySeconds: 0 },
  }),
  profile({
    id: 'ap-indoor-2x2', name: 'Indoor AP 2x2', kind: 'access-point', radios: 2, vlan: 'managed', adoptable: true, poeBudgetW: null, drawW: 11, poeClass: 3,
    ports: [copper('eth0', 'lan', null, true)],
    factory: { address: '192.168.2.20/24', dhcp: 'client', account: 'installer, password on the label' },
    firmware: { shipped: '5.0.3', wanted: '5.2.0' }, waits: { bootSeconds: 75, firmwareSeconds: 120, applySeconds: 25 },
  }),
  profile({
    id: 'ap-outdoor-2x2', name: 'Outdoor AP 2x2', kind: 'access-point', radios: 2, vlan: 'managed', adoptable: true, poeBudgetW: null, drawW: 19, poeClass: 4,
    ports: [copper('eth0', 'lan', null, true)],
    factory: { address: '192.168.2.20/24', dhcp: 'client', account: 'installer, password on the label' },
    firmware: { shipped: '5.0.3', wanted: '5.2.0' }, waits: { bootSeconds: 75, firmwareSeconds: 120, applySeconds: 25 },
  }),
  profile({
    id: 'controller-host', name: 'Controller host', kind: 'controller', radios: 0, vlan: 'none', adoptable: false, poeBudgetW: null, drawW: 15, poeClass: null,
    ports: [copper('eth0', 'host')],
    factory: { address: null, dhcp: 'client', account: null },
    firmware: { shipped: '', wanted: '' }, waits: { bootSeconds: 40, firmwareSeconds: 0, applySeconds: 0 },
  }),
  profile({
    id: 'wired-host', name: 'Wired host', kind: 'host', radios: 0, vlan: 'none', adoptable: false, poeBudgetW: null, drawW: 40, poeClass: null,
    ports: [copper('eth0', 'host')],
    factory: { address: null, dhcp: 'client', account: null },
    firmware: { shipped: '', wanted: '' }, waits: { bootSeconds: 20, firmwareSeconds: 0, applySeconds: 0 },
  }),
  profile({
    id: 'camera-poe', name: 'Camera PoE', kind: 'host', radios: 0, vlan: 'none', adoptable: false, poeBudgetW: null, drawW: 12, poeClass: 3,
    ports: [copper('eth0', 'host', null, true)],
    factory: { address: null, dhcp: 'client', account: null },
    firmware: { shipped: '', wanted: '' }, waits: { bootSeconds: 45, firmwareSeconds: 0, applySeconds: 0 },
  }),
  profile({
    id: 'handset', name: 'Wi-Fi handset', kind: 'host', radios: 1, vlan: 'none', adoptable: false, poeBudgetW: null, drawW: 5, poeClass: null,
    ports: [copper('eth0', 'host')],
    factory: { address: null, dhcp: 'client', account: null },
    firmware: { shipped: '', wanted: '' }, waits: { bootSeconds: 15, firmwareSeconds: 0, applySeconds: 0 },
  }),
]

export const catalogue: Readonly<Record<string, Profile>> = Object.fromEntries(list.map((p) => [p.id, p]))
