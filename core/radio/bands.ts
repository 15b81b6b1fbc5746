/** Bands and channels of IEEE 802.11, and which frequencies they take. */

export const bands = ['2.4', '5', '6'] as const
export type Band = (typeof bands)[number]
export const widths = [20, 40, 80, 160, 320] as const
export type Width = (typeof widths)[number]

/** A channel by the number of its first 20 MHz, and how wide it is. */
export interface Channel {
  readonly band: Band
  readonly primary: number
  readonly widthMhz: Width
}

/** Whether a band has such channels at all. */
export const widthsOf: Readonly<Record<Band, readonly Width[]>> = {
  '2.4': [20, 40],
  '5': [20, 40, 80, 160],
  '6': [20, 40, 80, 160, 320],
}

/**
 * The middle of 20 MHz by its number, MHz (IEEE 802.11 annex E): 2407 + 5 n, channel 14 at 2484;
 * 5000 + 5 n; 5950 + 5 n, channel 2 of 6 GHz at 5935.
 */
export function middleMhz(band: Band, number: number): number {
  if (band === '2.4') return number === 14 ? 2484 : 2407 + 5 * number
  if (band === '5') return 5000 + 5 * number
  return number === 2 ? 5935 : 5950 + 5 * number
}

/** All numbers of 20 MHz of a band, wherever they are allowed. */
export const numbersOf: Readonly<Record<Band, readonly number[]>> = {
  '2.4': Array.from({ length: 14 }, (_, n) => n + 1),
  '5': [
    ...Array.from({ length: 8 }, (_, n) => 36 + 4 * n),
    ...Array.from({ length: 12 }, (_, n) => 100 + 4 * n),
    ...Array.from({ length: 9 }, (_, n) => 149 + 4 * n),
  ],
  '6': Array.from({ length: 59 }, (_, n) => 1 + 4 * n),
}

/**
 * The numbers of 20 MHz that a channel takes together; undefined where it cannot be so wide there.
 * In 5 and 6 GHz they are bonded in fixed blocks (IEEE 802.11 annex E); in 2.4 GHz 40 MHz take the
 * next one 20 MHz above, or beneath where there is none above.
 */
export function takenBy({ band, primary, widthMhz }: Channel): number[] | undefined {
  const numbers = numbersOf[band]
  if (!numbers.includes(primary) || !widthsOf[band].includes(widthMhz)) return undefined
  const count = widthMhz / 20
  if (count === 1) return [primary]
  if (band === '2.4') {
    if (primary === 14) return undefined
    return primary + 4 <= 13 ? [primary, primary + 4] : [primary - 4, primary]
  }
  const block = blockStart(band, primary)
  if (block === undefined) return undefined
  const first = primary - ((primary - block) % (4 * count))
  const taken = Array.from({ length: count }, (_, n) => first + 4 * n)
  return taken.every((n) => numbers.includes(n)) ? taken : undefined
}
/** Where counting in blocks begins: at 36, 100 and 149, and at 1 of 6 GHz. */
function blockStart(band: Band, number: number): number | undefined {
  if (band === '6') return 1
  return [149, 100, 36].find((start) => number >= start)
}

/** Lower and upper edge of a channel, MHz; undefined of one that there is not. */
export function edgesMhz(channel: Channel): readonly [number, number] | undefined {
  const taken = takenBy(channel)
  return (
    taken && [middleMhz(channel.band, taken[0]!) - 10, middleMhz(channel.band, taken.at(-1)!) + 10]
  )
}

/** How much of the first channel lies in the second, 0 to 1. */
export function overlapOf(a: Channel, b: Channel): number {
  if (a.band !== b.band) return 0
  const [x, y] = [edgesMhz(a), edgesMhz(b)]
  if (!x || !y) return 0
  return Math.max(0, Math.min(x[1], y[1]) - Math.max(x[0], y[0])) / (x[1] - x[0])
}
