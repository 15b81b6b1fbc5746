/** How the Earth and the wave bend between two ends. Distances and heights in m. */

/** Mean radius of the Earth, m (ITU-R P.310). */
export const EARTH_M = 6_370_000
/** How much longer the radius looks since air bends waves: usually 4/3 (ITU-R P.310). */
export const USUAL_K = 4 / 3

/** The bulge of the Earth between the ends: d1 d2 / (2 k R), 2 R = 12.74 in km and m (ITU-R P.530). */
export const bulgeM = (fromAM: number, fromBM: number, k: number): number =>
  (fromAM * fromBM) / (2 * k * EARTH_M)

/** Wavelength, m. */
export const wavelengthM = (mhz: number): number => 299.792458 / mhz

/** Radius of the first Fresnel zone: sqrt(lambda d1 d2 / d) (ITU-R P.526). */
export const fresnelRadiusM = (mhz: number, fromAM: number, fromBM: number): number =>
  // At an end itself rounding may leave less than nothing.
  fromAM <= 0 || fromBM <= 0
    ? 0
    : Math.sqrt((wavelengthM(mhz) * fromAM * fromBM) / (fromAM + fromBM))

/** So much of the first zone is to be free (ITU-R P.530). */
export const CLEAR_SHARE = 0.6

/**
 * The k that is not reached for more than 0.1 % of the worst month, by the length of the path
 * (ITU-R P.530 figure 2, read off from memory: 0.6 at 30 km, 0.85 at 100 km): air that bends waves
 * upwards seldom does so over a long way.
 */
export function unfavourableK(metres: number): number {
  const km = metres / 1000
  const known = [
    [20, 0.5],
    [30, 0.6],
    [50, 0.72],
    [70, 0.79],
    [100, 0.85],
    [200, 0.98],
  ] as const
  if (km <= known[0][0]) return known[0][1]
  for (let n = 1; n < known.length; n++) {
    const [x1, y1] = known[n]!
    const [x0, y0] = known[n - 1]!
    if (km <= x1) return y0 + ((km - x0) / (x1 - x0)) * (y1 - y0)
  }
  return known.at(-1)![1]
}

/**
 * How far up an antenna looks to see the other, degrees: the slope, less half of the Earth's bend on
 * the way: (hB - hA) / d - d / (2 k R).
 */
export const tiltDegrees = (ownM: number, otherM: number, metres: number, k = USUAL_K): number =>
  metres === 0
    ? 0
    : (Math.atan((otherM - ownM) / metres - metres / (2 * k * EARTH_M)) * 180) / Math.PI
