/** The ground along a path, from what was read of it. */
import { MOST_GROUND, type Bridge } from '../../plan'

export interface GroundPoint {
  readonly atM: number
  readonly heightM: number
}

/** Between two points on a straight line; beyond the ends as the last; null where nothing is known. */
export function groundAt(ground: Bridge['ground'], atM: number): number | null {
  if (ground.length === 0) return null
  let low = 0
  let high = ground.length - 1
  if (atM <= ground[0]!.atM) return ground[0]!.heightM
  if (atM >= ground[high]!.atM) return ground[high]!.heightM
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (ground[middle]!.atM <= atM) low = middle
    else high = middle
  }
  const [a, b] = [ground[low]!, ground[high]!]
  return b.atM === a.atM
    ? Math.max(a.heightM, b.heightM)
    : a.heightM + ((b.heightM - a.heightM) * (atM - a.atM)) / (b.atM - a.atM)
}

/** In the order of the way, one for each distance, no more than so many: peaks stay. */
export function tidyGround(points: readonly GroundPoint[], most: number): GroundPoint[] {
  const sorted = [...points].sort((a, b) => a.atM - b.atM)
  const apart = sorted.filter((p, n) => n === 0 || p.atM > sorted[n - 1]!.atM)
  if (apart.length <= most) return apart
  // Of each stretch its highest point, since that is what stands in the way; the ends stay as they are.
  const inner = apart.slice(1, -1)
  const size = inner.length / (most - 2)
  const kept = Array.from({ length: most - 2 }, (_, n) =>
    inner
      .slice(Math.floor(n * size), Math.max(Math.floor(n * size) + 1, Math.floor((n + 1) * size)))
      .reduce((top, p) => (p.heightM > top.heightM ? p : top)),
  )
  return [apart[0]!, ...kept, apart.at(-1)!]
}

/** Heights of a second file beside those of the first: at one distance the new one counts. */
export const withGround = (
  before: readonly GroundPoint[],
  read: readonly GroundPoint[],
): GroundPoint[] => tidyGround([...read, ...before], MOST_GROUND)
