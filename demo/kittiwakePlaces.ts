/** The harbour drawn to scale: the office and the yard, who is where, and where access points hang. */
import { editCall as edit, type EditCall, type PlanWall } from '@mast/core/plan'

type Corner = readonly [number, number]
const points = (corners: readonly Corner[]) => corners.map(([x, y]) => ({ x, y }))
const wall = (
  id: string,
  floorId: string,
  material: PlanWall['material'],
  corners: readonly Corner[],
  openings: PlanWall['openings'] = [],
): EditCall => edit('addWall', { id, floorId, material, points: points(corners), openings })
const box = (x: number, y: number, w: number, h: number): readonly Corner[] => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
  [x, y],
]
const people = (
  id: string,
  floorId: string,
  name: string,
  corners: readonly Corner[],
  heads: number,
  clientTypeId: string,
): EditCall => edit('addArea', { id, floorId, name, points: points(corners), heads, clientTypeId })
const hangs = (id: string, floorId: string, x: number, y: number, heightM: number): EditCall =>
  edit('changeDevice', {
    id,
    changes: { place: { floorId, x, y, heightM, degrees: 0, stays: true } },
  })
const set = (
  id: string,
  low: number | null,
  high: number | null,
  widthMhz: 20 | 40 | 80 = 40,
  powerDbm = 20,
  lowDbm = 14,
): EditCall =>
  edit('changeDevice', {
    id,
    changes: {
      radios: [
        { isOn: true, band: '2.4', channel: low, widthMhz: 20, powerDbm: lowDbm },
        { isOn: true, band: '5', channel: high, widthMhz, powerDbm },
      ],
    },
  })

/** Weatherproof outlets of the yard. */
const outlets: readonly Corner[] = [
  [30, 25],
  [110, 45],
  [180, 29],
  [200, 45],
  [215, 25],
  [224, 40],
  [228, 62],
]

export const kittiwakePlaces: readonly EditCall[] = [
  edit('addClientType', { id: 'phones', name: 'Phones of this decade', needMbps: 2 }),
  edit('addClientType', {
    id: 'laptops',
    name: 'Laptops',
    generation: 6,
    powerDbm: 17,
    needMbps: 4,
  }),
  edit('addClientType', {
    id: 'old-tablets',
    name: 'Old tablets of the crew',
    generation: 4,
    streams: 1,
    widthMhz: 20,
    bands: ['2.4'],
    knowsWpa3: false,
    needMbps: 1,
  }),
  edit('addFloor', {
    id: 'office-floor',
    name: 'Harbour Office, ground floor',
    widthM: 20,
    depthM: 14,
    coefficient: 28,
  }),
  wall('office-outside', 'office-floor', 'brick-double', box(1, 1, 18, 12), [
    { fromM: 3, toM: 6, material: 'coated-glass' },
    { fromM: 10, toM: 13, material: 'coated-glass' },
    { fromM: 23, toM: 24, material: 'wood' },
  ]),
  wall(
    'office-passage',
    'office-floor',
    'plasterboard',
    [
      [1, 7],
      [19, 7],
    ],
    [
      { fromM: 2, toM: 3, material: 'wood' },
      { fromM: 14, toM: 15, material: 'wood' },
    ],
  ),
  wall('office-rooms', 'office-floor', 'plasterboard', [
    [7, 1],
    [7, 7],
  ]),
  wall('office-chart-room', 'office-floor', 'brick', [
    [12, 7],
    [12, 13],
  ]),
  wall('office-cupboard', 'office-floor', 'concrete', [
    [16, 7],
    [16, 9.5],
    [19, 9.5],
  ]),
  people(
    'office-desks',
    'office-floor',
    'Desks',
    [...box(7.2, 1.2, 11.5, 5.5)].slice(0, 4),
    6,
    'laptops',
  ),
  people(
    'chart-room',
    'office-floor',
    'Chart room',
    [...box(1.2, 7.2, 10.5, 5.5)].slice(0, 4),
    4,
    'phones',
  ),
  edit('addFloor', {
    id: 'yard',
    name: 'Yard, quay and pontoons',
    widthM: 240,
    depthM: 130,
    isOutdoors: true,
    coefficient: 23,
    lies: { latitude: 57.903, longitude: -6.69895, upDegrees: 310 },
  }),
  wall('yard-office', 'yard', 'brick-double', box(20, 12, 18, 12)),
  wall('yard-workshop', 'yard', 'metal', box(150, 10, 30, 18)),
  wall('yard-slipway-hut', 'yard', 'wood', box(226, 60, 6, 5)),
  edit('changeFloor', {
    id: 'yard',
    changes: { outlets: points([...outlets]) },
  }),
  wall('yard-ice-house', 'yard', 'concrete-thick', box(205, 12, 16, 12)),
  people('pontoon-a', 'yard', 'Pontoon A', [...box(50, 55, 8, 60)].slice(0, 4), 60, 'phones'),
  people('pontoon-b', 'yard', 'Pontoon B', [...box(85, 55, 8, 60)].slice(0, 4), 60, 'phones'),
  people('pontoon-c', 'yard', 'Pontoon C', [...box(120, 55, 8, 60)].slice(0, 4), 60, 'phones'),
  people('quay-crew', 'yard', 'Quay', [...box(20, 32, 180, 10)].slice(0, 4), 8, 'old-tablets'),
  edit('addArea', {
    id: 'harbour-edge',
    floorId: 'yard',
    name: 'Harbour boundary',
    kind: 'boundary',
    points: points([...box(5, 5, 230, 118)].slice(0, 4)),
  }),
  edit('addArea', {
    id: 'crane-way',
    floorId: 'yard',
    name: 'Way of the crane',
    kind: 'keep-out',
    points: points([...box(95, 10, 20, 30)].slice(0, 4)),
  }),
  hangs('office-ap', 'office-floor', 13, 3.5, 2.6),
  hangs('chart-room-ap', 'office-floor', 5, 10, 2.6),
  hangs('workshop-ap', 'yard', 165, 19, 4),
  hangs('quay-ap', 'yard', 70, 44, 4),
  hangs('pontoon-a-ap', 'yard', 54, 70, 3),
  hangs('pontoon-c-ap', 'yard', 124, 70, 3),
  // Plugged in at the hut itself, where it hears next to nothing.
  hangs('slipway-extender', 'yard', 228, 62, 1.5),
  edit('changeDevice', { id: 'slipway-extender', changes: { listensToId: 'ice-ap' } }),
  hangs('ice-ap', 'yard', 204, 18, 3),
  // Set one after the other on three afternoons, and nobody looked at the whole.
  set('office-ap', 1, 36, 80, 19),
  set('chart-room-ap', 1, 40, 80),
  set('workshop-ap', 6, 100),
  set('quay-ap', 11, 100, 40, 14, 8),
  set('pontoon-a-ap', 11, 108, 40, 15, 9),
  set('pontoon-c-ap', 6, 116, 40, 15, 9),
  set('ice-ap', null, null),
]
