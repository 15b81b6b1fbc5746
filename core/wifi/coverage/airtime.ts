/**
 * How much of the time each radio is taken by those it serves, and how many radios that takes. Of a
 * second of air, somebody who needs so many Mbit/s at such a rate takes need / (rate x what remains
 * of it for data).
 */

/** What remains of a rate for data after headers, gaps and answers (common practice). */
export const DATA_SHARE = 0.6
/** More of the air than that and waiting grows without bound (common practice). */
export const MOST_BUSY = 0.7

/** People of one kind at one point, as many as there are. */
export interface Demand {
  /** The point of the grid where they are. */ readonly point: number
  readonly heads: number
  readonly needMbps: number
}
export interface Airtime {
  /** By radio: the share of its time that is asked for; over 1 it cannot be. */
  readonly busy: readonly number[]
  /** Heads by radio. */ readonly heads: readonly number[]
  readonly unserved: number
}

/**
 * @param best which radio serves each point, -1 none
 * @param mbps the rate at each point
 */
export function airtimeOf(
  radios: number,
  best: Int16Array,
  mbps: Float32Array,
  demands: readonly Demand[],
): Airtime {
  const busy = new Array<number>(radios).fill(0)
  const heads = new Array<number>(radios).fill(0)
  let unserved = 0
  for (const d of demands) {
    const n = best[d.point]!
    const rate = mbps[d.point]!
    if (n < 0 || rate === 0) {
      unserved += d.heads
      continue
    }
    busy[n]! += (d.heads * d.needMbps) / (rate * DATA_SHARE)
    heads[n]! += d.heads
  }
  return { busy, heads, unserved }
}

/** How many radios it takes to carry it, were it spread evenly over them. */
export const radiosForAirtime = ({ busy }: Pick<Airtime, 'busy'>): number =>
  Math.ceil(busy.reduce((sum, b) => sum + b, 0) / MOST_BUSY - 1e-9)
