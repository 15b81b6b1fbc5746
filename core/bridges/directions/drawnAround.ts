/**
 * The drawings of the place as they lie around a point: what a map of a bridge shows beside its ends.
 */
import { own, type SitePlan } from '../../plan'
import { between, type Place } from '../geodesy/between'

/** Metres east and north of the point. */
export type Offset = readonly [eastM: number, northM: number]

export interface DrawnPlace {
  readonly name: string
  /** Corner by corner, closed. */
  readonly outline: readonly Offset[]
  readonly walls: readonly (readonly Offset[])[]
}

/**
 * Plans of the place of which somebody said where they lie. A plan is small beside the Earth: its own
 * metres are taken as those of the plane that touches it at its corner.
 */
export function drawnAround(plan: SitePlan, at: Place): DrawnPlace[] {
  return Object.values(plan.floors).flatMap((floor): DrawnPlace[] => {
    const { lies } = floor
    if (!lies) return []
    const way = between(at, lies)
    const bearing = (way.fromADegrees * Math.PI) / 180
    const corner: Offset = [Math.sin(bearing) * way.metres, Math.cos(bearing) * way.metres]
    const up = (lies.upDegrees * Math.PI) / 180
    /** x grows to the right, y down; the right is a quarter turn clockwise from its top. */
    const to = ({ x, y }: { x: number; y: number }): Offset => [
      corner[0] + x * Math.cos(up) - y * Math.sin(up),
      corner[1] - x * Math.sin(up) - y * Math.cos(up),
    ]
    const { widthM: w, depthM: d } = floor
    return [
      {
        name: floor.name,
        outline: [
          { x: 0, y: 0 },
          { x: w, y: 0 },
          { x: w, y: d },
          { x: 0, y: d },
        ].map(to),
        walls: Object.values(plan.walls)
          .filter((wall) => own(plan.floors, wall.floorId) === floor)
          .map((wall) => wall.points.map(to)),
      },
    ]
  })
}
