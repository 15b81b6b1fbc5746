/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { type FindingCase } from '../../findings/breaking'
import { catalogue, editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-82',
    [
      edit('addDevice', {
        id: 'stick',
        name: 'Cellular box',
        profileId: 'cellular-router',
        locationId: null,
      }),
      edit('movePlug', { linkId: 'l-printer', fromPortId: 'switch.8', toPortId: 'stick.lan2' }),
    ],
    'printer',
    /hangs on Cellular box \(Cellular box port lan2\), ahead of Harbour gateway\./,
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
  ...[true, false].map((hasBoth): FindingCase => [
    'C-22',
    [
      edit('addDevice', { id: 'injector', name: 'Wall injector', profileId: 'injector-30' }),
      edit('changeDevice', {
        id: 'quay-camera',
        changes: { power: 'injector', locationId: 'cupboard' },
      }),
      edit('removeLink', { id: 'l-quay' }),
      edit('addLink', {
        id: 'l-data',
        ...{ a: 'injector.data', b: 'quay-camera.eth0', medium: 'copper', lengthM: 5 },
      }),
      ...(hasBoth
        ? [
            edit('addLink', {
              id: 'l-powered',
              ...{ a: 'switch.6', b: 'injector.powered', medium: 'copper', lengthM: 5 },
            }),
          ]
        : []),
    ],
    'injector',
    /Quay camera is in the socket data of Wall injector, which feeds nobody/,
  ]),
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
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
    'C-89',
    [],
    'switch.2',
    /Management travels without a tag on a cable that can be unplugged in the open: Quay AP at Quay wall/,
  ],
]
