/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { addressing, type FindingCase } from '../../findings/breaking'
import { editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
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
    'C-49',
    [edit('changeSite', { preferences: { betweenSegments: 'allow' } })],
    'cameras',
    /Cameras reaches Management, Office because the site leaves open/,
  ],
  [
    'policy/never-asked',
    [
      edit('stateFirst', {
        id: 'within',
        from: 'harbour-desk',
        to: 'office-net',
        service: 'any',
        action: 'deny',
        reason: '',
      }),
    ],
    'within',
    /Harbour office desk to Office stays within Office; the gateway is not asked/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = []
