/** Layers in the air send the wave along several ways, which cancel each other at times. */
import type { Bridge } from '../../plan'

/**
 * How refraction changes in the lowest 65 m, not exceeded for 1 % of an average year, N/km, by
 * climate: rough stand-ins for the map of ITU-R P.453 (from memory).
 */
export const layering: Readonly<Record<Bridge['climate'], number>> = {
  polar: -150,
  temperate: -200,
  maritime: -300,
  continental: -250,
  tropical: -500,
}

export interface FadingPath {
  readonly metres: number
  readonly mhz: number
  /** Of the antennas above the sea, m. */
  readonly heightAM: number
  readonly heightBM: number
  readonly climate: Bridge['climate']
}

/** The path may be so short or low in frequency that the formula says nothing: 15/d GHz and 45 GHz. */
export const isFadingKnown = ({ metres, mhz }: FadingPath): boolean =>
  mhz <= 45_000 && metres >= 1000

/**
 * For how much of the worst month fading takes more than nothing, %: p0 = K d^3.1 (1 + |e|)^-1.29
 * f^0.8 10^(-0.00089 h), K = 10^(-4.6 - 0.0027 dN1) (ITU-R P.530-17 2.3.1, quick planning, from
 * memory); d in km, f in GHz, e the slope in mrad, h the lower antenna in m.
 */
export function fadingOccurrence({ metres, mhz, heightAM, heightBM, climate }: FadingPath): number {
  const d = metres / 1000
  const k = 10 ** (-4.6 - 0.0027 * layering[climate])
  const slope = Math.abs(heightAM - heightBM) / d
  return (
    k *
    d ** 3.1 *
    (1 + slope) ** -1.29 *
    (mhz / 1000) ** 0.8 *
    10 ** (-0.00089 * Math.min(heightAM, heightBM))
  )
}

/**
 * For how much of the worst month it takes more than a margin, % (ITU-R P.530 2.3.2, all
 * percentages): p0 10^(-A/10) for deep fades; a curve of its own for shallow ones, which meets it.
 */
export function fadingWorstMonth(marginDb: number, occurrence: number): number {
  if (marginDb <= 0) return 100
  if (occurrence <= 0) return 0
  const from = 25 + 1.2 * Math.log10(occurrence)
  if (from <= 0 || marginDb >= from) return Math.min(100, occurrence * 10 ** (-marginDb / 10))
  const there = occurrence * 10 ** (-from / 10)
  const qa = (-20 * Math.log10(-Math.log((100 - there) / 100))) / from
  const qt =
    (qa - 2) / ((1 + 0.3 * 10 ** (-from / 20)) * 10 ** (-0.016 * from)) -
    4.3 * (10 ** (-from / 20) + from / 800)
  const q =
    2 +
    (1 + 0.3 * 10 ** (-marginDb / 20)) *
      10 ** (-0.016 * marginDb) *
      (qt + 4.3 * (10 ** (-marginDb / 20) + marginDb / 800))
  return 100 * (1 - Math.exp(-(10 ** ((-q * marginDb) / 20))))
}

/**
 * Of the average year, from the worst month: the geoclimatic step of ITU-R P.530 2.3.4, dG = 10.5 -
 * 5.6 log(1.1 + |cos 2 latitude|^0.7) - 2.7 log d + 1.7 log(1 + |e|), 10.8 at the most, with the plus
 * up to 45 degrees of latitude and the minus beyond.
 */
export function fadingYear(worstMonthPercent: number, path: FadingPath, latitude: number): number {
  const d = path.metres / 1000
  const slope = Math.abs(path.heightAM - path.heightBM) / d
  const turned = Math.abs(Math.cos((2 * latitude * Math.PI) / 180)) ** 0.7
  const inside = Math.abs(latitude) <= 45 ? 1.1 + turned : 1.1 - turned
  const gain = Math.min(
    10.8,
    10.5 - 5.6 * Math.log10(inside) - 2.7 * Math.log10(d) + 1.7 * Math.log10(1 + slope),
  )
  return worstMonthPercent * 10 ** (-Math.max(0, gain) / 10)
}
