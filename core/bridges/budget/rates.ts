/** What passes at a level. */
import type { BridgeUnit, RateStep } from '../../plan'

export type Steps = readonly RateStep[]

/** The steps of a unit in one width, the most modest first; those that need more and carry less fall out. */
export function stepsOf({ steps }: Pick<BridgeUnit, 'steps'>, widthMhz: number): Steps {
  const own = steps
    .filter((s) => s.widthMhz === widthMhz)
    .sort((a, b) => a.leastDbm - b.leastDbm || b.mbps - a.mbps)
  let best = 0
  return own.filter((s) => {
    const isFaster = s.mbps > best
    best = Math.max(best, s.mbps)
    return isFaster
  })
}
/** The fastest at a level; null of too little. */
export const stepAt = (steps: Steps, dbm: number): RateStep | null =>
  steps.findLast((s) => dbm >= s.leastDbm) ?? null

/**
 * What is left for data in one direction, Mbit/s: the rate on the air times the share of data; where
 * both directions take turns, half of it each when both are busy, all of it when the other is quiet;
 * never more than the sockets on the way.
 */
export interface Throughput {
  readonly aloneMbps: number
  readonly bothMbps: number
}
export function throughputOf(
  unit: Pick<BridgeUnit, 'dataShare' | 'duplex'>,
  airMbps: number,
  socketMbps: number,
): Throughput {
  const data = airMbps * unit.dataShare
  return {
    aloneMbps: Math.min(data, socketMbps),
    bothMbps: Math.min(unit.duplex === 'time' ? data / 2 : data, socketMbps),
  }
}

/**
 * Directions that take turns, with what each is asked for: each gets what it asks where the air is
 * enough for both, else less in proportion.
 */
export function sharedMbps(
  unit: Pick<BridgeUnit, 'dataShare' | 'duplex'>,
  rates: { readonly toB: number; readonly toA: number },
  wanted: { readonly toB: number; readonly toA: number },
): { toB: number; toA: number; airtime: number } {
  const data = { toB: rates.toB * unit.dataShare, toA: rates.toA * unit.dataShare }
  const need = (w: number, d: number): number => (w === 0 ? 0 : d === 0 ? Infinity : w / d)
  const [down, up] = [need(wanted.toB, data.toB), need(wanted.toA, data.toA)]
  const airtime = unit.duplex === 'time' ? down + up : Math.max(down, up)
  const share = airtime > 1 ? (Number.isFinite(airtime) ? 1 / airtime : 0) : 1
  return { toB: wanted.toB * share, toA: wanted.toA * share, airtime }
}
