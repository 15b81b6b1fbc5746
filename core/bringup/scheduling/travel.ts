/** Ways between the places of a day. */
import type { SitePlan } from '../../plan'

/** With a bag of tools, and doors to unlock (common practice). */
const WALK_M_PER_S = 1.1
const LEAST_S = 60
/** Between two places whose distance nobody noted (common practice on one site). */
const UNKNOWN_S = 120
const EARTH_M = 6_371_000
const radians = (d: number): number => (d * Math.PI) / 180

/** How long it takes from one place to another, s; nothing where either does not matter. */
export type Travel = (from: string | null, to: string | null) => number

/** On foot along the great circle (haversine), at least a minute from door to door. */
export function travelIn(plan: SitePlan): Travel {
  return (from, to) => {
    if (from === null || to === null || from === to) return 0
    const [a, b] = [plan.locations[from], plan.locations[to]]
    if (
      !a ||
      !b ||
      a.latitude === null ||
      a.longitude === null ||
      b.latitude === null ||
      b.longitude === null
    )
      return UNKNOWN_S
    const h =
      Math.sin(radians(b.latitude - a.latitude) / 2) ** 2 +
      Math.cos(radians(a.latitude)) *
        Math.cos(radians(b.latitude)) *
        Math.sin(radians(b.longitude - a.longitude) / 2) ** 2
    return Math.max(LEAST_S, Math.round((2 * EARTH_M * Math.asin(Math.sqrt(h))) / WALK_M_PER_S))
  }
}
