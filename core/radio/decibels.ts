/** Powers and levels of radio, dBm and dB. */

export const milliwattsOf = (dbm: number): number => 10 ** (dbm / 10)
export const dbmOf = (milliwatts: number): number => 10 * Math.log10(milliwatts)

/** Powers side by side; -Infinity of none. */
export const sumDbm = (levels: readonly number[]): number =>
  dbmOf(levels.reduce((sum, l) => sum + milliwattsOf(l), 0))

/**
 * The thermal noise of a receiver, dBm: -174 dBm/Hz at 290 K (Johnson and Nyquist), its bandwidth,
 * and its noise figure. 20 MHz and 7 dB are -94 dBm.
 */
export const noiseDbm = (widthMhz: number, figureDb: number): number =>
  -174 + 10 * Math.log10(widthMhz * 1e6) + figureDb

/** How strong a signal is called, percent: 2 (dBm + 100), between 0 and 100 (common practice). */
export const percentOf = (dbm: number): number => Math.min(100, Math.max(0, 2 * (dbm + 100)))
/** The level that a percentage stands for, dBm. */
export const levelOf = (percent: number): number => percent / 2 - 100
