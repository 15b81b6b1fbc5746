/** The harbour's two bridges: over the moored masts, and over open water to the light. */
import { editCall as edit, plainEnd, type EditCall } from '@mast/core/plan'

/** Heights of the ground along a path, from end A. */
const ground = (...points: (readonly [atM: number, heightM: number])[]) =>
  points.map(([atM, heightM]) => ({ atM, heightM }))

export const kittiwakeBridges: readonly EditCall[] = [
  edit('addBridge', {
    id: 'berth-bridge',
    name: 'Berth bridge',
    linkId: 'l-berth-air',
    a: {
      ...plainEnd,
      heightM: 9,
      role: 'main',
      channel: 2,
      widthMhz: 2160,
      country: 'GB',
      keyRef: 'bridge-berth-bridge',
    },
    b: {
      ...plainEnd,
      heightM: 4,
      mount: 'wall',
      role: 'far',
      channel: 2,
      widthMhz: 2160,
      country: 'GB',
      keyRef: 'bridge-berth-bridge',
    },
    ground: ground([0, 6], [28, 4], [34, 0], [396, 0], [402, 3], [420, 3]),
    obstacles: [
      {
        name: 'Moored masts at high water',
        kind: 'masts',
        atM: 150,
        lengthM: 90,
        topM: 10,
        growsM: 0,
        measuredOn: null,
      },
    ],
    climate: 'maritime',
    gustMs: 42,
    wantedMbps: { toB: 40, toA: 60 },
    availabilityPercent: 99.95,
    trial: { end: 'b', gainDbi: 24, dbm: -65, takenOn: '2026-10-02' },
  }),
  edit('addBridge', {
    id: 'light-bridge',
    name: 'Light bridge',
    linkId: 'l-light-air',
    a: {
      ...plainEnd,
      heightM: 9,
      mount: 'weighted',
      ballastKg: 60,
      role: 'main',
      channel: 112,
      widthMhz: 40,
      country: 'GB',
      keyRef: 'bridge-light-bridge',
      distance: 30,
    },
    b: {
      ...plainEnd,
      groundM: 14,
      mount: 'mast',
      role: 'far',
      channel: 112,
      widthMhz: 40,
      // Set on the bench, where nobody asked how far it would be, and it was not told its country.
      keyRef: 'bridge-light-bridge',
      distance: 15,
    },
    ground: ground([0, 6], [90, 5], [240, 4], [300, 2], [330, 0], [3370, 0], [3390, 9], [3400, 14]),
    obstacles: [
      {
        name: 'Spruces behind the sail loft',
        kind: 'trees',
        atM: 240,
        lengthM: 30,
        topM: 7,
        growsM: 0.35,
        measuredOn: '2026-04-18',
      },
    ],
    climate: 'maritime',
    gustMs: 42,
    wantedMbps: { toB: 5, toA: 20 },
    availabilityPercent: 99.9,
    // Read by somebody who was glad to hear anything at all.
    trial: { end: 'a', gainDbi: 16, dbm: -88, takenOn: '2026-10-09' },
    heard: [
      { end: 'a', mhz: 5600, widthMhz: 20, dbm: -88 },
      { end: 'a', mhz: 5520, widthMhz: 40, dbm: -79 },
    ],
  }),
]
