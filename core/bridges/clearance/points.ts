/** What stands along a path and how much room the wave has: point by point. */
import type { Obstacle } from '../../plan'
import type { BridgeFacts } from '../facts'
import { groundAt } from '../terrain/ground'
import type { Edge } from './edges'
import { bulgeM, CLEAR_SHARE, fresnelRadiusM, USUAL_K } from './shape'

const YEAR_MS = 365.25 * 86_400_000

/** How high an obstacle is on a day: as measured, and what it has grown since, m. */
export function topOn(obstacle: Obstacle, day: Date): number {
  if (obstacle.growsM === 0 || obstacle.measuredOn === null) return obstacle.topM
  const years = (day.getTime() - Date.parse(obstacle.measuredOn)) / YEAR_MS
  return obstacle.topM + Math.max(0, years) * obstacle.growsM
}

export interface PathPoint extends Edge {
  readonly fromBM: number
  readonly groundM: number
  /** Which of the obstacles stands there; null is the ground itself. */
  readonly obstacle: number | null
  /** Middle of the beam above the sea, m. */
  readonly beamM: number
  readonly bulgeM: number
  readonly fresnelM: number
  /** From the top, over a bent Earth, to the middle of the beam, m; less than 0 is in the way. */
  readonly clearM: number
  /** The same as a share of the first Fresnel zone; 0.6 is the rule. */
  readonly share: number
}

/** Within that of an end nothing is judged: the antenna hangs on something, m. */
const AT_THE_END_M = 1

/**
 * All that is known along the path, from A to B, the ends left out. Where no ground was read it is a
 * straight line between those of the ends.
 */
export function pathPoints(facts: BridgeFacts, k: number, day: Date): PathPoint[] {
  const { a, b, way, bridge, mhz } = facts
  const { metres } = way
  const slope = (b.topM - a.topM) / metres
  const ground = (m: number): number =>
    groundAt(bridge.ground, m) ?? a.groundM + ((b.groundM - a.groundM) * m) / metres
  const point = (
    atM: number,
    obstacle: number | null,
    groundM: number = ground(atM),
  ): PathPoint => {
    const fromBM = metres - atM
    const topM = obstacle === null ? groundM : groundM + topOn(bridge.obstacles[obstacle]!, day)
    const beamM = a.topM + slope * atM
    const bulge = bulgeM(atM, fromBM, k)
    const fresnelM = fresnelRadiusM(mhz, atM, fromBM)
    const clearM = beamM - topM - bulge
    return {
      atM,
      fromBM,
      topM,
      groundM,
      obstacle,
      beamM,
      bulgeM: bulge,
      fresnelM,
      clearM,
      share: clearM / fresnelM,
    }
  }
  const isOn = (m: number): boolean => m > AT_THE_END_M && m < metres - AT_THE_END_M
  const points: PathPoint[] = bridge.ground
    .filter((g) => isOn(g.atM))
    .map((g) => point(g.atM, null, g.heightM))
  // Where the ground was read nowhere, the Earth itself still bulges.
  if (bridge.ground.length < 3)
    for (let n = 1; n < 16; n++) points.push(point((metres * n) / 16, null))
  bridge.obstacles.forEach((o, n) => {
    const from = o.atM
    const to = Math.min(o.atM + o.lengthM, metres)
    const steps = o.lengthM === 0 ? 0 : Math.min(8, Math.max(1, Math.ceil(o.lengthM / 25)))
    for (let s = 0; s <= steps; s++) {
      const m = steps === 0 ? from : from + ((to - from) * s) / steps
      if (isOn(m)) points.push(point(m, n))
    }
  })
  return points.sort((x, y) => x.atM - y.atM)
}

/** Where the least of the first zone is free; undefined where nothing is on the path. */
export const tightest = (points: readonly PathPoint[]): PathPoint | undefined =>
  points.reduce<PathPoint | undefined>(
    (worst, p) => (worst === undefined || p.share < worst.share ? p : worst),
    undefined,
  )

export interface Heights {
  /** Both antennas so much higher, m. */
  readonly bothM: number
  /** Only that of A or B so much higher, m. */
  readonly onlyAM: number
  readonly onlyBM: number
}
/** How much higher antennas have to hang that a share of the zone is free everywhere, m. */
export function raiseBy(
  points: readonly PathPoint[],
  metres: number,
  share: number = CLEAR_SHARE,
): Heights {
  let [bothM, onlyAM, onlyBM] = [0, 0, 0]
  for (const p of points) {
    const lacking = share * p.fresnelM - p.clearM
    if (lacking <= 0) continue
    bothM = Math.max(bothM, lacking)
    onlyAM = Math.max(onlyAM, (lacking * metres) / p.fromBM)
    onlyBM = Math.max(onlyBM, (lacking * metres) / p.atM)
  }
  return { bothM, onlyAM, onlyBM }
}

/** The day on which something that grows reaches into 60 % of the zone; null of what never does. */
export function grownInOn(facts: BridgeFacts, obstacle: number, today: Date): Date | null {
  const o = facts.bridge.obstacles[obstacle]!
  if (o.growsM <= 0) return null
  const own = pathPoints(facts, USUAL_K, today).filter((p) => p.obstacle === obstacle)
  const room = Math.min(...own.map((p) => p.clearM - CLEAR_SHARE * p.fresnelM))
  if (!Number.isFinite(room)) return null
  return new Date(today.getTime() + (Math.max(0, room) / o.growsM) * YEAR_MS)
}
