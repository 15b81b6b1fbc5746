/** What distance takes of a signal, dB. */

/**
 * Free space (ITU-R P.525): 32.45 + 20 log f + 20 log d.
 * @param mhz frequency
 * @param metres more than 0
 */
export const freeSpaceLossDb = (mhz: number, metres: number): number =>
  32.45 + 20 * Math.log10(mhz) + 20 * Math.log10(metres / 1000)

/**
 * Indoors (ITU-R P.1238): 20 log f + N log d - 28, whatever walls are on the way being in N.
 * @param mhz frequency
 * @param metres 1 or more; nearer it is as near as 1 m
 * @param coefficient N, 20 of free space
 */
export const indoorLossDb = (mhz: number, metres: number, coefficient: number): number =>
  20 * Math.log10(mhz) + coefficient * Math.log10(Math.max(1, metres)) - 28

/** Distance coefficients N of ITU-R P.1238 by place and band (from memory). */
export const indoorCoefficients = {
  residential: { '2.4': 28, '5': 28, '6': 28 },
  office: { '2.4': 30, '5': 31, '6': 31 },
  commercial: { '2.4': 22, '5': 22, '6': 22 },
} as const
