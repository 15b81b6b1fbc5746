/**
 * The air of a site: what is heard where. Its own geometry, its own losses of walls, and a
 * shadowing that no plan knows; of the plan it takes what is built and where it hangs.
 */
import type { Device, SitePlan } from '@mast/core/plan'
import { takes } from './losses'
import { shadowAt } from './shadowing'

export type BandName = '2.4' | '5' | '6'
export interface Spot {
  readonly floorId: string
  readonly x: number
  readonly y: number
  readonly heightM: number
}
/** A wall that nobody drew. */
export interface HiddenWall {
  readonly floorId: string
  readonly from: readonly [number, number]
  readonly to: readonly [number, number]
  readonly lossDb: number
}

/** Levels wander by so much, dB (one deviation): more where there is furniture. */
export const INDOORS_DB = 3
export const OUTDOORS_DB = 2.5
/** A device carried by hand is held so high, m. */
export const IN_HAND_M = 1.2

/** Middle frequencies, GHz. */
const gigahertz: Readonly<Record<BandName, number>> = { '2.4': 2.437, '5': 5.5, '6': 6.425 }

/** Walls of a floor, piece by piece, each with what it takes. */
interface Piece {
  readonly ax: number
  readonly ay: number
  readonly bx: number
  readonly by: number
  readonly lossDb: number
}

function piecesOf(plan: SitePlan, floorId: string, band: BandName): Piece[] {
  const out: Piece[] = []
  for (const wall of Object.values(plan.walls)) {
    if (wall.floorId !== floorId) continue
    const solid = takes(wall.material, band)
    let before = 0
    for (let n = 1; n < wall.points.length; n++) {
      const [p, q] = [wall.points[n - 1]!, wall.points[n]!]
      const length = Math.sqrt((q.x - p.x) ** 2 + (q.y - p.y) ** 2)
      if (length === 0) continue
      // Cut at every end of an opening; each piece is asked for what it is made of in its middle.
      const cuts = [0, length]
      for (const o of wall.openings)
        for (const m of [o.fromM - before, o.toM - before]) if (m > 0 && m < length) cuts.push(m)
      cuts.sort((a, b) => a - b)
      for (let c = 1; c < cuts.length; c++) {
        const middle = before + (cuts[c - 1]! + cuts[c]!) / 2
        const opening = wall.openings.find((o) => middle > o.fromM && middle < o.toM)
        const lossDb = !opening
          ? solid
          : opening.material === null
            ? 0
            : takes(opening.material, band)
        const at = (m: number): [number, number] => [
          p.x + ((q.x - p.x) * m) / length,
          p.y + ((q.y - p.y) * m) / length,
        ]
        const [[ax, ay], [bx, by]] = [at(cuts[c - 1]!), at(cuts[c]!)]
        out.push({ ax, ay, bx, by, lossDb })
      }
      before += length
    }
  }
  return out
}

/** Whether two stretches cross, by where on each the crossing of their lines lies. */
function cross(p: Piece, x1: number, y1: number, x2: number, y2: number): boolean {
  const [rx, ry, sx, sy] = [x2 - x1, y2 - y1, p.bx - p.ax, p.by - p.ay]
  const denominator = rx * sy - ry * sx
  if (denominator === 0) return false
  const t = ((p.ax - x1) * sy - (p.ay - y1) * sx) / denominator
  const u = ((p.ax - x1) * ry - (p.ay - y1) * rx) / denominator
  return t > 0 && t < 1 && u >= 0 && u < 1
}

/** A radio that sends. */
export interface Sending {
  readonly key: string
  readonly spot: Spot
  readonly band: BandName
  readonly powerDbm: number
  readonly gainDbi: number
  readonly beam: {
    readonly degrees: number
    readonly width: number
    readonly backDb: number
  } | null
}

export class Air {
  private readonly pieces = new Map<string, Piece[]>()
  /** @param isCalm without shadowing: the mean of what may be met */
  constructor(
    private readonly plan: SitePlan,
    private readonly seed: number,
    private readonly hidden: readonly HiddenWall[] = [],
    private readonly isCalm = false,
  ) {}

  private piecesOn(floorId: string, band: BandName): Piece[] {
    const key = `${floorId} ${band}`
    let list = this.pieces.get(key)
    if (!list) {
      list = piecesOf(this.plan, floorId, band)
      for (const h of this.hidden)
        if (h.floorId === floorId)
          list.push({ ax: h.from[0], ay: h.from[1], bx: h.to[0], by: h.to[1], lossDb: h.lossDb })
      this.pieces.set(key, list)
    }
    return list
  }

  /** What is heard of a radio at a spot, dBm; null on another floor, where nothing is heard. */
  level(from: Sending, to: Spot): number | null {
    const { spot, band } = from
    const floor = this.plan.floors[to.floorId]
    if (!floor || spot.floorId !== to.floorId) return null
    const [dx, dy, dz] = [to.x - spot.x, to.y - spot.y, to.heightM - spot.heightM]
    const metres = Math.max(1, Math.sqrt(dx * dx + dy * dy + dz * dz))
    // Free space over the first metre (Friis), and from there by the exponent of the place.
    const first = 20 * Math.log10((4 * Math.PI * gigahertz[band] * 1e9) / 299_792_458)
    let level = from.powerDbm + from.gainDbi - first
    level -= (floor.coefficient / 10) * 10 * Math.log10(metres)
    for (const p of this.piecesOn(to.floorId, band))
      if (cross(p, spot.x, spot.y, to.x, to.y)) level -= p.lossDb
    if (from.beam) {
      const heading = (Math.atan2(dx, -dy) * 180) / Math.PI
      let off = Math.abs(heading - from.beam.degrees) % 360
      if (off > 180) off = 360 - off
      level -= Math.min(from.beam.backDb, 3 * (off / (from.beam.width / 2)) ** 2)
    }
    if (!this.isCalm) {
      let own = this.seed
      for (let n = 0; n < from.key.length; n++)
        own = (Math.imul(own, 31) + from.key.charCodeAt(n)) | 0
      level += (floor.isOutdoors ? OUTDOORS_DB : INDOORS_DB) * shadowAt(own, to.x, to.y)
    }
    return level
  }
}

export const spotOf = (d: Device): Spot | null =>
  d.place && {
    floorId: d.place.floorId,
    x: d.place.x,
    y: d.place.y,
    heightM: d.place.heightM,
  }
