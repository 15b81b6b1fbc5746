/**
 * What the gases of the air take, dB/km, at sea level: 1013 hPa, 15 degrees C, 7.5 g/m3 of water
 * (ITU-R P.676-10 annex 2, from memory).
 */
const WATER_G_M3 = 7.5
/** The formulas hold up to here, GHz. */
export const GAS_TO_GHZ = 120

function oxygen(f: number): number {
  const [g54, g58, g60, g62, g64, g66] = [2.192, 12.59, 15, 14.28, 6.819, 1.908].map((g) =>
    Math.log(g),
  ) as [number, number, number, number, number, number]
  if (f <= 54) return (7.2 / (f * f + 0.34) + 0.62 / ((54 - f) ** 1.16 + 0.83)) * f * f * 1e-3
  if (f <= 60)
    return Math.exp(
      (g54 / 24) * (f - 58) * (f - 60) -
        (g58 / 8) * (f - 54) * (f - 60) +
        (g60 / 12) * (f - 54) * (f - 58),
    )
  if (f <= 62) return 15 + ((14.28 - 15) * (f - 60)) / 2
  if (f <= 66)
    return Math.exp(
      (g62 / 8) * (f - 64) * (f - 66) -
        (g64 / 4) * (f - 62) * (f - 66) +
        (g66 / 8) * (f - 62) * (f - 64),
    )
  return (
    (3.02e-4 +
      0.283 / ((f - 118.75) ** 2 + 2.91) +
      (0.502 * (1 - 0.0163 * (f - 66))) / ((f - 66) ** 1.4346 + 1.15)) *
    f *
    f *
    1e-3
  )
}
function water(f: number): number {
  const n1 = 0.955 + 0.006 * WATER_G_M3
  const n2 = 0.735 + 0.0353 * WATER_G_M3
  const g = (line: number): number => 1 + ((f - line) / (f + line)) ** 2
  const sum =
    ((3.98 * n1) / ((f - 22.235) ** 2 + 9.42 * n1 ** 2)) * g(22) +
    (11.96 * n1) / ((f - 183.31) ** 2 + 11.14 * n1 ** 2) +
    (0.081 * n1) / ((f - 321.226) ** 2 + 6.29 * n1 ** 2) +
    (3.66 * n1) / ((f - 325.153) ** 2 + 9.22 * n1 ** 2) +
    (25.37 * n1) / (f - 380) ** 2 +
    (17.4 * n1) / (f - 448) ** 2 +
    ((844.6 * n1) / (f - 557) ** 2) * g(557) +
    ((290 * n1) / (f - 752) ** 2) * g(752) +
    ((83_328 * n2) / (f - 1780) ** 2) * g(1780)
  return sum * f * f * WATER_G_M3 * 1e-4
}
/** Oxygen and water, dB/km; null above what the formulas hold for. */
export function gasDbKm(mhz: number): number | null {
  const f = mhz / 1000
  return f > GAS_TO_GHZ || f <= 0 ? null : oxygen(f) + water(f)
}
