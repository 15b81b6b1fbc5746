/** Several far ends on one sector: they take turns, and the slow one takes the longest. */

export interface FarEnd {
  readonly id: string
  /** On the air at its level, Mbit/s; 0 of one that is not heard. */
  readonly airMbps: number
  /** Both ways together, Mbit/s. */
  readonly wantedMbps: number
}
export interface FarShare {
  readonly id: string
  /** Of the time, 0 to 1, to get what it wants; infinite of one that is not heard. */
  readonly airtime: number
  readonly getsMbps: number
}
export interface Sector {
  readonly airtime: number
  readonly ends: readonly FarShare[]
  /** Who takes the most time for what it carries, where that is more than its share. */
  readonly dragging: string | null
}

/** airtime = wanted / (rate x share of data); over 1 all get less in proportion. */
export function sectorOf(ends: readonly FarEnd[], dataShare: number): Sector {
  const needs = ends.map((e) => ({
    end: e,
    airtime:
      e.wantedMbps === 0 ? 0 : e.airMbps === 0 ? Infinity : e.wantedMbps / (e.airMbps * dataShare),
  }))
  // Who is not heard takes nobody's time.
  const heard = needs.filter((n) => Number.isFinite(n.airtime))
  const airtime = heard.reduce((sum, n) => sum + n.airtime, 0)
  const share = airtime > 1 ? 1 / airtime : 1
  const wanted = heard.reduce((sum, n) => sum + n.end.wantedMbps, 0)
  const worst = heard
    .filter((n) => n.end.wantedMbps > 0 && n.airtime / airtime > (1.3 * n.end.wantedMbps) / wanted)
    .sort((a, b) => b.airtime - a.airtime)[0]
  return {
    airtime,
    ends: needs.map(({ end, airtime: own }) => ({
      id: end.id,
      airtime: own,
      getsMbps: Number.isFinite(own) ? end.wantedMbps * share : 0,
    })),
    dragging: heard.length > 1 ? (worst?.end.id ?? null) : null,
  }
}
