/** How a clean plan is broken, and what is then found (see core/findings/breaking.ts). */
import type { FindingCase } from '../../findings/breaking'
import {
  dishFive,
  editCall as edit,
  plainEnd,
  type BridgeEnd,
  type EditCall,
  type Obstacle,
} from '../../plan'

const place = (id: string, latitude: number): EditCall =>
  edit('addLocation', {
    id,
    name: id === 'shore' ? 'Shore mast' : 'Island mast',
    kind: 'mast',
    latitude,
    longitude: -6.7,
    heightM: 20,
  })
const unit = (id: string, name: string, n: number, locationId: string, profileId: string) =>
  edit('addDevice', {
    id,
    name,
    profileId,
    locationId,
    serial: `AM-BRR-9100${n}`,
    hardwareAddress: `02:4b:48:00:9a:0${n}`,
    stays: true,
    firmware: '4.4',
  })
const end: BridgeEnd = {
  ...plainEnd,
  channel: 112,
  widthMhz: 40,
  country: 'GB',
  keyRef: 'bridge-sound',
}
const main: BridgeEnd = { ...end, role: 'main' }
const far: BridgeEnd = { ...end, role: 'far' }
/** Two dishes, some kilometres of water, nothing wrong. */
const pair = (profileId = 'bridge-5ghz-dish'): EditCall[] => [
  place('shore', 57.9),
  place('island', 57.93),
  unit('shore-radio', 'Shore radio', 1, 'shore', profileId),
  unit('island-radio', 'Island radio', 2, 'island', profileId),
  edit('addLink', {
    id: 'sound-air',
    a: 'shore-radio.air',
    b: 'island-radio.air',
    medium: 'radio',
    lengthM: 3340,
  }),
]
const sound = edit('addBridge', {
  id: 'sound',
  name: 'Sound',
  linkId: 'sound-air',
  a: main,
  b: far,
  ground: [
    { atM: 0, heightM: 4 },
    { atM: 50, heightM: 0 },
    { atM: 3300, heightM: 0 },
    { atM: 3340, heightM: 3 },
  ],
  wantedMbps: { toB: 20, toA: 20 },
  gustMs: 35,
})
const obstacle = (topM: number, more: Partial<Obstacle> = {}): Obstacle => ({
  name: 'Larches',
  kind: 'trees',
  atM: 1600,
  lengthM: 20,
  topM,
  growsM: 0,
  measuredOn: '2026-05-01',
  ...more,
})
/** One sector, two dishes that it serves, the second one in the wood. */
const several = (): EditCall[] => [
  place('shore', 57.9),
  place('island', 57.93),
  unit('shore-radio', 'Shore sector', 1, 'shore', 'bridge-5ghz-sector'),
  ...['near', 'wood'].flatMap((id, n): EditCall[] => [
    unit(`${id}-radio`, n === 0 ? 'Near radio' : 'Wood radio', 2 + n, 'island', 'bridge-5ghz-dish'),
    edit('addLink', {
      id: `${id}-air`,
      a: `shore-radio.air${n + 1}`,
      b: `${id}-radio.air`,
      medium: 'radio',
      lengthM: 3340,
    }),
    edit('addBridge', {
      id,
      name: n === 0 ? 'Near' : 'Wood',
      linkId: `${id}-air`,
      a: { ...main },
      b: { ...far },
      ground: [
        { atM: 0, heightM: 0 },
        { atM: 3340, heightM: 0 },
      ],
      obstacles: n === 0 ? [] : [obstacle(19)],
      wantedMbps: { toB: 60, toA: 5 },
    }),
  ]),
]
const overTheSky = (more: object): EditCall =>
  edit('changeUplink', {
    id: 'fibre',
    changes: {
      sky: {
        ...{ cableM: 15, toSocketM: 8, azimuthDegrees: 0, widthDegrees: 360, fromDegrees: 25 },
        obstacles: [],
        ...more,
      },
    },
  })
const change = (changes: object): EditCall => edit('changeBridge', { id: 'sound', changes })
const broken = (changes: object): EditCall[] => [...pair(), sound, change(changes)]

/** @public found by its file name, in core/findings/findings.test.ts */
export const cases: readonly FindingCase[] = [
  [
    'C-40',
    [
      ...broken({ b: { ...far, distance: 9000 } }),
      edit('changeProfile', {
        id: 'bridge-5ghz-dish',
        changes: { bridge: { ...dishFive, distance: { kind: 'power-m', most: 20_000 } } },
      }),
    ],
    'island-radio',
    /Island radio is set to 9000 m, and the other end is 3341 m away/,
  ],
  [
    'C-41',
    broken({ obstacles: [obstacle(21)] }),
    'sound',
    /Sound: Larches, \d+ m from Shore radio: -?\d+ % of the first/,
  ],
  [
    'C-41',
    broken({ obstacles: [obstacle(40)] }),
    'sound',
    /the beam runs [\d.]+ m under the top of Larches/,
  ],
  [
    'C-41',
    broken({ a: { ...main, heightM: 0 }, b: { ...far, heightM: 0 } }),
    'sound',
    /the ground/,
  ],
  [
    'C-43',
    broken({ a: { ...main, powerDbm: 20 } }),
    'sound',
    /Shore radio is set to 20 dBm; .* 45 dBm EIRP, and 30 dBm/,
  ],
  [
    'C-43',
    broken({ b: { ...far, antenna: { gainDbi: 0, widthDegrees: 20, diameterM: null } } }),
    'island-radio',
    /its antenna is entered with 0 dBi/,
  ],
  [
    'C-35',
    broken({
      a: { ...main, widthMhz: 80, channel: 173 },
      b: { ...far, widthMhz: 80, channel: 173 },
    }),
    'sound',
    /are not open in GB/,
  ],
  [
    'C-35',
    broken({ b: { ...far, country: null } }),
    'sound',
    /Island radio none; GB is where it is/,
  ],
  [
    'C-44',
    broken({ b: { ...far, channel: 120 } }),
    'sound',
    /channel 112 \(5560 MHz\) and 120 \(5600 MHz\): on different/,
  ],
  ['C-44', broken({ b: { ...far, widthMhz: 20 } }), 'sound', /width 40 MHz and 20 MHz/],
  ['C-44', broken({ b: { ...far, role: 'main' } }), 'sound', /both are set as the main end/],
  ['C-44', broken({ b: { ...far, keyRef: 'bridge-other' } }), 'sound', /with different keys/],
  ['C-44', broken({ a: { ...main, role: null } }), 'sound', /role not set yet/],
  [
    'C-46',
    broken({ a: { ...main, polarisation: 'vertical' }, b: { ...far, polarisation: 'horizontal' } }),
    'sound',
    /turned against each other/,
  ],
  ['C-48', broken({ b: { ...far, distance: 12 } }), 'sound', /too short for 3.34 km: 23 us/],
  [
    'C-45',
    broken({ wantedMbps: { toB: 160, toA: 20 }, availabilityPercent: 99 }),
    'sound',
    /has to carry 160 Mbit\/s to Island radio and 20.0 back/,
  ],
  [
    'C-45',
    broken({ wantedMbps: { toB: 100, toA: 20 }, availabilityPercent: 99.99 }),
    'sound',
    /at what is held 99.99 % of the year/,
  ],
  [
    'C-42',
    broken({
      a: { ...main, powerDbm: -4 },
      b: { ...far, powerDbm: -4 },
      availabilityPercent: 99.999,
      obstacles: [obstacle(21)],
    }),
    'sound',
    /is down \d+ min a year; 99.999 % allow 5 min|and -79 dBm are needed/,
  ],
  [
    'C-36',
    broken({ heard: [{ end: 'b', mhz: 5560, widthMhz: 20, dbm: -70 }] }),
    'sound',
    /Island radio hears somebody at 5560 MHz on its channel with -70 dBm/,
  ],
  [
    'bridges/not-described',
    pair(),
    'sound-air',
    /Shore radio port air to Island radio port air goes through the air; nothing is said/,
  ],
]

/** Broken in ways that no button mends. @public found by its file name */
export const byHand: readonly FindingCase[] = [
  [
    'bridges/sky-hidden',
    [
      overTheSky({
        obstacles: [{ name: 'Cliff', fromDegrees: 90, toDegrees: 270, upDegrees: 60 }],
      }),
    ],
    'fibre',
    /\d+ % of the sky that its dish needs is hidden/,
  ],
  [
    'bridges/sky-hidden',
    [overTheSky({ toSocketM: 40 })],
    'fibre',
    /40 m lie between its dish and what takes its cable, which is 15 m long/,
  ],
  [
    'bridges/dragging',
    several(),
    'wood',
    /is asked for \d+ % of its time by 2 far ends; Wood takes/,
  ],
  [
    'C-41',
    broken({ obstacles: [obstacle(15, { growsM: 0.6 })] }),
    'sound',
    /Larches will be in the way from 20\d\d-\d\d on/,
  ],
  [
    'C-46',
    broken({ trial: { end: 'b', gainDbi: 13, dbm: -92.5, takenOn: null } }),
    'sound',
    /-92.5 dBm were read at Island radio with 13 dBi/,
  ],
  ['C-47', broken({ ground: [] }), 'sound', /is reckoned over 3.34 km with nothing in the way/],
  [
    'C-61',
    broken({ a: { ...main, keyRef: '' }, b: { ...far, keyRef: '' } }),
    'sound',
    /whoever has such a unit can join/,
  ],
  [
    'bridges/wind-load',
    broken({ a: { ...main, mount: 'weighted', ballastKg: 10 } }),
    'shore-radio',
    /with 10 kg; a gust of 35 m\/s asks for about \d+ kg/,
  ],
  [
    'bridges/not-described',
    broken({ b: { ...far, heightM: 0 }, a: { ...main, channel: 9 } }),
    'sound',
    /a channel that 'Bridge radio 5 GHz dish' has, since 9 of Shore radio is none/,
  ],
]
