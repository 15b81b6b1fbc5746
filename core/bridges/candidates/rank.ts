/** Which pairs of masts see each other over a grid of heights, the best first. */
import { freeSpaceLossDb } from '../../radio/distance'
import { edgesLoss, type Owned } from '../clearance/edges'
import { CLEAR_SHARE, EARTH_M, USUAL_K, wavelengthM } from '../clearance/shape'
import { between, type Place } from '../geodesy/between'
import { heightAt, type HeightGrid } from '../terrain/tile'

export interface Candidate extends Place {
  readonly name: string
  /** Of the antenna above the ground, m. */
  readonly heightM: number
}
export interface Ranked {
  readonly a: Candidate
  readonly b: Candidate
  readonly metres: number
  /** Of the first Fresnel zone, where the least of it is free. */
  readonly share: number
  readonly atM: number
  /** What edges take, dB; free space besides. */
  readonly edgesDb: number
  readonly lossDb: number
  /** Of the heights on the way, those that the grid does not know. */
  readonly unknown: number
}

/** Nearer together than that heights say nothing new, m. */
const FINEST_M = 10

/**
 * One pair; null where an end is not in the grid. Points lie on the straight line of degrees, which
 * is beside the geodesic by less than 100 m up to 50 km.
 */
export function rankPair(grid: HeightGrid, a: Candidate, b: Candidate, mhz: number): Ranked | null {
  const { metres } = between(a, b)
  const [groundA, groundB] = [
    heightAt(grid, a.latitude, a.longitude),
    heightAt(grid, b.latitude, b.longitude),
  ]
  if (groundA === null || groundB === null || metres < 2 * FINEST_M) return null
  const topA = groundA + a.heightM
  const topB = groundB + b.heightM
  const stepM = Math.max(FINEST_M, grid.stepLatitude * 111_320)
  const count = Math.max(2, Math.round(metres / stepM))
  const lambda = wavelengthM(mhz)
  let [share, atM, unknown] = [Infinity, 0, 0]
  const low: Owned[] = []
  for (let n = 1; n < count; n++) {
    const t = n / count
    const height = heightAt(
      grid,
      a.latitude + (b.latitude - a.latitude) * t,
      a.longitude + (b.longitude - a.longitude) * t,
    )
    if (height === null) {
      unknown++
      continue
    }
    const [d1, d2] = [metres * t, metres * (1 - t)]
    const clear = topA + (topB - topA) * t - height - (d1 * d2) / (2 * USUAL_K * EARTH_M)
    const free = clear / Math.sqrt((lambda * d1 * d2) / metres)
    if (free < share) [share, atM] = [free, d1]
    // Only what comes near the zone can be an edge.
    if (free < 1) low.push({ atM: d1, topM: height, obstacle: null })
  }
  const edgesDb =
    share >= CLEAR_SHARE
      ? 0
      : edgesLoss(low, { atM: 0, topM: topA }, { atM: metres, topM: topB }, mhz, USUAL_K).totalDb
  return {
    a,
    b,
    metres,
    share,
    atM,
    edgesDb,
    lossDb: edgesDb + freeSpaceLossDb(mhz, metres),
    unknown,
  }
}

/** The least loss first. */
export const rankPairs = (
  grid: HeightGrid,
  candidates: readonly Candidate[],
  mhz: number,
  mostM: number,
): Ranked[] =>
  candidates
    .flatMap((a, n) => candidates.slice(n + 1).flatMap((b) => rankPair(grid, a, b, mhz) ?? []))
    .filter((r) => r.metres <= mostM)
    .sort((x, y) => x.lossDb - y.lossDb)

/** Lines of name, latitude, longitude and height, with those that cannot be used. */
export function readCandidates(text: string): { candidates: Candidate[]; problems: string[] } {
  const candidates: Candidate[] = []
  const problems: string[] = []
  text.split('\n').forEach((line, n) => {
    if (line.trim() === '') return
    const cells = line.split(/[,;\t]/).map((c) => c.trim())
    const [latitude, longitude, heightM] = cells.slice(-3).map(Number) as [number, number, number]
    const name = cells.slice(0, -3).join(', ')
    if (
      cells.length < 4 ||
      !(Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180 && heightM >= 0 && heightM <= 1000)
    )
      problems.push(
        `line ${n + 1}: expected a name, latitude, longitude and height, for example Mill, 57.91, -6.68, 12`,
      )
    else candidates.push({ name, latitude, longitude, heightM })
  })
  return { candidates, problems }
}
