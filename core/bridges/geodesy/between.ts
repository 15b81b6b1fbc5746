/** From one point of the Earth to another: distance, bearings, points on the way. */
import geodesic from 'geographiclib-geodesic'

export interface Place {
  /** WGS 84, degrees. */
  readonly latitude: number
  readonly longitude: number
}
export interface Between {
  readonly metres: number
  /** Clockwise from true north at each end towards the other, degrees, 0 to 360. */
  readonly fromADegrees: number
  readonly fromBDegrees: number
}

const turn = (degrees: number): number => ((degrees % 360) + 360) % 360
const { WGS84 } = geodesic.Geodesic

/**
 * The geodesic on WGS 84 (C. F. F. Karney, Algorithms for geodesics, J. Geodesy 87, 2013, by its own
 * package). Of two points in one place there is no bearing: 0 and 180.
 */
export function between(a: Place, b: Place): Between {
  const { s12, azi1, azi2 } = WGS84.Inverse(a.latitude, a.longitude, b.latitude, b.longitude)
  return { metres: s12!, fromADegrees: turn(azi1!), fromBDegrees: turn(azi2! + 180) }
}

/** Points along the way at distances from A, m. */
export function along(a: Place, b: Place, distances: readonly number[]): Place[] {
  const line = WGS84.InverseLine(a.latitude, a.longitude, b.latitude, b.longitude)
  return distances.map((m) => {
    const { lat2, lon2 } = line.Position(m)
    return { latitude: lat2!, longitude: lon2! }
  })
}
