/** What a compass shows. */
import geomagnetism from 'geomagnetism'
import type { Place } from './between'

/** The World Magnetic Model that the package carries is good from the first to the last. */
export const MODEL_YEARS = { first: 2025, last: 2030 } as const

/**
 * How far east of true north a compass points there on that day, degrees (World Magnetic Model 2025
 * by its package); null outside its years, and near the magnetic poles, where a compass shows
 * nothing (horizontal field under 2,000 nT, the model's own blackout zone).
 */
export function declinationDegrees({ latitude, longitude }: Place, day: Date): number | null {
  const year = day.getUTCFullYear()
  if (year < MODEL_YEARS.first || year >= MODEL_YEARS.last) return null
  const { decl, h } = geomagnetism.model(day).point([latitude, longitude])
  return h < 2000 ? null : decl
}
/** A compass bearing from a true one. */
export const magneticDegrees = (trueDegrees: number, declination: number): number =>
  (((trueDegrees - declination) % 360) + 360) % 360
