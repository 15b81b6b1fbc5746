/** Outlines of what is heard at least so well, as SVG paths in metres. */
import { contours } from 'd3-contour'

export interface Outline {
  readonly dbm: number
  readonly path: string
}

export function outlinesOf(
  levelsDbm: ArrayLike<number>,
  grid: { readonly columns: number; readonly rows: number; readonly stepM: number },
  thresholdsDbm: readonly number[],
): Outline[] {
  if (grid.columns < 2 || grid.rows < 2) return []
  // Without a radio there is nothing to draw a line around.
  const levels = Array.from(levelsDbm, (l) => Math.max(-200, l))
  const metres = (n: number): string => (n * grid.stepM).toFixed(2)
  return contours()
    .size([grid.columns, grid.rows])
    .thresholds([...thresholdsDbm])(levels)
    .map(({ value, coordinates }) => ({
      dbm: value,
      path: coordinates
        .flat()
        .map((ring) => `M${ring.map(([x, y]) => `${metres(x!)} ${metres(y!)}`).join('L')}Z`)
        .join(''),
    }))
}
