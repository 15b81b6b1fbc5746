/**
 * What comes through at a level: a share of what Shannon's formula allows, up to what a device can;
 * the air is shared with all that are heard on the same frequencies. Not the tables of rates that
 * plans are reckoned with.
 */

/** What headers, gaps and answers leave of it. */
const LEFT = 0.5
/** What real receivers miss of the formula, dB (common practice). */
const GAP_DB = 12
/** Bits a hertz of the densest signals that are sent, with their redundancy. */
const DENSEST = 8

/** Mbit/s. */
export function throughputMbps(
  dbm: number,
  widthMhz: number,
  streams: number,
  sharing: number,
): number {
  const noise = -174 + 10 * Math.log10(widthMhz * 1e6) + 7
  const ratio = 10 ** ((dbm - noise - GAP_DB) / 10)
  const bits = Math.min(DENSEST, Math.log2(1 + ratio))
  return (widthMhz * bits * streams * LEFT) / Math.max(1, sharing)
}

/** Of two stretches with one radio: every packet is on the air twice. */
export const passedOn = (first: number, second: number, radios: number): number =>
  first <= 0 || second <= 0
    ? 0
    : radios > 1
      ? Math.min(first, second)
      : (first * second) / (first + second)
