/**
 * What a country lets a radio send, from memory: each use has to be checked with the regulator.
 * Powers are those of the antenna's best direction (EIRP).
 */
import { edgesMhz, numbersOf, takenBy, type Band, type Channel, type Width } from './bands'
import countries from './lawfulCountries.json' with { type: 'json' }

/** A stretch of spectrum and what is allowed in it. */
export interface Stretch {
  readonly fromMhz: number
  readonly toMhz: number
  readonly eirpDbm: number
  /** In each MHz, dBm; null where only the whole is limited. */ readonly perMhzDbm: number | null
  readonly isIndoorsOnly: boolean
  /** A radio listens for radar first, and leaves when it hears one. */ readonly isRadar: boolean
  readonly source: string
}
/** Countries that allow the same. */
interface Regime {
  readonly name: string
  readonly countries: readonly string[]
  readonly stretches: readonly Stretch[]
}

const plain = { perMhzDbm: null, isIndoorsOnly: false, isRadar: false }
const europe: Regime = {
  name: 'Europe',
  countries: countries.europe,
  stretches: [
    { ...plain, fromMhz: 2400, toMhz: 2483.5, eirpDbm: 20, source: 'EN 300 328' },
    {
      ...plain,
      fromMhz: 5150,
      toMhz: 5250,
      eirpDbm: 23,
      isIndoorsOnly: true,
      source: 'EN 301 893, ECC/DEC/(04)08',
    },
    {
      ...plain,
      fromMhz: 5250,
      toMhz: 5350,
      eirpDbm: 23,
      isIndoorsOnly: true,
      isRadar: true,
      source: 'EN 301 893, ECC/DEC/(04)08',
    },
    {
      ...plain,
      fromMhz: 5470,
      toMhz: 5725,
      eirpDbm: 30,
      isRadar: true,
      source: 'EN 301 893, ECC/DEC/(04)08',
    },
    { ...plain, fromMhz: 5725, toMhz: 5875, eirpDbm: 14, source: 'EN 300 440' },
    {
      ...plain,
      fromMhz: 5945,
      toMhz: 6425,
      eirpDbm: 23,
      perMhzDbm: 10,
      isIndoorsOnly: true,
      source: 'EN 303 687, ECC/DEC/(20)01',
    },
  ],
}
const northAmerica: Regime = {
  name: 'United States',
  countries: countries.northAmerica,
  stretches: [
    { ...plain, fromMhz: 2400, toMhz: 2473, eirpDbm: 36, source: '47 CFR 15.247' },
    { ...plain, fromMhz: 5150, toMhz: 5250, eirpDbm: 36, source: '47 CFR 15.407' },
    { ...plain, fromMhz: 5250, toMhz: 5350, eirpDbm: 30, isRadar: true, source: '47 CFR 15.407' },
    { ...plain, fromMhz: 5470, toMhz: 5725, eirpDbm: 30, isRadar: true, source: '47 CFR 15.407' },
    { ...plain, fromMhz: 5725, toMhz: 5850, eirpDbm: 36, source: '47 CFR 15.407' },
    {
      ...plain,
      fromMhz: 5925,
      toMhz: 7125,
      eirpDbm: 30,
      perMhzDbm: 5,
      isIndoorsOnly: true,
      source: '47 CFR 15.407',
    },
  ],
}
const regimes = [europe, northAmerica]

export type Verdict =
  | {
      readonly ok: true
      readonly limitDbm: number
      readonly isRadar: boolean
      readonly source: string
    }
  | { readonly ok: false; readonly reason: string }

/** Whether anything is kept of a country. */
export const isKept = (country: string): boolean =>
  regimes.some((r) => r.countries.includes(country))

/** What is allowed on a channel; of a country of which nothing is kept, nothing is. */
export function lawOf(country: string, channel: Channel, isOutdoors: boolean): Verdict {
  const regime = regimes.find((r) => r.countries.includes(country))
  if (!regime)
    return { ok: false, reason: `what ${country || 'no country'} allows is not kept here` }
  const edges = edgesMhz(channel)
  if (!edges)
    return {
      ok: false,
      reason: `there is no channel ${channel.primary} of ${channel.widthMhz} MHz in ${channel.band} GHz`,
    }
  const met = regime.stretches.filter((s) => s.fromMhz < edges[1] && s.toMhz > edges[0])
  // Stretches of one standard that lie side by side are crossed; what lies between others is not
  // allowed.
  const covered = met.reduce(
    (sum, s) => sum + Math.min(s.toMhz, edges[1]) - Math.max(s.fromMhz, edges[0]),
    0,
  )
  const sources = [...new Set(met.map((s) => s.source))]
  if (covered < edges[1] - edges[0] || sources.length > 1)
    return {
      ok: false,
      reason: `channel ${channel.primary} of ${channel.widthMhz} MHz is not open in ${country}`,
    }
  const inside = met.find((s) => s.isIndoorsOnly)
  if (isOutdoors && inside)
    return {
      ok: false,
      reason: `channel ${channel.primary} is for indoors only in ${country} (${inside.source})`,
    }
  const limitDbm = Math.min(
    ...met.map((s) =>
      Math.min(
        s.eirpDbm,
        s.perMhzDbm === null ? Infinity : s.perMhzDbm + 10 * Math.log10(channel.widthMhz),
      ),
    ),
  )
  return {
    ok: true,
    limitDbm,
    isRadar: met.some((s) => s.isRadar),
    source: sources[0]!,
  }
}

/** Channels of a width that may be used, each block of them once, by the number of its first. */
export function lawfulChannels(
  country: string,
  band: Band,
  widthMhz: Width,
  isOutdoors: boolean,
  withRadar: boolean,
): Channel[] {
  const seen = new Set<number>()
  return numbersOf[band].flatMap((primary): Channel[] => {
    const channel = { band, primary, widthMhz }
    const first = takenBy(channel)?.[0]
    if (first === undefined || (band !== '2.4' && seen.has(first))) return []
    const law = lawOf(country, channel, isOutdoors)
    if (!law.ok || (law.isRadar && !withRadar)) return []
    seen.add(first)
    return [channel]
  })
}
