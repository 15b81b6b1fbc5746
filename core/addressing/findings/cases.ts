/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { addressing, type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
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
    /People 172\.0\.9\.0\/24 is public address space, not private space[^]*172\.16\.0\.0 to 172\.31\.255\.255/,
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
          leaseSeconds: 3600,
          churn: { arrivalsPerHour: 1500, heldMinutes: 60, fromHour: 0, toHour: 24 },
        },
      }),
    ],
    'visitors',
    /it is full all day\. No usual lease fits\.$/,
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
    'addressing/pool-missing',
    [
      edit('addSegment', {
        id: 'lab',
        name: 'Lab',
        purpose: 'servers',
        vlanId: 77,
        expectedHosts: 4,
      }),
      edit('allocateSegments', { segmentIds: ['lab'] }),
      edit('setPools', { segmentId: 'lab', pools: [] }),
    ],
    'lab',
    /Lab hands out leases and has no pool/,
  ],
  [
    'addressing/not-placed',
    [
      edit('addSegment', {
        id: 'lab',
        name: 'Lab',
        purpose: 'servers',
        vlanId: 77,
        expectedHosts: 4,
      }),
    ],
    'lab',
    /Lab has no subnet yet/,
  ],
  [
    'addressing/not-placed',
    [
      edit('addSegment', {
        id: 'hall',
        name: 'Hall',
        purpose: 'guests',
        vlanId: 77,
        expectedHosts: 30_000,
        growthPercent: 0,
      }),
      edit('addSegment', {
        id: 'tent',
        name: 'Tent',
        purpose: 'guests',
        vlanId: 78,
        expectedHosts: 30_000,
        growthPercent: 0,
      }),
    ],
    'tent',
    /has no room for (Hall|Tent|Hall and Tent)\./,
  ],
  [
    'C-09',
    [
      edit('changeDevice', {
        id: 'harbour-desk',
        changes: {
          hardwareAddress: '02:00:00:00:00:09',
          ...addressing('reserved', 'office-net', '10.20.20.1', null),
        },
      }),
    ],
    'harbour-desk',
    /Harbour office desk has 10\.20\.20\.1, the address of the gateway of Office/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-81',
    [
      edit('addDevice', { id: 'ext', name: 'Extender', profileId: 'extender-2x2' }),
      edit('addLink', { id: 'l-ext', a: 'gateway.3', b: 'ext.eth0', medium: 'copper', lengthM: 5 }),
    ],
    'ext',
    /Extender hands out leases of its own around 192\.168\.7\.1 as it comes from the factory, and is cabled to Harbour gateway port 3/,
  ],
]
