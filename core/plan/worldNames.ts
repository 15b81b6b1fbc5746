/** Countries and time zones that there are, as the runtime's own tables have them. */
import type { PlanProblem } from './references'
import type { SitePlan } from './schema'

const REGIONS = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' })
/** CLDR has words for what is no country: unknown, and two for trying out. */
const NO_COUNTRIES: ReadonlySet<string> = new Set(['ZZ', 'XA', 'XB', 'EU', 'EZ', 'UN', 'QO'])

/** ISO 3166-1 alpha-2. */
export const isCountry = (code: string): boolean =>
  /^[A-Z]{2}$/.test(code) && !NO_COUNTRIES.has(code) && REGIONS.of(code) !== undefined

export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return true
  } catch {
    return false
  }
}

/** Of a plan that comes in; one that is stored is read whatever it says. */
export const worldProblems = ({ site }: Pick<SitePlan, 'site'>): PlanProblem[] => [
  ...(isCountry(site.country)
    ? []
    : [
        {
          path: ['site', 'country'],
          reason: `'${site.country}' is no country of ISO 3166-1; for example GB`,
        },
      ]),
  ...(isTimeZone(site.timeZone)
    ? []
    : [
        {
          path: ['site', 'timeZone'],
          reason: `'${site.timeZone}' is no time zone; for example Europe/London`,
        },
      ]),
]
