/** The ground along a path out of a grid of heights. */
import { MOST_GROUND } from '../../plan'
import { along, between, type Place } from '../geodesy/between'
import type { GroundPoint } from './ground'
import { heightAt, type HeightGrid, type Problem } from './tile'

/** Nearer together than that heights say nothing new, m. */
const FINEST_M = 10

/** What lies outside is no height of ground, but a mark of something else, m. */
const LOWEST_M = -500
const HIGHEST_M = 9000

export interface Sampled {
  readonly ground: readonly GroundPoint[]
  /** Where the grid knows nothing: of the points that were asked for. */
  readonly unknown: number
}
/** As fine as the grid is, and no more points than a plan takes. */
export function groundFromGrid(grid: HeightGrid, a: Place, b: Place): Sampled | Problem {
  const { metres } = between(a, b)
  const cellM = grid.stepLatitude * 111_320
  const stepM = Math.max(FINEST_M, cellM, metres / (MOST_GROUND - 1))
  const count = Math.max(2, Math.ceil(metres / stepM) + 1)
  const distances = Array.from({ length: count }, (_, n) => (metres * n) / (count - 1))
  let unknown = 0
  const ground = along(a, b, distances).flatMap((place, n): GroundPoint[] => {
    const height = heightAt(grid, place.latitude, place.longitude)
    if (height === null || height < LOWEST_M || height > HIGHEST_M) {
      unknown++
      return []
    }
    return [{ atM: Math.round(distances[n]! * 10) / 10, heightM: Math.round(height * 10) / 10 }]
  })
  if (ground.length === 0)
    return {
      problem:
        `the path is not in it: it covers ${grid.north - grid.stepLatitude * (grid.rows - 1)} to ` +
        `${grid.north} north, ${grid.west} to ${grid.west + grid.stepLongitude * (grid.columns - 1)} east`,
    }
  return { ground, unknown }
}
