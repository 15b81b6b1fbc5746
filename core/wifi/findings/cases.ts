/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import type { FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

const corner = (x: number, y: number) => ({ x, y })
const box = (x: number, y: number, w: number, h: number) => [
  corner(x, y),
  corner(x + w, y),
  corner(x + w, y + h),
  corner(x, y + h),
]
const yard = edit('addFloor', {
  id: 'yard',
  name: 'Yard',
  widthM: 120,
  depthM: 80,
  isOutdoors: true,
  coefficient: 25,
})
const hang = (id: string, x: number, y: number, stays = true) =>
  edit('changeDevice', {
    id,
    changes: { place: { floorId: 'yard', x, y, heightM: 4, degrees: 0, stays } },
  })
const tune = (
  id: string,
  low: number | null,
  high: number | null,
  powers: readonly [number, number] = [10, 15],
) =>
  edit('changeDevice', {
    id,
    changes: {
      radios: [
        { isOn: true, band: '2.4', channel: low, widthMhz: 20, powerDbm: powers[0] },
        { isOn: true, band: '5', channel: high, widthMhz: 20, powerDbm: powers[1] },
      ],
    },
  })
const second = edit('addDevice', {
  id: 'pier-ap',
  name: 'Pier AP',
  profileId: 'ap-outdoor-2x2',
  serial: 'AM-APO-90003',
  hardwareAddress: '02:4b:48:00:0b:00',
  stays: true,
})
const visitors = (changes: object) => edit('changeWirelessNetwork', { id: 'visitor-wifi', changes })
const portal = {
  ...{ entry: 'terms', passwordRef: null, sessionMinutes: 600, before: [], title: 'Welcome' },
  ...{ text: 'Be kind.', colour: '#1d4e5f' },
}
const extender = [
  edit('addDevice', { id: 'hut-ext', name: 'Hut extender', profileId: 'extender-2x2' }),
  edit('changeDevice', { id: 'hut-ext', changes: { listensToId: 'quay-ap' } }),
]

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
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
    'wifi/access-points',
    [
      edit('changeWirelessNetwork', {
        id: 'visitor-wifi',
        changes: { accessPointIds: ['quay-ap', 'switch'] },
      }),
    ],
    'switch',
    /is to be sent by Cupboard switch, which is no access point/,
  ],
  [
    'wifi/access-points',
    [edit('changeWirelessNetwork', { id: 'visitor-wifi', changes: { accessPointIds: [] } })],
    'visitor-wifi',
    /'Berth and Breakfast' is sent by no access point/,
  ],
  [
    'C-36',
    [
      yard,
      second,
      hang('quay-ap', 30, 40),
      hang('pier-ap', 60, 40),
      tune('quay-ap', 6, 100),
      tune('pier-ap', 6, 104),
    ],
    'pier-ap',
    /In 2.4 GHz Pier AP and Quay AP on 6 \(-\d+ dBm\) hear each other/,
  ],
  [
    'C-36',
    [
      ...[yard, second, hang('quay-ap', 30, 40), hang('pier-ap', 60, 40)],
      tune('quay-ap', 1, 100),
      tune('pier-ap', 3, 104),
    ],
    'quay-ap',
    /Pier AP and Quay AP on 3 and 1, which overlap/,
  ],
  [
    'C-35',
    [yard, hang('quay-ap', 30, 40), tune('quay-ap', 6, 36)],
    'quay-ap',
    /Quay AP, outdoors: channel 36 is for indoors only in GB/,
  ],
  [
    'C-35',
    [tune('quay-ap', 14, 100)],
    'quay-ap',
    /Quay AP, indoors: channel 14 of 20 MHz is not open in GB/,
  ],
  [
    'C-35',
    [yard, hang('quay-ap', 30, 40), tune('quay-ap', 6, 100, [18, 20])],
    'quay-ap',
    /set to 18 dBm in 2.4 GHz; with its antenna of 5 dBi that is 23 dBm, and 20 dBm are allowed/,
  ],
  [
    'C-35',
    [tune('quay-ap', 6, 100), edit('changeSite', { wireless: { usesRadar: false } })],
    'quay-ap',
    /Quay AP is on channel 100, where radios listen for radar first/,
  ],
  ['C-32', [visitors({ security: 'wep' })], 'visitor-wifi', /protected by WEP/],
  ['C-32', [visitors({ security: 'wpa-wpa2' })], 'visitor-wifi', /no better than WPA with TKIP/],
  ['C-32', [visitors({ joinsByButton: true })], 'visitor-wifi', /joined by a button/],
  [
    'C-32',
    [
      yard,
      edit('addClientType', { id: 'old', name: 'Old tablets', knowsWpa3: false }),
      edit('addArea', {
        ...{ id: 'deck', name: 'Deck', floorId: 'yard', points: box(10, 10, 20, 20) },
        ...{ heads: 3, clientTypeId: 'old' },
      }),
      visitors({ security: 'wpa3' }),
    ],
    'old',
    /wants WPA3, which Old tablets do not know/,
  ],
  [
    'C-38',
    [
      yard,
      hang('quay-ap', 30, 40, false),
      edit('changeSite', { wireless: { channels: 'nightly' } }),
    ],
    'quay-ap',
    /planned anew each night, and Quay AP does not hang where it stays yet/,
  ],
  [
    'C-83',
    [
      visitors({ portal, bands: ['5'] }),
      edit('addWirelessNetwork', {
        ...{ id: 'other-half', name: 'Berth and Breakfast', segmentId: 'visitors' },
        ...{ security: 'wpa2-wpa3', keyRef: 'wifi-visitor-wifi', clientIsolation: true },
        ...{ accessPointIds: ['quay-ap'], bands: ['2.4'] },
      }),
    ],
    'other-half',
    /shows its page in 5 GHz, and is there without one in 2.4 GHz/,
  ],
  [
    'C-84',
    [
      edit('changeSegment', {
        id: 'visitors',
        changes: { dhcp: { mode: 'off', relayTo: null }, pools: [] },
      }),
    ],
    'visitor-wifi',
    /is to go on the air, and Visitors has nobody who hands out addresses/,
  ],
  [
    'C-37',
    [
      yard,
      edit('changeFloor', { id: 'yard', changes: { outlets: [corner(40, 40), corner(110, 70)] } }),
      edit('addWall', {
        ...{ id: 'shed', floorId: 'yard', material: 'concrete-thick', openings: [] },
        points: [corner(80, 10), corner(80, 79)],
      }),
      hang('quay-ap', 30, 40),
      ...extender,
      hang('hut-ext', 110, 70),
    ],
    'hut-ext',
    /Hut extender hears Quay AP with \d+ % .*in two stages it is to have 65 % or more/,
  ],
  [
    'C-40',
    [
      yard,
      hang('quay-ap', 30, 40),
      tune('quay-ap', 6, 100, [15, 24]),
      edit('addArea', {
        ...{ id: 'edge', name: 'Edge', floorId: 'yard', kind: 'boundary' },
        points: box(25, 20, 40, 40),
      }),
    ],
    'quay-ap',
    /Quay AP is heard with -\d+ dBm \(\d+ %\) in 5 GHz 20 m outside the boundary of Yard/,
  ],
  [
    'wifi/modes',
    [edit('changeDevice', { id: 'quay-ap', changes: { mode: 'bridge' } })],
    'visitor-wifi',
    /Quay AP is one end of a bridge on the air, and is to send 'Berth and Breakfast'/,
  ],
  [
    'wifi/modes',
    [edit('changeDevice', { id: 'switch', changes: { mode: 'access-point' } })],
    'switch',
    /Cupboard switch is to be on the air and has no radio/,
  ],
  [
    'wifi/off-the-plan',
    [
      yard,
      hang('quay-ap', 130, 10),
      edit('addWall', {
        ...{ id: 'pier', floorId: 'yard', material: 'wood', openings: [] },
        points: [corner(100, 0), corner(100, 95)],
      }),
    ],
    'quay-ap',
    /Quay AP and a wall of wood lie outside Yard, which is 120 x 80 m/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
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
    'C-33',
    [visitors({ name: 'Kittiwake guests' })],
    'visitor-wifi',
    /'Kittiwake guests' names the site, Kittiwake Harbour/,
  ],
  [
    'C-33',
    [visitors({ name: 'Gateway upstairs' })],
    'visitor-wifi',
    /tells what sends it: 'Gateway'/,
  ],
  ['C-33', [visitors({ name: 'QX-83014' })], 'visitor-wifi', /tells what sends it: 'QX-83014'/],
  [
    'C-40',
    [
      yard,
      hang('quay-ap', 30, 40),
      tune('quay-ap', 6, 100, [2, 2]),
      edit('addArea', {
        ...{ id: 'edge', name: 'Edge', floorId: 'yard', kind: 'boundary' },
        points: box(25, 20, 40, 40),
      }),
      edit('addWirelessNetwork', {
        ...{ id: 'staff-wifi', name: 'Lantern', segmentId: 'office-net', security: 'wpa3' },
        ...{ keyRef: 'wifi-staff', clientIsolation: false, accessPointIds: ['quay-ap'] },
      }),
    ],
    'staff-wifi',
    /'Lantern', which leads into Office, is heard beyond the boundary from Quay AP/,
  ],
  [
    'wifi/off-the-plan',
    [yard, hang('quay-ap', 10, -4)],
    'quay-ap',
    /Quay AP lies outside Yard, which is 120 x 80 m/,
  ],
  [
    'wifi/unserved',
    [
      yard,
      hang('quay-ap', 10, 10),
      tune('quay-ap', 6, 100, [2, 2]),
      edit('addArea', {
        ...{ id: 'deck', name: 'Far deck', floorId: 'yard', points: box(90, 50, 25, 25) },
        heads: 9,
      }),
      edit('addWall', {
        ...{ id: 'shed', floorId: 'yard', material: 'metal', openings: [] },
        points: [corner(60, 0), corner(60, 80)],
      }),
    ],
    'deck',
    /In Far deck 0 % of the area is served/,
  ],
  [
    'wifi/unserved',
    [
      yard,
      hang('quay-ap', 60, 40),
      tune('quay-ap', 6, 100),
      edit('addArea', {
        ...{ id: 'deck', name: 'Deck', floorId: 'yard', points: box(50, 30, 20, 20) },
        heads: 300,
      }),
    ],
    'quay-ap',
    /Quay AP is asked for \d+ % of its time in/,
  ],
  [
    'C-35',
    [edit('changeSite', { country: 'BR' }), tune('quay-ap', 6, 100)],
    'quay-ap',
    /What BR allows on the air is not kept here/,
  ],
  [
    'C-81',
    [
      second,
      edit('changeDevice', { id: 'pier-ap', changes: { mode: 'router' } }),
      edit('addLink', {
        id: 'l-pier',
        a: 'kiosk-switch.4',
        b: 'pier-ap.eth0',
        medium: 'copper',
        lengthM: 9,
      }),
    ],
    'pier-ap',
    /Pier AP hands out leases of its own as it routes/,
  ],
  [
    'wifi/modes',
    [edit('addDevice', { id: 'hut-ext', name: 'Hut extender', profileId: 'extender-2x2' })],
    'hut-ext',
    /Hut extender repeats an access point, and nobody said which/,
  ],
]
