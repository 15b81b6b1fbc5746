/** Which walls lie on the straight way between two points. */
import type { Point } from '../coverage/place'

/** The ends of a wall, m. */
export interface Ends {
  readonly a: Point
  readonly b: Point
}

const side = (o: Point, u: Point, v: Point): number =>
  (u.x - o.x) * (v.y - o.y) - (u.y - o.y) * (v.x - o.x)

/** Numbers of the walls that are crossed; one that is only touched, or looked along, is not. */
export function crossedBy(from: Point, to: Point, walls: readonly Ends[]): number[] {
  const out: number[] = []
  for (const [n, { a, b }] of walls.entries()) {
    if (side(from, to, a) * side(from, to, b) >= 0) continue
    if (side(a, b, from) * side(a, b, to) < 0) out.push(n)
  }
  return out
}
