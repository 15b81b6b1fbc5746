/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import { addressing, type FindingCase } from '../../findings/breaking'
import { catalogue, editCall as edit } from '../../plan'

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-03',
    [edit('changeDevice', { id: 'quay-camera', changes: { power: 'outlet' } })],
    'quay-camera',
    /Quay camera needs an outlet, and Quay wall has no mains in reach/,
  ],
  [
    'C-21',
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
    'survey/serial-shape',
    [edit('changeDevice', { id: 'switch', changes: { serial: 'AM-SWI-4828O' } })],
    'switch',
    /Cupboard switch: AM-SWI-4828O does not look like a serial of this kind, for example AM-GGG-44444; is it AM-SWI-48280\?$/,
  ],
]
/** What no button mends. @public */
export const byHand: readonly FindingCase[] = [
  [
    'C-92',
    [
      edit('changeProfile', { id: 'switch-8-poe-65', changes: { abilities: [] } }),
      edit('changeSite', {
        management: {
          banner: '',
          logTo: '10.20.10.2',
          monitoring: null,
          backupEveryDays: null,
        },
      }),
    ],
    'switch',
    /Cupboard switch does not keep stray lease servers out|Cupboard switch cannot send what they log to 10\.20\.10\.2/,
  ],
]
