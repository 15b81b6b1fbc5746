import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { chanceOf, randomSite, smallShape } from '../generator'
import {
  editCall as edit,
  applyEdit,
  applyEdits,
  catalogue,
  type EditCall,
  type SitePlan,
} from '../plan'
import { findingsOf, marksOf, rules, type Finding } from '.'

const only = (findings: Finding[], catchNumber: string): Finding[] =>
  findings.filter((f) => f.catches.includes(catchNumber))
const addressing = (
  mode: string,
  segmentId: string,
  address: string,
  gateway: string | null,
): object => ({ addressing: { mode, segmentId, address, gateway } })

/** What wants doing; notes are for knowing. */
const serious = (plan: SitePlan): Finding[] => findingsOf(plan).filter((f) => f.severity !== 'note')
/** The harbour with every fix pressed. */
export function clean(): SitePlan {
  let plan = quayside()
  for (let f = serious(plan)[0]; f; f = serious(plan)[0])
    plan = applyEdits(plan, f.fixes![0]!.edits)
  return plan
}

it('the demo has its honest mistakes, and their buttons mend them all', () => {
  expect(findingsOf(quayside()).map((f) => f.catches[0])).toEqual([
    'C-10',
    'C-14',
    'C-16',
    'C-18',
    'C-34',
    'C-49',
    'C-89',
  ])
  // The kiosk's plain switch was replaced on the way by one that takes its management with a tag.
  expect(findingsOf(clean()).map((f) => f.catches[0])).toEqual(['C-89'])
  expect(marksOf(findingsOf(quayside())).wiring).toEqual({ blockers: 3, cautions: 0 })
})

/**
 * Each rule: how to break a clean plan, which subject is named, what the text says, and that each
 * fix mends it.
 */
const cases: [catchNumber: string, EditCall[], subject: string, text: RegExp][] = [
  [
    'C-01',
    [edit('recordHandOff', { uplinkId: 'fibre', facts: { mtu: null, vlan: null } })],
    'fibre',
    /Of Harbour fibre is not known yet: VLAN tag on the hand-off, MTU\./,
  ],
  [
    'C-06',
    [edit('changeUplink', { id: 'fibre', changes: { portId: 'gateway.3' } })],
    'gateway.3',
    /Harbour fibre goes into Harbour gateway port 3, which is a LAN socket by default/,
  ],
  [
    'C-06',
    [
      edit('changeUplink', { id: 'fibre', changes: { portId: null } }),
      edit('addLink', {
        id: 'l-odd',
        a: 'gateway.wan1',
        b: 'kiosk-switch.4',
        medium: 'copper',
        lengthM: 2,
      }),
    ],
    'gateway.wan1',
    /A cable of the site is in Harbour gateway port wan1, which is a line socket/,
  ],
  [
    'C-15',
    [edit('setUntagged', { segmentId: 'office-net', portIds: ['quay-ap.eth0'] })],
    'switch.2',
    /Untagged is VLAN 10 Management at Cupboard switch port 2 and VLAN 20 Office at Quay AP port eth0/,
  ],
  [
    'C-15',
    [edit('setUntagged', { segmentId: null, portIds: ['quay-ap.eth0'] })],
    'quay-ap.eth0',
    /and nothing at Quay AP port eth0/,
  ],
  [
    'C-17',
    [
      edit('addLink', {
        id: 'l-loop',
        a: 'gateway.3',
        b: 'kiosk-switch.4',
        medium: 'copper',
        lengthM: 80,
      }),
    ],
    'l-loop',
    /Harbour gateway, Kiosk switch are cabled in a loop, and Kiosk switch runs no spanning tree|Kiosk switch, Harbour gateway are cabled in a loop, and Kiosk switch runs no spanning tree/,
  ],
  [
    'C-17',
    [
      edit('addLink', {
        id: 'l-loop',
        a: 'gateway.sfp1',
        b: 'switch.sfp1',
        medium: 'fibre',
        lengthM: 2,
      }),
    ],
    'switch',
    /are cabled in a loop; their spanning tree blocks Cupboard switch port 1\.$/,
  ],
  [
    'C-50',
    [
      edit('addIntent', {
        id: 'late',
        from: 'office-net',
        to: 'cameras',
        service: 'svc-video',
        action: 'deny',
        rank: 900,
        reason: '',
      }),
    ],
    'late',
    /From Office to Cameras video stream is denied, but video stream is allowed before that/,
  ],
  [
    'C-50',
    [
      edit('addIntent', {
        id: 'late',
        from: 'management',
        to: 'cameras',
        service: 'svc-ssh',
        action: 'deny',
        rank: 900,
        reason: '',
      }),
    ],
    'late',
    /secure shell is denied, but everything is allowed before that/,
  ],
  [
    'C-50',
    [
      edit('stateIntent', {
        id: 'wide',
        from: '@any',
        to: 'internet',
        services: ['svc-ssh'],
        action: 'deny',
      }),
      edit('addIntent', {
        id: 'late',
        from: 'cameras',
        to: 'internet',
        service: 'svc-ssh',
        action: 'allow',
        rank: 900,
        reason: '',
      }),
    ],
    'late',
    /From Cameras to the internet secure shell is allowed, but secure shell from everywhere to the internet is denied before that/,
  ],
  [
    'C-53',
    [
      edit('addForward', {
        id: 'led',
        name: 'Till from home',
        protocol: 'tcp',
        outside: { first: 8443, last: 8443 },
        deviceId: 'harbour-desk',
        inside: 631,
        reason: '',
      }),
      edit('changeDevice', {
        id: 'harbour-desk',
        changes: {
          addressing: { mode: 'automatic', segmentId: 'office-net', address: null, gateway: null },
          serviceIds: ['svc-print'],
        },
      }),
    ],
    'led',
    /Till from home leads TCP 8443 of the line to Harbour office desk, which takes any address of its pool/,
  ],
  [
    'C-53',
    [
      edit('addForward', {
        id: 'led',
        name: 'Prints',
        protocol: 'tcp',
        outside: { first: 631, last: 631 },
        deviceId: 'printer',
        inside: 22,
        reason: '',
      }),
    ],
    'led',
    /leads to TCP 22 of [^,]+, which offers nothing there/,
  ],
  [
    'C-53',
    [
      edit('addForward', {
        id: 'led',
        name: 'Switch page',
        protocol: 'tcp',
        outside: { first: 8443, last: 8443 },
        deviceId: 'switch',
        inside: 443,
        reason: '',
      }),
    ],
    'led',
    /opens .*, a device that is managed, to everybody/,
  ],
  [
    'C-53',
    [
      edit('stateIntent', {
        id: 'no-desk',
        from: 'harbour-desk',
        to: 'internet',
        services: 'any',
        action: 'deny',
      }),
      edit('changeDevice', {
        id: 'harbour-desk',
        changes: {
          addressing: { mode: 'automatic', segmentId: 'office-net', address: null, gateway: null },
        },
      }),
    ],
    'harbour-desk',
    /has no address of its own, and the policy speaks of it/,
  ],
  [
    'C-52',
    [
      edit('stateIntent', {
        id: 'world',
        from: 'internet',
        to: '@devices',
        services: ['svc-web'],
        action: 'allow',
      }),
    ],
    'gateway',
    /The internet may open the page of .* \(TCP 80, 443\)/,
  ],
  [
    'C-52',
    [
      edit('stateIntent', {
        id: 'open-pages',
        from: 'office-net',
        to: 'management',
        services: ['svc-web'],
        action: 'allow',
      }),
    ],
    'management',
    /From Office the pages of the devices in Management can be opened \(web\)/,
  ],
  [
    'C-03',
    [edit('changeDevice', { id: 'quay-camera', changes: { power: 'outlet' } })],
    'quay-camera',
    /Quay camera needs an outlet, and Quay wall has no mains in reach/,
  ],
  [
    'C-03',
    [edit('changeLocation', { id: 'cupboard', changes: { outletDistanceM: 4 } })],
    'switch',
    /The lead of Cupboard switch is 1\.5 m long, and the outlet at Office cupboard is 4 m away/,
  ],
  [
    'C-03',
    [edit('changeLocation', { id: 'cupboard', changes: { outlets: 2 } })],
    'cupboard',
    /want 3 outlets at Office cupboard, which has 2/,
  ],
  [
    'C-04',
    [
      edit('changeProfile', {
        id: 'controller-host',
        changes: {
          limits: {
            ...catalogue['controller-host']!.limits,
            controllerCapacity: { gateway: 1, switch: 30, 'access-point': 0, 'bridge-radio': 0 },
          },
        },
      }),
      edit('addProfile', {
        ...catalogue['controller-host']!,
        id: 'larger-host',
        name: 'Larger host',
      }),
      edit('addDevice', { id: 'other', name: 'Other controller', profileId: 'larger-host' }),
    ],
    'controller',
    /Controller takes 0 access points; the plan has 1/,
  ],
  [
    'C-05',
    [edit('addUplink', { id: 'second', name: 'Second line', rank: 1, portId: 'gateway.wan2' })],
    'gateway',
    /Harbour gateway has no licence 'Second line', and Second line needs it/,
  ],
  [
    'C-07',
    [
      edit('addKnownNetwork', {
        id: 'net-old',
        name: 'Old scales',
        kind: 'stays',
        prefix: '10.20.40.0/25',
        note: '',
      }),
    ],
    'cameras',
    /Cameras 10\.20\.40\.0\/24 overlaps Old scales 10\.20\.40\.0\/25, which stays as it is/,
  ],
  [
    'C-07',
    [
      edit('addKnownNetwork', {
        id: 'net-shop',
        name: 'Shop',
        kind: 'joined',
        prefix: '10.20.20.0/22',
        note: '',
      }),
    ],
    'office-net',
    /Office 10\.20\.20\.0\/24 overlaps Shop 10\.20\.20\.0\/22, which a tunnel joins to the site/,
  ],
  [
    'C-07',
    [
      edit('addKnownNetwork', {
        id: 'net-shop',
        name: 'Shop',
        kind: 'joined',
        prefix: '192.168.1.0/24',
        note: '',
      }),
    ],
    'fibre',
    /Shop 192\.168\.1\.0\/24 overlaps 192\.168\.1\.0\/24, the LAN of the provider's router on Harbour fibre/,
  ],
  [
    'C-07',
    [
      edit('addKnownNetwork', {
        id: 'net-a',
        name: 'A',
        kind: 'joined',
        prefix: '10.90.0.0/16',
        note: '',
      }),
      edit('addKnownNetwork', {
        id: 'net-b',
        name: 'B',
        kind: 'joined',
        prefix: '10.90.4.0/24',
        note: '',
      }),
    ],
    'net-b',
    /A 10\.90\.0\.0\/16 and B 10\.90\.4\.0\/24 overlap/,
  ],
  [
    'C-54',
    [
      edit('addKnownNetwork', {
        id: 'net-t',
        name: 'People',
        kind: 'tunnel',
        prefix: '172.0.9.0/24',
        note: '',
      }),
    ],
    'net-t',
    /People 172\.0\.9\.0\/24 is public address space, not private space/,
  ],
  [
    'C-07',
    [
      edit('setAddressSpace6', { addressSpace6: ['2001:db8:20::/56'] }),
      edit('allocateSixtyFours', {}),
      edit('changeSegment', { id: 'cameras', changes: { subnet6: '2001:db8:20:10::/64' } }),
    ],
    'cameras',
    /both have 2001:db8:20:10::\/64/,
  ],
  [
    'C-07',
    [
      edit('setAddressSpace6', { addressSpace6: ['2001:db8:20::/56'] }),
      edit('allocateSixtyFours', {}),
      edit('recordHandOff', {
        uplinkId: 'fibre',
        facts: { ipv6: { mode: 'delegated', length: 63, prefix: null } },
      }),
    ],
    'fibre',
    /delegates a \/63, which holds 2 \/64s; the plan uses 4/,
  ],
  [
    'C-07',
    [
      edit('setAddressSpace6', { addressSpace6: ['2001:db8:20::/56'] }),
      edit('allocateSixtyFours', {}),
      edit('setAddressSpace6', { addressSpace6: ['2001:db8:99::/56'] }),
    ],
    'cameras',
    /lies outside 2001:db8:99::\/56/,
  ],
  [
    'C-10',
    [
      edit('setPools', {
        segmentId: 'cameras',
        pools: [
          { first: '10.20.40.20', last: '10.20.40.99' },
          { first: '10.20.40.90', last: '10.20.40.120' },
        ],
      }),
    ],
    'cameras',
    /The pool 10\.20\.40\.90-10\.20\.40\.120 of Cameras meets its pool 10\.20\.40\.20-10\.20\.40\.99/,
  ],
  [
    'C-11',
    [edit('setPool', { segmentId: 'cameras', first: '10.20.40.20', last: '10.20.40.24' })],
    'cameras',
    /The pool of Cameras holds 5 addresses; 12 hosts are expected/,
  ],
  [
    'C-11',
    [
      edit('changeSegment', {
        id: 'visitors',
        changes: { churn: { arrivalsPerHour: 80, heldMinutes: 180, fromHour: 9, toHour: 21 } },
      }),
    ],
    'visitors',
    /Visitors needs 1058 addresses with a lease of 1 d, and its pool has 501; it is full all day/,
  ],
  [
    'C-11',
    [
      edit('changeSegment', {
        id: 'visitors',
        changes: {
          leaseSeconds: 28_800,
          churn: { arrivalsPerHour: 80, heldMinutes: 180, fromHour: 9, toHour: 21 },
        },
      }),
    ],
    'visitors',
    /Visitors needs \d+ addresses with a lease of 8 h, and its pool has 501; it is full at 15:/,
  ],
  [
    'C-13',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { dhcp: { mode: 'relay', relayTo: '10.99.0.5' } },
      }),
    ],
    'cameras',
    /are passed on to 10\.99\.0\.5, but no segment and no joined network of the site has this address/,
  ],
  [
    'C-13',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { dhcp: { mode: 'relay', relayTo: '10.20.20.99' } },
      }),
    ],
    'cameras',
    /but no device of Office has this address/,
  ],
  [
    'C-13',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { dhcp: { mode: 'relay', relayTo: '10.20.20.2' } },
      }),
    ],
    'cameras',
    /but the policy keeps Cameras out of Office/,
  ],
  [
    'C-02',
    [edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.0.0/16' } })],
    'management',
    /Management 10\.20\.10\.0\/24 overlaps 10\.20\.0\.0\/16, the LAN of the provider/,
  ],
  [
    'C-07',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { subnet: '10.20.20.128/25', gateway: '10.20.20.129', pools: [] },
      }),
    ],
    'cameras',
    /Office 10\.20\.20\.0\/24 and Cameras 10\.20\.20\.128\/25 overlap/,
  ],
  [
    'C-08',
    [
      edit('setAddressSpace', { addressSpace: ['172.0.0.0/16'] }),
      edit('allocateSegments', { segmentIds: ['cameras'] }),
      edit('setAddressSpace', { addressSpace: ['10.20.0.0/16'] }),
    ],
    'cameras',
    /Cameras 172\.0\.40\.0\/24 is public address space .*Private space under 172 runs from 172\.16/,
  ],
  [
    'C-08',
    [edit('setAddressSpace', { addressSpace: ['172.0.0.0/16'] })],
    'site',
    /address space 172\.0\.0\.0\/16 is public/,
  ],
  [
    'C-09',
    [edit('setGateway', { segmentId: 'cameras', gateway: '255.255.255.0' })],
    'cameras',
    /The gateway 255\.255\.255\.0 of Cameras is a mask/,
  ],
  [
    'C-09',
    [edit('setGateway', { segmentId: 'cameras', gateway: '10.20.41.1' })],
    'cameras',
    /lies outside the subnet/,
  ],
  [
    'C-09',
    [edit('setGateway', { segmentId: 'cameras', gateway: '10.20.40.255' })],
    'cameras',
    /is the broadcast address/,
  ],
  [
    'C-09',
    [
      edit('changeDevice', {
        id: 'printer',
        changes: addressing('fixed', 'office-net', '10.20.20.0', '10.20.20.1'),
      }),
    ],
    'printer',
    /10\.20\.20\.0 of Office printer is the network address/,
  ],
  [
    'C-09',
    [
      edit('changeDevice', {
        id: 'printer',
        changes: addressing('fixed', 'office-net', '10.20.20.1', '10.20.20.2'),
      }),
    ],
    'printer',
    /address and gateway look exchanged/,
  ],
  [
    'C-09',
    [
      edit('changeDevice', {
        id: 'printer',
        changes: addressing('fixed', 'office-net', '10.20.20.2', '255.255.255.0'),
      }),
    ],
    'printer',
    /sends to the gateway 255\.255\.255\.0/,
  ],
  [
    'C-10',
    [edit('setPool', { segmentId: 'cameras', first: '10.20.40.1', last: '10.20.40.99' })],
    'cameras',
    /covers 10\.20\.40\.1 of the gateway/,
  ],
  [
    'C-10',
    [edit('setPool', { segmentId: 'cameras', first: '10.20.40.200', last: '10.20.41.20' })],
    'cameras',
    /reaches outside what hosts may have/,
  ],
  [
    'C-10',
    [edit('setPool', { segmentId: 'cameras', first: '10.20.40.99', last: '10.20.40.50' })],
    'cameras',
    /ends before it starts/,
  ],
  [
    'C-12',
    [edit('changeSegment', { id: 'cameras', changes: { vlanId: 20 } })],
    'office-net',
    /Cameras and Office both have VLAN 20/,
  ],
  [
    'C-12',
    [edit('changeDevice', { id: 'quay-ap', changes: { serial: 'AM-SWI-48274' } })],
    'switch',
    /have the same serial, AM-SWI-48274/,
  ],
  [
    'C-12',
    [edit('changeDevice', { id: 'quay-ap', changes: { hardwareAddress: '02:4b:48:00:00:20' } })],
    'switch',
    /have the same hardware address/,
  ],
  [
    'C-12',
    [edit('changeDevice', { id: 'quay-camera', changes: { name: 'Gate camera' } })],
    'gate-camera',
    /have the same name/,
  ],
  [
    'C-12',
    [
      edit('changeDevice', {
        id: 'quay-ap',
        changes: addressing('reserved', 'management', '10.20.10.2', null),
      }),
    ],
    'controller',
    /have the same address, 10\.20\.10\.2/,
  ],
  [
    'C-14',
    [edit('removeTag', { segmentId: 'cameras', portIds: ['gateway.1'] })],
    'gateway.1',
    /VLAN 40 Cameras stops at Harbour gateway port 1 \(not sent\) and is needed by/,
  ],
  [
    'C-14',
    [edit('removeTag', { segmentId: 'visitors', portIds: ['quay-ap.eth0'] })],
    'quay-ap.eth0',
    /stops at Quay AP port eth0 \(not received\)/,
  ],
  [
    'C-14',
    [edit('setUntagged', { segmentId: 'cameras', portIds: ['switch.4'] })],
    'switch.4',
    /VLAN 20 Office stops at Cupboard switch port 4 \(not sent\) and is needed by Harbour office desk/,
  ],
  [
    'C-16',
    [edit('setUntagged', { segmentId: 'visitors', portIds: ['gateway.2'] })],
    'kiosk-switch',
    /every socket carries what Harbour gateway port 2 sends untagged, VLAN 90 Visitors; Fuel berth till should be in VLAN 20 Office/,
  ],
  [
    'C-18',
    [edit('changeDevice', { id: 'gate-camera', changes: { power: 'poe' } })],
    'switch',
    /has 65 W to give; its 4 powered devices reserve 76\.2 W, 11\.2 W too much/,
  ],
  [
    'C-18',
    [
      edit('changeProfile', {
        id: 'switch-8-poe-65',
        changes: {
          ports: catalogue['switch-8-poe-65']!.ports.map((p) =>
            p.name === '2' ? { ...p, poeOutType: 1 } : p,
          ),
        },
      }),
      edit('removeLink', { id: 'l-gate' }),
    ],
    'quay-ap',
    /Quay AP is class 4, and Cupboard switch port 2 gives no more than class 3: 13 W arrive, and it draws 19 W at the most|12\.9\d? W arrive/,
  ],
  [
    'C-18',
    [
      edit('removeLink', { id: 'l-ap' }),
      edit('removeLink', { id: 'l-kiosk' }),
      edit('addLink', {
        id: 'l-ap',
        a: 'gateway.2',
        b: 'quay-ap.eth0',
        medium: 'copper',
        lengthM: 9,
      }),
    ],
    'quay-ap',
    /Quay AP is to be powered by its cable but hangs on Harbour gateway port 2, which feeds no power/,
  ],
  [
    'C-34',
    [
      edit('stateIntent', {
        id: 'oops',
        from: 'visitors',
        to: 'management',
        services: ['svc-web'],
        action: 'allow',
      }),
    ],
    'visitor-wifi',
    /isolates its clients from each other, and lets them through to Management/,
  ],
  [
    'C-09',
    [
      edit('changeSegment', {
        id: 'office-net',
        changes: {
          options: {
            nameServers: [],
            timeServers: [],
            routes: [
              { to: '10.9.0.0/16', via: '10.20.40.9' },
              { to: '10.8.0.0/16', via: '10.20.20.9' },
            ],
          },
        },
      }),
    ],
    'office-net',
    /Leases of Office tell of 10\.9\.0\.0\/16 by 10\.20\.40\.9, which lies outside 10\.20\.20\.0\/24/,
  ],
  [
    'C-15',
    [edit('addTag', { segmentId: 'cameras', portIds: ['switch.4'] })],
    'switch.4',
    /Cupboard switch port 4 leads to Harbour office desk and sends VLAN 40 Cameras to it with tags/,
  ],
  [
    'C-19',
    [edit('changeLink', { id: 'l-trunk', changes: { lengthM: 140 } })],
    'l-trunk',
    /The copper between Harbour gateway port 1 and Cupboard switch port 1 is 140 m long, 40 m more than it carries/,
  ],
  [
    'C-19',
    [edit('changeLink', { id: 'l-trunk', changes: { medium: 'fibre' } })],
    'gateway.1',
    /Fibre is planned between .* are copper sockets/,
  ],
  [
    'C-29',
    [edit('recordHandOff', { uplinkId: 'fibre', facts: { mode: 'pppoe', mtu: 1500 } })],
    'fibre',
    /Harbour fibre signs in by PPPoE and is noted with an MTU of 1500/,
  ],
  [
    'C-32',
    [
      edit('addWirelessNetwork', {
        id: 'staff-wifi',
        name: 'Staff',
        segmentId: 'office-net',
        security: 'open',
        keyRef: null,
        clientIsolation: false,
        accessPointIds: [],
      }),
    ],
    'staff-wifi',
    /'Staff' is open, and whoever is in reach lands in Office/,
  ],
  [
    'C-32',
    [edit('changeWirelessNetwork', { id: 'visitor-wifi', changes: { keyRef: null } })],
    'visitor-wifi',
    /'Berth and Breakfast' is to have a key, and none is named for it/,
  ],
  [
    'C-34',
    [edit('changeWirelessNetwork', { id: 'visitor-wifi', changes: { clientIsolation: false } })],
    'visitor-wifi',
    /Clients of 'Berth and Breakfast' hear each other in Visitors/,
  ],
  [
    'C-71',
    [
      edit('changeDevice', {
        id: 'quay-ap',
        changes: addressing('automatic', 'office-net', null as never, null),
      }),
    ],
    'quay-ap',
    /Quay AP has its page in Office, from where the controller in Management may not be reached/,
  ],
  [
    'C-87',
    [edit('changeSegment', { id: 'cameras', changes: { dhcp: { mode: 'off', relayTo: null } } })],
    'cameras',
    /Basin camera, Gate camera, Quay camera ask for a lease in Cameras, where nobody hands out any/,
  ],
  [
    'C-87',
    [edit('changeSegment', { id: 'cameras', changes: { pools: [] } })],
    'cameras',
    /whose server has no pool/,
  ],
  [
    'C-87',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { subnet: null, gateway: null, fixedBlock: null, pools: [] },
      }),
    ],
    'cameras',
    /Cameras has no subnet, and Basin camera, Gate camera, Quay camera belong to it/,
  ],
  [
    'C-87',
    [
      edit('changeDevice', {
        id: 'harbour-desk',
        changes: {
          hardwareAddress: null,
          ...addressing('reserved', 'office-net', '10.20.20.3', null),
        },
      }),
    ],
    'harbour-desk',
    /Harbour office desk has the reservation 10\.20\.20\.3 and no hardware address/,
  ],
  [
    'C-88',
    [
      edit('changeSegment', {
        id: 'visitors',
        changes: { options: { nameServers: ['10.20.10.2'], timeServers: [], routes: [] } },
      }),
    ],
    'visitors',
    /Visitors is told of the name server 10\.20\.10\.2, but the policy keeps Visitors out of Management/,
  ],
  [
    'C-88',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { options: { nameServers: [], timeServers: ['198.51.100.123'], routes: [] } },
      }),
    ],
    'cameras',
    /Cameras is told of the time server 198\.51\.100\.123, but the policy keeps Cameras out of the internet/,
  ],
  [
    'C-88',
    [
      edit('changeSegment', {
        id: 'cameras',
        changes: { options: { nameServers: ['10.99.0.1'], timeServers: [], routes: [] } },
      }),
    ],
    'cameras',
    /no segment has this address, and beyond the line it is nobody's/,
  ],
  [
    'C-90',
    [edit('setUntagged', { segmentId: null, portIds: ['gateway.3'] })],
    'management',
    /No free socket and no network on the air leads into Management/,
  ],
  [
    'C-91',
    [edit('removeLink', { id: 'l-ap' })],
    'switch.2',
    /free and live in Management|free sockets are live in Management/,
  ],
  [
    'C-49',
    [edit('changeSite', { preferences: { betweenSegments: 'allow' } })],
    'cameras',
    /Cameras reaches Management, Office because the site leaves open/,
  ],
]

/** The same for what no button mends. */
const byHand: typeof cases = [
  [
    'C-20',
    [
      edit('movePlug', { linkId: 'l-trunk', fromPortId: 'gateway.1', toPortId: 'gateway.sfp1' }),
      edit('movePlug', { linkId: 'l-trunk', fromPortId: 'switch.1', toPortId: 'switch.sfp1' }),
      edit('changeLink', { id: 'l-trunk', changes: { medium: 'fibre' } }),
      edit('changeProfile', {
        id: 'switch-8-poe-65',
        changes: {
          ports: catalogue['switch-8-poe-65']!.ports.map((p) =>
            p.name === 'sfp1' ? { ...p, speedMbps: 1000 } : p,
          ),
        },
      }),
    ],
    'l-trunk',
    /The optical sockets .* run at 10000 and 1000 Mbit\/s/,
  ],
  [
    'C-26',
    [edit('addUplink', { id: 'second', name: 'Second line', rank: 1 })],
    'second',
    /Second line is planned without a socket, and the gateway uses Harbour fibre alone/,
  ],
  [
    'C-34',
    [
      edit('addDevice', {
        id: 'kiosk-ap',
        name: 'Kiosk AP',
        profileId: 'ap-indoor-2x2',
        serial: 'AM-API-90001',
        hardwareAddress: '02:4b:48:00:09:00',
        addressing: { mode: 'automatic', segmentId: 'management', address: null, gateway: null },
      }),
      edit('addDevice', {
        id: 'pier-ap',
        name: 'Pier AP',
        profileId: 'ap-indoor-2x2',
        serial: 'AM-API-90002',
        hardwareAddress: '02:4b:48:00:0a:00',
        addressing: { mode: 'automatic', segmentId: 'management', address: null, gateway: null },
      }),
      edit('addDevice', { id: 'plain', name: 'Plain switch', profileId: 'switch-5-plain' }),
      edit('addLink', {
        id: 'l-plain',
        a: 'gateway.3',
        b: 'plain.1',
        medium: 'copper',
        lengthM: 5,
      }),
      edit('addLink', {
        id: 'l-ka',
        a: 'plain.2',
        b: 'kiosk-ap.eth0',
        medium: 'copper',
        lengthM: 5,
      }),
      edit('addLink', {
        id: 'l-pa',
        a: 'plain.3',
        b: 'pier-ap.eth0',
        medium: 'copper',
        lengthM: 5,
      }),
      edit('setUntagged', {
        segmentId: 'management',
        portIds: ['gateway.3', 'kiosk-ap.eth0', 'pier-ap.eth0'],
      }),
      edit('addTag', {
        segmentId: 'visitors',
        portIds: ['gateway.3', 'kiosk-ap.eth0', 'pier-ap.eth0'],
      }),
      edit('changeWirelessNetwork', {
        id: 'visitor-wifi',
        changes: { accessPointIds: ['quay-ap', 'kiosk-ap', 'pier-ap'] },
      }),
    ],
    'plain',
    /a client at Kiosk AP and one at Pier AP hear each other, because Plain switch, where their ways meet, knows no VLANs/,
  ],
  [
    'C-81',
    [
      edit('addDevice', { id: 'ext', name: 'Extender', profileId: 'extender-2x2' }),
      edit('addLink', { id: 'l-ext', a: 'gateway.3', b: 'ext.eth0', medium: 'copper', lengthM: 5 }),
    ],
    'ext',
    /Extender hands out leases of its own around 192\.168\.7\.1 as it comes from the factory, and is cabled to Harbour gateway port 3/,
  ],
  [
    'C-92',
    [
      edit('changeProfile', { id: 'switch-8-poe-65', changes: { abilities: [] } }),
      edit('changeSite', { management: { banner: '', logTo: '10.20.10.2', monitoring: null } }),
    ],
    'switch',
    /Cupboard switch does not keep stray lease servers out|Cupboard switch cannot send what they log to 10\.20\.10\.2/,
  ],
  [
    'C-89',
    [],
    'switch.2',
    /Management travels without a tag on a cable that can be unplugged in the open: Quay AP at Quay wall/,
  ],
]

describe('rules', () => {
  it.each(cases)('%s is found with its numbers', (catchNumber, calls, subject, text) => {
    const found = only(findingsOf(applyEdits(clean(), calls)), catchNumber)
    expect(found.map((f) => f.text).join('\n')).toMatch(text)
    expect(found.some((f) => f.subjects.includes(subject))).toBe(true)
    for (const f of found) expect(f.why.length).toBeGreaterThan(10)
  })
  it.each(cases.filter(([c, calls]) => !(c === 'C-18' && calls.length > 1) && c !== 'C-01'))(
    '%s is mended by each of its fixes',
    (catchNumber, calls) => {
      const broken = applyEdits(clean(), calls)
      for (const finding of only(findingsOf(broken), catchNumber)) {
        expect(finding.fixes?.length, finding.text).toBeGreaterThan(0)
        for (const fix of finding.fixes!)
          expect(
            findingsOf(applyEdits(broken, fix.edits)).some((f) => f.id === finding.id),
            `${finding.text} => ${fix.label}`,
          ).toBe(false)
      }
    },
  )
  it.each(byHand)(
    '%s is found where only a person can mend it',
    (catchNumber, calls, subject, text) => {
      const found = only(findingsOf(applyEdits(clean(), calls)), catchNumber)
      expect(found.map((f) => f.text).join('\n')).toMatch(text)
      expect(found.some((f) => f.subjects.includes(subject))).toBe(true)
    },
  )
  it("finds the overlap of the shop with its provider's router", () => {
    const [found] = only(findingsOf(petrelStreet()), 'C-02')
    expect(found).toMatchObject({
      severity: 'blocker',
      numbers: [
        { label: 'ours', value: '192.168.1.0/24' },
        { label: "the provider's", value: '192.168.1.0/24' },
      ],
    })
    expect(only(findingsOf(applyEdits(petrelStreet(), found!.fixes![0]!.edits)), 'C-02')).toEqual(
      [],
    )
  })
  it('warns of a factory subnet that will be met, without blocking', () => {
    const plan = applyEdits(clean(), [
      edit('changeSegment', {
        id: 'cameras',
        changes: { subnet: '192.168.2.0/24', gateway: '192.168.2.1', pools: [], fixedBlock: null },
      }),
    ])
    expect(only(findingsOf(plan), 'C-07')).toMatchObject([
      {
        severity: 'caution',
        text: expect.stringMatching(
          /192\.168\.2\.0\/24, on which Cupboard switch, Quay AP come from the factory/,
        ),
      },
    ])
  })
  it('stated single services from a restricted segment are a decision, not an accident', () => {
    const plan = applyEdits(clean(), [
      edit('stateIntent', {
        id: 'ok',
        from: 'cameras',
        to: 'office-net',
        services: ['svc-files'],
        action: 'allow',
      }),
    ])
    expect(only(findingsOf(plan), 'C-49')).toEqual([])
  })
  it('a plain switch that is asked for two segments offers each, and says that the others must move', () => {
    const plan = applyEdits(clean(), [
      edit('addDevice', {
        id: 'berth-screen',
        name: 'Berth screen',
        profileId: 'wired-host',
        ...addressing('automatic', 'visitors', '10.20.90.9', null),
      }),
      edit('addLink', {
        id: 'l-screen',
        a: 'kiosk-switch.3',
        b: 'berth-screen.eth0',
        medium: 'copper',
        lengthM: 2,
      }),
    ])
    const [found] = only(findingsOf(plan), 'C-16')
    expect(found!.fixes!.map((f) => f.label)).toEqual([
      'Put a Switch 8 PoE+ 65 W in its place, which can',
      'Give the whole switch to VLAN 20 Office (the others must move)',
      'Give the whole switch to VLAN 90 Visitors (the others must move)',
    ])
    // Only another switch ends it: with one segment for the whole, the hosts of the other are still
    // wrong.
    const [managed, ...whole] = found!.fixes!.map((f) =>
      only(findingsOf(applyEdits(plan, f.edits)), 'C-16'),
    )
    expect([managed!.length, ...whole.map((w) => w.length)]).toEqual([0, 1, 1])
    expect(
      findingsOf(applyEdits(plan, found!.fixes![0]!.edits)).filter((f) => f.severity === 'blocker'),
    ).toEqual([])
  })
  it('have ids, sheets and titles of their own', () => {
    expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length)
    expect([...new Set(rules.flatMap((r) => r.catches))].sort()).toEqual([
      ...Array.from({ length: 20 }, (_, i) => `C-${String(i + 1).padStart(2, '0')}`),
      'C-26',
      'C-29',
      'C-32',
      'C-34',
      'C-49',
      'C-50',
      'C-52',
      'C-53',
      'C-54',
      'C-71',
      'C-81',
      'C-87',
      'C-88',
      'C-89',
      'C-90',
      'C-91',
      'C-92',
    ])
  })
})

it('the first buttons of all findings come to an end, on any site, and leave nothing that has a button', () => {
  for (let seed = 1; seed <= 60; seed++) {
    let plan = randomSite(chanceOf(seed), smallShape(chanceOf(seed), 4))
    const first = findingsOf(plan).filter((f) => f.fixes?.length).length
    let presses = 0
    for (
      let f = findingsOf(plan).find((x) => x.fixes?.length);
      f;
      f = findingsOf(plan).find((x) => x.fixes?.length)
    ) {
      plan = applyEdits(plan, f.fixes![0]!.edits)
      expect(++presses, `seed ${seed}: ${f.text}`).toBeLessThanOrEqual(3 * first + 10)
    }
  }
})
it('notes a habit that is broken and numbers that everybody has, and asks for nothing where all is well', () => {
  const odd = applyEdits(clean(), [
    edit('changeSegment', { id: 'office-net', changes: { vlanId: 1 } }),
  ])
  const [found] = findingsOf(odd).filter((f) => f.ruleId === 'addressing/habits')
  expect(found).toMatchObject({
    severity: 'caution',
    text: expect.stringMatching(/Office is in VLAN 1, and the site's habit is to leave it empty/),
  })
  for (const fix of found!.fixes!)
    expect(
      findingsOf(applyEdits(odd, fix.edits)).filter((f) => f.ruleId === 'addressing/habits'),
    ).toEqual([])
  expect(findingsOf(petrelStreet()).find((f) => f.severity === 'note')?.text).toMatch(
    /192\.168\.1\.0\/24 has the numbers of routers at home/,
  )
})
it('the three sites of the demo have the mistakes that were left in them, and no others', () => {
  const catches = (plan: SitePlan): string[] =>
    findingsOf(plan)
      .filter((f) => f.severity !== 'note')
      .map((f) => f.catches[0] ?? f.ruleId)
  expect(catches(kittiwakeHarbour())).toEqual([
    'C-05',
    'C-10',
    'C-11',
    'C-14',
    'C-16',
    'C-18',
    'C-34',
    'C-07',
    'C-19',
  ])
  expect(catches(petrelStreet())).toEqual(['C-02', 'C-01', 'C-07', 'addressing/habits'])
  expect(catches(dunlinSlipway())).toEqual([])
})

describe('what is kept from one plan to the next', () => {
  const anew = (plan: SitePlan): Finding[] =>
    findingsOf(JSON.parse(JSON.stringify(plan)) as SitePlan)
  const lists = [
    ...[...cases, ...byHand].map(([, list]) => list),
    [edit('changeSegment', { id: 'cameras', changes: { vlanId: 1 } })],
    [edit('changeSite', { preferences: { betweenSegments: 'allow' } })],
  ]
  it('is what would be found anew, after any row of the edits that break a plan', () => {
    const met = new Set<string>()
    for (let seed = 1; seed <= 45; seed++) {
      const chance = chanceOf(seed)
      const plans = [clean()]
      for (let n = 0; n < 14; n++)
        for (const call of chance.one(lists)) {
          const outcome = applyEdit(plans.at(-1)!, call)
          if (outcome.ok) plans.push(outcome.plan)
        }
      // The row of edits first: what is looked at in between would be what is remembered.
      const row = plans.map(findingsOf)
      for (const [i, plan] of plans.entries())
        expect(row[i], `seed ${seed}, edit ${i}`).toEqual(anew(plan))
      for (const f of row.flat()) met.add(f.ruleId)
    }
    expect(rules.map((r) => r.id).filter((id) => !met.has(id))).toEqual([])
  })
  it('is kept: taking a cable out leaves the very same findings of the policy and of the addresses', () => {
    const plan = quayside()
    const elsewhere = (list: Finding[]): Finding[] =>
      list.filter((f) => f.sheet === 'policy' || f.sheet === 'addresses')
    const before = elsewhere(findingsOf(plan))
    expect(before.length).toBeGreaterThan(1)
    const after = elsewhere(findingsOf(applyEdits(plan, [edit('removeLink', { id: 'l-ap' })])))
    expect(after.map((f) => before.indexOf(f))).toEqual(before.map((_, i) => i))
  })
})
