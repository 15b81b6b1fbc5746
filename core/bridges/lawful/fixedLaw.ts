/**
 * What a country lets a fixed outdoor link between two points send, from memory: each use has to be
 * checked with the regulator. Powers are of the antenna's best direction (EIRP), dBm.
 */
import countries from '../../radio/lawfulCountries.json' with { type: 'json' }

export const CHECK = 'Check with your regulator: what is kept here is from memory.'

export interface FixedLaw {
  readonly fromMhz: number
  readonly toMhz: number
  /** For an antenna of so much gain. */
  readonly eirpDbm: (gainDbi: number) => number
  /** The rule in words. */
  readonly words: string
  readonly source: string
  readonly isRadar: boolean
  readonly isIndoorsOnly: boolean
  /** Each path has a licence of its own, which says how much. */
  readonly isLicensed: boolean
}
const rule = (
  fromMhz: number,
  toMhz: number,
  eirp: number | ((gainDbi: number) => number),
  source: string,
  more: Partial<FixedLaw> = {},
): FixedLaw => ({
  fromMhz,
  toMhz,
  eirpDbm: typeof eirp === 'number' ? () => eirp : eirp,
  words: typeof eirp === 'number' ? `${eirp} dBm EIRP` : '',
  source,
  isRadar: false,
  isIndoorsOnly: false,
  isLicensed: false,
  ...more,
})
const licensed = (fromMhz: number, toMhz: number, source: string): FixedLaw =>
  rule(fromMhz, toMhz, -Infinity, source, { isLicensed: true, words: 'what its licence says' })

/** Licensed for links between fixed points nearly everywhere. */
const byLicence = [
  licensed(10_700, 11_700, 'ITU-R F.387'),
  licensed(12_750, 13_250, 'ITU-R F.497'),
  licensed(14_400, 15_350, 'ITU-R F.636'),
  licensed(17_700, 19_700, 'ITU-R F.595'),
  licensed(21_200, 23_600, 'ITU-R F.637'),
]

const europe: readonly FixedLaw[] = [
  rule(2400, 2483.5, 20, 'EN 300 328'),
  rule(5150, 5350, 23, 'EN 301 893, ECC/DEC/(04)08', { isIndoorsOnly: true }),
  rule(5470, 5725, 30, 'EN 301 893, ECC/DEC/(04)08', { isRadar: true }),
  rule(5725, 5875, 36, 'EN 302 502', { isRadar: true }),
  rule(5945, 6425, 23, 'EN 303 687, ECC/DEC/(20)01', { isIndoorsOnly: true }),
  rule(17_100, 17_300, 20, 'EN 300 440'),
  rule(24_000, 24_250, 20, 'EN 300 440'),
  rule(57_000, 71_000, 40, 'EN 302 567, ERC/REC 70-03'),
  ...byLicence,
]
const northAmerica: readonly FixedLaw[] = [
  rule(2400, 2473, (g) => (g <= 6 ? 30 + g : 30 + g - Math.ceil((g - 6) / 3)), '47 CFR 15.247', {
    words: '30 dBm into 6 dBi; for every 3 dB over that, 1 dB less power',
  }),
  rule(5150, 5250, (g) => 30 + Math.min(g, 23), '47 CFR 15.407', {
    words: '30 dBm into up to 23 dBi',
  }),
  rule(5250, 5350, 30, '47 CFR 15.407', { isRadar: true }),
  rule(5470, 5725, 30, '47 CFR 15.407', { isRadar: true }),
  rule(5725, 5850, (g) => 30 + g, '47 CFR 15.407', {
    words: '30 dBm into an antenna of any gain between two fixed points',
  }),
  rule(5925, 7125, 30, '47 CFR 15.407', { isIndoorsOnly: true }),
  rule(24_050, 24_250, (g) => (g >= 33 ? 32.7 : 12.7), '47 CFR 15.249', {
    words: '32.7 dBm EIRP with 33 dBi or more, else 12.7 dBm',
  }),
  rule(57_000, 71_000, (g) => Math.max(40, Math.min(82, 82 - 2 * (51 - g))), '47 CFR 15.255', {
    words: '82 dBm EIRP, 2 dB less for each dB under 51 dBi; 40 dBm at the least',
  }),
  ...byLicence,
]
const regimes = [
  { countries: countries.europe, laws: europe },
  { countries: countries.northAmerica, laws: northAmerica },
] as const

export type FixedVerdict =
  | { readonly ok: true; readonly law: FixedLaw; readonly limitDbm: number }
  | {
      readonly ok: false
      readonly kind: 'country' | 'closed' | 'indoors' | 'licence'
      readonly reason: string
    }

const ghz = (mhz: number): string => `${Math.round(mhz) / 1000} GHz`

/** What is allowed outdoors between two fixed points around a frequency. */
export function fixedLawOf(
  country: string,
  mhz: number,
  widthMhz: number,
  gainDbi: number,
  licensedDbm: number | null,
): FixedVerdict {
  const regime = regimes.find((r) => r.countries.includes(country))
  if (!regime)
    return { ok: false, kind: 'country', reason: `what ${country} allows is not kept here` }
  const law = regime.laws.find(
    (l) => l.fromMhz <= mhz - widthMhz / 2 && l.toMhz >= mhz + widthMhz / 2,
  )
  if (!law)
    return {
      ok: false,
      kind: 'closed',
      reason: `${widthMhz} MHz around ${ghz(mhz)} are not open in ${country}`,
    }
  if (law.isIndoorsOnly)
    return {
      ok: false,
      kind: 'indoors',
      reason: `${ghz(mhz)} is for indoors only in ${country} (${law.source})`,
    }
  if (law.isLicensed)
    return licensedDbm === null
      ? {
          ok: false,
          kind: 'licence',
          reason: `${ghz(mhz)} needs a licence for each path (${law.source})`,
        }
      : { ok: true, law, limitDbm: licensedDbm }
  return { ok: true, law, limitDbm: law.eirpDbm(gainDbi) }
}
