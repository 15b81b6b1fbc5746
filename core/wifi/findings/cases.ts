/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import type { FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

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
]
