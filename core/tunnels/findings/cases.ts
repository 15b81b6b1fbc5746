/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import type { FindingCase } from '../../findings/breaking'
import { editCall as edit, type EditCall } from '../../plan'

const KEYS = [
  'IQb/FtqKRkzmIUsAJmCINJfcLV5IAZ8FvNUcvm/uNXY=',
  'urACwszPyYex3SxOmTtQN1eHzAI3tBXglCQHynupME8=',
  'PpdxiEt6SxHiCOiyJzw7pnNRRInMBxs/aeq2p7jtaCk=',
]
const tunnel = (more: object = {}): EditCall =>
  edit('addTunnel', {
    id: 'road',
    name: 'Road',
    hostDeviceId: 'gateway',
    subnet: '10.250.99.0/24',
    listenPort: 51_820,
    endpointName: 'harbour.example.org',
    dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
    publicKey: KEYS[2],
    ...more,
  })
const peer = (n: 1 | 2, more: object = {}): EditCall =>
  edit('addPeer', {
    id: `peer-${n}`,
    name: n === 1 ? 'Laptop' : 'Phone',
    tunnelId: 'road',
    address: `10.250.99.${n + 1}`,
    publicKey: KEYS[n - 1],
    usedOn: ['One'],
    ...more,
  })
/** What both ends of IKEv2 say. */
const IKE = {
  ...{ proposal: 'aes256gcm16-prfsha384-ecp384', childProposal: 'aes256gcm16-ecp384' },
  ...{ localId: 'harbour', remoteId: 'shop', lifetimeSeconds: 14_400, childLifetimeSeconds: 3600 },
  ...{ localSelectors: ['10.20.20.0/24'], remoteSelectors: ['192.168.7.0/24'] },
}
const ikev2 = (more: object): EditCall[] => [
  tunnel({ kind: 'sites', protocol: 'ikev2', listenPort: null, publicKey: null, ...more }),
  peer(1, { publicKey: null, networks: ['192.168.7.0/24'] }),
  into(),
]
const into = (from = 'road'): EditCall =>
  edit('stateIntent', {
    id: 'int-road',
    from,
    to: 'office-net',
    services: 'any',
    action: 'allow',
    reason: 'they work there',
  })
const road = (tunnelMore: object = {}, ...peers: EditCall[]): EditCall[] => [
  tunnel(tunnelMore),
  ...(peers.length > 0 ? peers : [peer(1)]),
  into(),
]

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  ['C-54', road({ subnet: null }), 'road', /Road has no network of its own yet/],
  [
    'C-54',
    road({ subnet: '172.0.30.0/24' }, peer(1, { address: '172.0.30.2' })),
    'road',
    /172\.0\.30\.0\/24: that is public address space, not private space/,
  ],
  [
    'C-54',
    road({}, peer(1), peer(2, { address: '10.250.99.2' })),
    'peer-2',
    /Phone has 10\.250\.99\.2 in Road, as Laptop has/,
  ],
  ['C-54', road({}, peer(1, { address: null })), 'peer-1', /Laptop has no address in Road yet/],
  ['C-55', [tunnel(), peer(1)], 'road', /Nobody of Road reaches anything here/],
  [
    'C-56',
    road({}, peer(1, { usedOn: ['Desk', 'Bag'] })),
    'peer-1',
    /The file of Laptop is on 2 devices: Desk and Bag/,
  ],
  [
    'C-56',
    road({}, peer(1), peer(2, { publicKey: KEYS[0] })),
    'peer-2',
    /Phone and Laptop have one key/,
  ],
  [
    'C-57',
    road({}, peer(1, { carriedBy: 'mail' })),
    'peer-1',
    /The file of Laptop went by mail, with its private key/,
  ],
  ['C-59', road({ listenPort: null }), 'road', /Road listens on no port, and Laptop would call it/],
  [
    'C-59',
    road({ hostDeviceId: 'controller' }),
    'road',
    /Nobody finds Road: no port of the line leads to/,
  ],
  [
    'C-85',
    [tunnel({ kind: 'provider', subnet: '10.64.0.9/32', listenPort: null, endpointName: null })],
    'road',
    /Road is up, and nobody goes through it/,
  ],
  [
    'C-60',
    [
      edit('changeProfile', {
        id: 'gateway-4-2',
        changes: {
          limits: {
            controllerCapacity: null,
            tunnels: 1,
            plainMbps: null,
            inspectedMbps: null,
            tunnelledMbps: null,
          },
        },
      }),
      ...['one', 'two'].map((id) =>
        edit('addTunnel', {
          id,
          name: id,
          kind: 'provider',
          hostDeviceId: 'gateway',
          subnet: '10.64.0.9/32',
          throughIds: ['controller'],
          publicKey: KEYS[2],
        }),
      ),
    ],
    'gateway',
    /holds 1 tunnels at once; 2 are switched on/,
  ],
  [
    'C-53',
    [
      tunnel({
        kind: 'provider',
        subnet: '10.64.0.9/32',
        listenPort: null,
        endpointName: null,
        throughIds: ['harbour-desk'],
      }),
      edit('changeDevice', {
        id: 'harbour-desk',
        changes: {
          addressing: { mode: 'automatic', segmentId: 'office-net', address: null, gateway: null },
        },
      }),
    ],
    'harbour-desk',
    /Harbour office desk is to go through Road, and has no address of its own/,
  ],
  [
    'C-58',
    [
      edit('recordHandOff', { uplinkId: 'fibre', facts: { addressKind: 'private' } }),
      ...road({ isPassedOn: true }),
    ],
    'road',
    /would be told an address that nobody outside reaches/,
  ],
  ['tunnels/ike', ikev2({}), 'road', /What Road proposes to its other end is not known yet/],
  [
    'tunnels/ike',
    ikev2({ ike: { ...IKE, proposal: '3des-sha1-modp1024' } }),
    'road',
    /proposes what is not whole or not safe: 'modp1024' should not be used any more/,
  ],
  [
    'tunnels/ike',
    ikev2({
      ike: IKE,
      foreignIke: {
        ...IKE,
        ...{ proposal: 'aes256-sha256-modp2048', localId: 'shop', remoteId: 'harbour' },
        ...{ localSelectors: ['192.168.7.0/24'], remoteSelectors: ['10.20.0.0/16'] },
      },
    }),
    'road',
    /Both ends of Road differ: proposal, networks here/,
  ],
]

/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-58',
    road({ endpointName: null, dynamicName: null }),
    'road',
    /Nobody finds Road: the address of the line changes, and no name follows it/,
  ],
  ['C-58', road({ dynamicName: null }), 'road', /nobody keeps it right when the address of/],
  [
    'C-59',
    [
      edit('recordHandOff', { uplinkId: 'fibre', facts: { addressKind: 'private' } }),
      ...road({ isPassedOn: false }),
    ],
    'road',
    /ends in the provider's own router: the port has to be passed on there, and is not/,
  ],
  [
    'C-58',
    [
      edit('recordHandOff', { uplinkId: 'fibre', facts: { addressKind: 'carrier-grade' } }),
      ...road(),
    ],
    'road',
    /Road cannot be called: .* is behind the translation of its provider/,
  ],
  [
    'C-55',
    road({ kind: 'sites' }),
    'peer-1',
    /Nothing is known of what lies behind Laptop: no route leads back to it/,
  ],
  [
    'C-60',
    [
      tunnel({
        ...{ kind: 'provider', subnet: '10.64.0.9/32', listenPort: null, endpointName: null },
        throughIds: ['office-net'],
      }),
      edit('changeSegment', { id: 'office-net', changes: { subnet6: 'fd00:20::/64' } }),
    ],
    'road',
    /Office goes through Road over IPv4 alone: IPv6 goes around it/,
  ],
  ['tunnels/keys', road({ publicKey: null }), 'road', /Road has no key yet/],
  ['tunnels/keys', road({}, peer(1, { publicKey: null })), 'road', /Laptop of Road has no key yet/],
]
