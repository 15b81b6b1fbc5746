/** What the radios for bridges of the usual equipment are built to do. All of them are invented. */
import { rateMbps, steps as modulations, leastDbm, type Generation } from '../radio/rates'
import type { Width } from '../radio/bands'
import type { BridgeUnit, RateStep } from './schema'

/** Steps by the formula of IEEE 802.11, with the sensitivity of its receivers. */
const stepsOf = (
  generation: Exclude<Generation, 1>,
  streams: number,
  widths: readonly Width[],
): RateStep[] =>
  widths.flatMap((widthMhz) =>
    modulations.flatMap((m, n): RateStep[] => {
      const mbps = rateMbps(generation, n, widthMhz, streams)
      return mbps === undefined
        ? []
        : [
            {
              widthMhz,
              name: m.name,
              mbps: Math.round(mbps * 10) / 10,
              leastDbm: leastDbm(n, widthMhz),
            },
          ]
    }),
  )
const byFives = (first: number, last: number, by: number): BridgeUnit['channels'] =>
  Array.from({ length: Math.floor((last - first) / by) + 1 }, (_, n) => ({
    number: first + n * by,
    mhz: 5000 + 5 * (first + n * by),
  }))

const fiveGhz = {
  channels: [...byFives(100, 140, 4), ...byFives(149, 173, 4)],
  widthsMhz: [20, 40, 80],
  leastPowerDbm: -4,
  mostPowerDbm: 27,
  steps: stepsOf(5, 2, [20, 40, 80]),
  dataShare: 0.7,
  duplex: 'time',
  distance: { kind: 'timer-us', most: 400 },
  setting: 'page',
  address: null,
  hasDisplay: false,
} as const satisfies Partial<BridgeUnit>

/** A dish of 45 cm. */
export const dishFive: BridgeUnit = {
  ...fiveGhz,
  antenna: {
    shape: 'dish',
    gainDbi: 25,
    widthDegrees: 8,
    heightDegrees: 8,
    frontToBackDb: 30,
    crossPolarDb: 25,
    diameterM: 0.45,
  },
}
/** Serves several far ends. */
export const sectorFive: BridgeUnit = {
  ...fiveGhz,
  antenna: {
    shape: 'sector',
    gainDbi: 16,
    widthDegrees: 90,
    heightDegrees: 9,
    frontToBackDb: 25,
    crossPolarDb: 20,
    diameterM: null,
  },
}
/** A pair that is set by its two buttons, for short ways. */
export const handFive: BridgeUnit = {
  ...fiveGhz,
  channels: byFives(100, 140, 4).map(({ mhz }, n) => ({ number: n + 1, mhz })),
  widthsMhz: [20],
  mostPowerDbm: 20,
  steps: stepsOf(4, 1, [20]),
  distance: { kind: 'none', most: 0 },
  setting: 'hand',
  address: { base: '192.168.6.10', main: 0, far: 100, perChannel: 1 },
  hasDisplay: true,
  antenna: {
    shape: 'dish',
    gainDbi: 13,
    widthDegrees: 38,
    heightDegrees: 38,
    frontToBackDb: 20,
    crossPolarDb: 15,
    diameterM: null,
  },
}
/** Channels of IEEE 802.11ad, single carrier (clause 20, from memory). */
export const sixtyGhz: BridgeUnit = {
  channels: [1, 2, 3, 4].map((number) => ({ number, mhz: 56_160 + 2160 * number })),
  widthsMhz: [2160],
  leastPowerDbm: -10,
  mostPowerDbm: 10,
  steps: (
    [
      ['BPSK 1/2', 385, -68],
      ['BPSK 3/4', 1155, -64],
      ['QPSK 1/2', 1540, -63],
      ['QPSK 3/4', 2310, -61],
      ['16-QAM 1/2', 3080, -55],
      ['16-QAM 3/4', 4620, -53],
    ] as const
  ).map(([name, mbps, least]) => ({ widthMhz: 2160, name, mbps, leastDbm: least })),
  dataShare: 0.6,
  duplex: 'time',
  antenna: {
    shape: 'dish',
    gainDbi: 36,
    widthDegrees: 2.4,
    heightDegrees: 2.4,
    frontToBackDb: 40,
    crossPolarDb: 25,
    diameterM: 0.14,
  },
  distance: { kind: 'none', most: 0 },
  setting: 'phone',
  address: null,
  hasDisplay: false,
}
/** Licensed, each direction with a frequency of its own; its channels are named by the lower one. */
export const elevenGhz: BridgeUnit = {
  channels: Array.from({ length: 12 }, (_, n) => ({ number: n + 1, mhz: 10_735 + 40 * n })),
  widthsMhz: [40],
  leastPowerDbm: 0,
  mostPowerDbm: 26,
  steps: (
    [
      ['QPSK', 62, -86],
      ['16-QAM', 125, -79],
      ['64-QAM', 190, -73],
      ['256-QAM', 255, -67],
      ['1024-QAM', 320, -61],
    ] as const
  ).map(([name, mbps, least]) => ({ widthMhz: 40, name, mbps, leastDbm: least })),
  dataShare: 0.95,
  duplex: 'frequency',
  antenna: {
    shape: 'dish',
    gainDbi: 34,
    widthDegrees: 3.2,
    heightDegrees: 3.2,
    frontToBackDb: 50,
    crossPolarDb: 30,
    diameterM: 0.6,
  },
  distance: { kind: 'none', most: 0 },
  setting: 'page',
  address: null,
  hasDisplay: false,
}
