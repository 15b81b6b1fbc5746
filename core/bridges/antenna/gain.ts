/** Gain and width of a round dish by its size. */
import { wavelengthM } from '../clearance/shape'

/** Of what falls onto it, so much is used (common practice). */
export const EFFICIENCY = 0.55

/** 10 log(eta (pi D / lambda)^2), dBi (antenna handbooks). */
export const dishGainDbi = (diameterM: number, mhz: number, efficiency = EFFICIENCY): number =>
  10 * Math.log10(efficiency * ((Math.PI * diameterM) / wavelengthM(mhz)) ** 2)

/** About 70 lambda / D, degrees (common practice). */
export const dishWidthDegrees = (diameterM: number, mhz: number): number =>
  (70 * wavelengthM(mhz)) / diameterM

/** How large a dish of a gain is, m; for wind, where nobody measured it. */
export const dishDiameterM = (gainDbi: number, mhz: number, efficiency = EFFICIENCY): number =>
  (wavelengthM(mhz) / Math.PI) * Math.sqrt(10 ** (gainDbi / 10) / efficiency)
