/** Of what is lost on a path: how hard it would have to rain for it, and which trees could take it. */
import type { Polarisation } from '../../plan'
import { RAIN_GHZ, rainCoefficients } from '../losses/rain'
import type { Reckoned } from '../reckoned'

/** It hardly ever rains harder than that anywhere, mm/h (the world's record hours are about 300). */
const HARDEST_MM_H = 200

/**
 * The rain that takes so much while it falls on all of a path, mm/h: k R^alpha turned around (ITU-R
 * P.838-3). What counts over a year, where it does not rain as hard everywhere, is another matter.
 */
function rainFor(lostDb: number, mhz: number, metres: number, polarisation: Polarisation) {
  const ghz = mhz / 1000
  if (metres <= 0 || ghz < RAIN_GHZ.least || ghz > RAIN_GHZ.most) return null
  const { k, alpha } = rainCoefficients(mhz, polarisation)
  const mmH = ((lostDb * 1000) / metres / k) ** (1 / alpha)
  return mmH > HARDEST_MM_H ? null : mmH
}

/** What to look at beside the units, in words. */
export function lossGoesByItself({ bridge, budget }: Reckoned, lostDb: number): string[] {
  const { a, way } = budget.facts
  const { mhz } = a
  const rain = mhz === null ? null : rainFor(lostDb, mhz, way.metres, bridge.a.polarisation)
  const trees = bridge.obstacles.filter((o) => o.kind === 'trees')
  return [
    ...(rain === null
      ? []
      : [
          `Weather: rain of ${Math.round(rain)} mm/h takes that much here; read it again when it is dry.`,
        ]),
    ...trees.map(
      (t) =>
        `${t.name}: ${t.topM} m high${t.measuredOn ? ` on ${t.measuredOn}` : ''}; measure them anew.`,
    ),
  ]
}
