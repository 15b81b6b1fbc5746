/** What rain takes, and how often. */
import type { Bridge, Polarisation } from '../../plan'

/** Rain that falls for 0.01 % of the year, mm/h, by climate: rough, as long as nobody looks it up. */
export const usualRainMmH: Readonly<Record<Bridge['climate'], number>> = {
  polar: 15,
  temperate: 30,
  maritime: 35,
  continental: 50,
  tropical: 110,
}
/** From 1 to 1,000 GHz (ITU-R P.838-3). */
export const RAIN_GHZ = { least: 1, most: 1000 } as const

const curve =
  (a: readonly number[], b: readonly number[], c: readonly number[], m: number, n: number) =>
  (logGhz: number): number =>
    a.reduce((sum, aj, j) => sum + aj * Math.exp(-(((logGhz - b[j]!) / c[j]!) ** 2)), 0) +
    m * logGhz +
    n
/** The regressions of ITU-R P.838-3, tables 1 to 4 (from memory; checked by its printed values). */
const coefficient = {
  horizontal: {
    logK: curve(
      [-5.3398, -0.35351, -0.23789, -0.94158],
      [-0.10008, 1.2697, 0.86036, 0.64552],
      [1.13098, 0.454, 0.15354, 0.16817],
      -0.18961,
      0.71147,
    ),
    alpha: curve(
      [-0.14318, 0.29591, 0.32177, -5.3761, 16.1721],
      [1.82442, 0.77564, 0.63773, -0.9623, -3.2998],
      [-0.55187, 0.19822, 0.13164, 1.47828, 3.4399],
      0.67849,
      -1.95537,
    ),
  },
  vertical: {
    logK: curve(
      [-3.80595, -3.44965, -0.39902, 0.50167],
      [0.56934, -0.22911, 0.73042, 1.07319],
      [0.81061, 0.51059, 0.11899, 0.27195],
      -0.16398,
      0.63297,
    ),
    alpha: curve(
      [-0.07771, 0.56727, -0.20238, -48.2991, 48.5833],
      [2.3384, 0.95545, 1.1452, 0.791669, 0.791459],
      [-0.76284, 0.54039, 0.26809, 0.116226, 0.116479],
      -0.053739,
      0.83433,
    ),
  },
} as const

/** k and alpha of ITU-R P.838-3; what is sent both ways suffers as the horizontal one, the worse. */
export function rainCoefficients(
  mhz: number,
  polarisation: Polarisation,
): { k: number; alpha: number } {
  const of = coefficient[polarisation === 'vertical' ? 'vertical' : 'horizontal']
  const logGhz = Math.log10(mhz / 1000)
  return { k: 10 ** of.logK(logGhz), alpha: of.alpha(logGhz) }
}

/** k R^alpha, dB/km. */
export function rainDbKm(mhz: number, polarisation: Polarisation, rainMmH: number): number {
  const { k, alpha } = rainCoefficients(mhz, polarisation)
  return k * rainMmH ** alpha
}

/**
 * How much of the path counts, since it does not rain as hard everywhere: r = 1 / (0.477 d^0.633
 * R^(0.073 alpha) f^0.123 - 10.579 (1 - exp(-0.024 d))), 2.5 at the most (ITU-R P.530, from memory).
 */
export function effectiveShare(
  mhz: number,
  metres: number,
  rainMmH: number,
  alpha: number,
): number {
  const d = metres / 1000
  const f = mhz / 1000
  const under =
    0.477 * d ** 0.633 * rainMmH ** (0.073 * alpha) * f ** 0.123 -
    10.579 * (1 - Math.exp(-0.024 * d))
  return under < 0.4 ? 2.5 : 1 / under
}

/** Exceeded for 0.01 % of the year, dB; null outside the range of frequencies. */
export function rainLossDb(
  mhz: number,
  metres: number,
  rainMmH: number,
  polarisation: Polarisation,
): number | null {
  const ghz = mhz / 1000
  if (ghz < RAIN_GHZ.least || ghz > RAIN_GHZ.most) return null
  if (metres <= 0 || rainMmH <= 0) return 0
  const { alpha } = rainCoefficients(mhz, polarisation)
  return (
    (rainDbKm(mhz, polarisation, rainMmH) * metres * effectiveShare(mhz, metres, rainMmH, alpha)) /
    1000
  )
}

/** The exponents of ITU-R P.530 2.4.1: Ap / A0.01 = C1 p^-(C2 + C3 log p). */
function exponents(ghz: number): { c1: number; c2: number; c3: number } {
  const c0 = ghz >= 10 ? 0.12 + 0.4 * Math.log10((ghz / 10) ** 0.8) : 0.12
  return {
    c1: 0.07 ** c0 * 0.12 ** (1 - c0),
    c2: 0.855 * c0 + 0.546 * (1 - c0),
    c3: 0.139 * c0 + 0.043 * (1 - c0),
  }
}
/** Of the year, %, for which it takes so much of what it takes for 0.01 % (the formula: 0.001 to 1). */
export function rainLossAt(percent: number, atHundredthDb: number, mhz: number): number {
  const { c1, c2, c3 } = exponents(mhz / 1000)
  return atHundredthDb * c1 * percent ** -(c2 + c3 * Math.log10(percent))
}
/**
 * For how much of the year rain takes more than a margin, %. Between 0.001 and 1 %, where the formula
 * holds: a margin that it never reaches gives 0.001, one that it always does 1.
 */
export function rainPercent(marginDb: number, atHundredthDb: number, mhz: number): number {
  if (atHundredthDb <= 0) return 0
  if (marginDb >= rainLossAt(RAIN_PERCENT.least, atHundredthDb, mhz)) return 0
  if (marginDb <= rainLossAt(RAIN_PERCENT.most, atHundredthDb, mhz))
    return marginDb <= 0 ? 100 : RAIN_PERCENT.most
  let [low, high]: [number, number] = [
    Math.log10(RAIN_PERCENT.least),
    Math.log10(RAIN_PERCENT.most),
  ]
  for (let n = 0; n < 60; n++) {
    const middle = (low + high) / 2
    if (rainLossAt(10 ** middle, atHundredthDb, mhz) > marginDb) low = middle
    else high = middle
  }
  return 10 ** ((low + high) / 2)
}
export const RAIN_PERCENT = { least: 0.001, most: 1 } as const
