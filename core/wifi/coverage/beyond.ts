/** How loud radios are outside the boundary of what may be reached. */
import type { Floor } from '../../plan'
import { bands, type Band } from '../../radio/bands'
import type { SiteModel } from '../../topology'
import { isWithin, radiosOn, wallsOf, type FloorRadio } from './floorAir'
import { levelsOf } from './levels'
import { pointOf, type Grid, type Point } from './place'

/** So far around the boundary it is looked at, m; the plan may end before. */
const AROUND_M = 40
const STEP_M = 2
const MOST_POINTS = 10_000

export interface Beyond {
  readonly floor: Floor
  readonly band: Band
  readonly radio: FloorRadio
  /** The best level so far out, dBm, and where. */ readonly dbm: number
  readonly at: Point
}

/** From a point to the nearest side of a polygon, m. */
function distanceTo(corners: readonly Point[], p: Point): number {
  let least = Infinity
  for (const [n, a] of corners.entries()) {
    const b = corners[(n + 1) % corners.length]!
    const [dx, dy] = [b.x - a.x, b.y - a.y]
    const squared = dx * dx + dy * dy
    const t =
      squared === 0 ? 0 : Math.min(1, Math.max(0, ((p.x - a.x) * dx + (p.y - a.y) * dy) / squared))
    least = Math.min(least, Math.hypot(a.x + t * dx - p.x, a.y + t * dy - p.y))
  }
  return least
}

/**
 * What each radio is heard with at the best, so far or further outside all boundaries of its plan;
 * where none is drawn, nothing.
 */
export function beyondBoundary(model: SiteModel, metresOut: number): Beyond[] {
  return Object.values(model.plan.floors).flatMap((floor) => {
    const boundaries = Object.values(model.plan.areas).filter(
      (a) => a.floorId === floor.id && a.kind === 'boundary',
    )
    if (boundaries.length === 0) return []
    const corners = boundaries.flatMap((b) => b.points)
    const [xs, ys] = [corners.map((c) => c.x), corners.map((c) => c.y)]
    const [x0, y0] = [Math.min(...xs) - AROUND_M, Math.min(...ys) - AROUND_M]
    const [wide, deep] = [Math.max(...xs) + AROUND_M - x0, Math.max(...ys) + AROUND_M - y0]
    const stepM = Math.max(STEP_M, Math.sqrt((wide * deep) / MOST_POINTS))
    const grid: Grid = {
      ...{ x0, y0, stepM },
      columns: Math.ceil(wide / stepM),
      rows: Math.ceil(deep / stepM),
    }
    const outside: number[] = []
    for (let row = 0; row < grid.rows; row++)
      for (let column = 0; column < grid.columns; column++) {
        const p = pointOf(grid, column, row)
        if (boundaries.every((b) => !isWithin(p, b.points) && distanceTo(b.points, p) >= metresOut))
          outside.push(row * grid.columns + column)
      }
    if (outside.length === 0) return []
    return bands.flatMap((band) => {
      const radios = radiosOn(model, floor, band)
      const walls = radios.length > 0 ? wallsOf(model, floor.id, band) : []
      return radios.map((radio): Beyond => {
        const levels = levelsOf(grid, radio.sender, walls, { coefficient: floor.coefficient })
        let best = outside[0]!
        for (const p of outside) if (levels[p]! > levels[best]!) best = p
        return {
          floor,
          band,
          radio,
          dbm: levels[best]!,
          at: pointOf(grid, best % grid.columns, Math.floor(best / grid.columns)),
        }
      })
    })
  })
}
