import { bands, middleMhz, numbersOf, type Band } from './bands'

/** The 20 MHz that lie around a frequency; undefined of one that no band has. */
export function channelAt(mhz: number): { band: Band; primary: number } | undefined {
  for (const band of bands)
    for (const primary of numbersOf[band])
      if (Math.abs(middleMhz(band, primary) - mhz) < 1) return { band, primary }
  return undefined
}
