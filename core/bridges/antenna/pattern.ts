/** How an antenna is turned away from is heard: main lobe, side lobes, the other polarisation. */
// @ts-expect-error: it comes without types
import untyped from 'bessel'
import type { BridgeEnd, BridgeUnit, Polarisation } from '../../plan'

/** Bessel functions of the first kind and a whole order. */
const { besselj } = untyped as { besselj(x: number, order: number): number }

/** An antenna as it hangs. */
export interface Antenna {
  readonly shape: BridgeUnit['antenna']['shape']
  readonly gainDbi: number
  readonly widthDegrees: number
  readonly heightDegrees: number
  readonly frontToBackDb: number
  readonly crossPolarDb: number
  readonly diameterM: number | null
}

/** That of the unit, or the other one that hangs there. */
export const antennaOf = (unit: BridgeUnit, end: Pick<BridgeEnd, 'antenna'>): Antenna =>
  end.antenna === null
    ? unit.antenna
    : {
        ...unit.antenna,
        ...end.antenna,
        shape: end.antenna.diameterM === null ? unit.antenna.shape : 'dish',
        heightDegrees:
          end.antenna.diameterM === null ? unit.antenna.heightDegrees : end.antenna.widthDegrees,
      }

/** 2 J1(u) / u is half in power at this u. */
export const HALF_POWER_U = 1.61634
/** The first zero and the top of the first side lobe of 2 J1(u) / u. */
export const FIRST_ZERO_U = 3.831706
export const FIRST_LOBE_U = 5.135622
/** How deep a zero is in practice: surroundings fill it, dB. */
const FILLED_DB = 45

const lobeDb = (u: number): number =>
  Math.abs(u) < 1e-6
    ? 0
    : Math.max(-FILLED_DB, 20 * Math.log10(Math.abs((2 * besselj(Math.abs(u), 1)) / u)))

const toU = (degrees: number, widthDegrees: number): number =>
  HALF_POWER_U *
  (Math.sin((Math.min(90, Math.abs(degrees)) * Math.PI) / 180) /
    Math.sin((Math.min(180, widthDegrees) * Math.PI) / 360))

/**
 * What is lost when a dish looks so far beside, dB, 0 or less: a round opening that is lit evenly, 20
 * log |2 J1(u) / u| (antenna handbooks), stretched so that half power is where its width says; never
 * less than what it sends backwards.
 */
export const offAimDb = (antenna: Antenna, degrees: number): number =>
  Math.max(-antenna.frontToBackDb, lobeDb(toU(degrees, antenna.widthDegrees)))

/** Across and up apart, for antennas that are no dish: -12 (angle / width)^2 (common practice). */
export function offAimBothDb(antenna: Antenna, across: number, up: number): number {
  if (antenna.shape === 'dish') return offAimDb(antenna, Math.hypot(across, up))
  const side = antenna.shape === 'around' ? 0 : 12 * (across / antenna.widthDegrees) ** 2
  const high = 12 * (up / antenna.heightDegrees) ** 2
  return -Math.min(antenna.frontToBackDb, side + high)
}

const degreesOf = (u: number, widthDegrees: number): number => {
  const sine = (u / HALF_POWER_U) * Math.sin((Math.min(180, widthDegrees) * Math.PI) / 360)
  return sine >= 1 ? 90 : (Math.asin(sine) * 180) / Math.PI
}

export interface SideLobe {
  /** From the middle of the beam. */
  readonly degrees: number
  /** Under the main lobe. */
  readonly db: number
}
/** The first side lobe of a dish: 17.6 dB under the main one. */
export const firstSideLobe = (antenna: Antenna): SideLobe => ({
  degrees: degreesOf(FIRST_LOBE_U, antenna.widthDegrees),
  db: -lobeDb(FIRST_LOBE_U),
})
/** Where the main lobe ends. */
export const firstZeroDegrees = (antenna: Antenna): number =>
  degreesOf(FIRST_ZERO_U, antenna.widthDegrees)

/** What it costs that two ends are not polarised alike, dB: all of it, or half where one sends both. */
export const polarisationLossDb = (
  a: Polarisation,
  b: Polarisation,
  crossPolarDb: number,
): number => (a === b ? 0 : a === 'both' || b === 'both' ? 3 : crossPolarDb)
