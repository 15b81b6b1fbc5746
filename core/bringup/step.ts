/** A step of the day. */
import type { Device } from '../plan'
import { sheets, type SheetId } from '../sheets'
import type { SiteModel } from '../topology'

/** What the stand-ins can do in place of a person's hands. */
export type HandAction =
  | { readonly kind: 'power'; readonly deviceIds: readonly string[]; readonly on: boolean }
  | { readonly kind: 'laptop'; readonly plugInto: string | null; readonly address: string | null }
  | {
      readonly kind: 'page'
      readonly deviceId: string
      readonly address: string
      readonly act: 'password' | 'firmware' | 'configuration'
    }
  | { readonly kind: 'plug'; readonly deviceIds: readonly string[] }
  | { readonly kind: 'plug-line'; readonly lineId: string }
  /** Back to what it was in its box. */
  | { readonly kind: 'reset'; readonly deviceIds: readonly string[] }

export type Followed =
  /** A claim in the controller, or reaching service there. */
  | {
      readonly kind: 'device'
      readonly deviceId: string
      readonly state: 'claimed' | 'in-service'
    }
  /** A proof that ran after all that the step needs was done. */
  | { readonly kind: 'proof' }

export interface Step {
  readonly id: string
  /** What is done, whatever it is done to: `claim`, `cable`, `prove`. */
  readonly kind: string
  readonly title: string
  readonly deviceId: string | null
  /** Where hands are needed; null where it does not matter. */
  readonly locationId: string | null
  readonly needs: readonly string[]
  /** Hands-on time, s. */
  readonly workSeconds: number
  /** Time to wait afterwards before the next step on the same thing, s. */
  readonly waitSeconds: number
  /** What to read or type, exactly. */
  readonly words: readonly {
    readonly label: string
    readonly text: string
    readonly secret?: boolean
  }[]
  /** Has to be acknowledged before the step can be ticked. */
  readonly safety: string | null
  /** What must not be done while waiting. */
  readonly whileWaiting: string | null
  readonly action: HandAction | null
  /** What ticks the step by itself, so that nobody says it before it is so. */
  readonly follows: Followed | null
  /** Why it cannot be started yet for a reason outside the run sheet, and where that is mended. */
  readonly blockedBy: { readonly says: string; readonly sheet: SheetId } | null
  readonly ifExceeded: string | null
  /**
   * From the first of these to the end of the last the site is without its line or some of its
   * hosts without the network.
   */
  readonly isOutage: boolean
  /** How many people it takes at once. */
  readonly hands: 1 | 2
  /** Where nobody else may work meanwhile: beneath a mast; anywhere, while the power is off. */
  readonly clears: 'place' | 'site' | null
  /** Behind it is no simple going back: why, and how it is done all the same. */
  readonly noReturn: { readonly why: string; readonly wayBack: string } | null
  /** What may not be left as it is for the night until these are done, or else so. */
  readonly leavesOpen: {
    readonly says: string
    readonly until: readonly string[]
    readonly orElse: string | null
  } | null
}

export interface Draft extends Partial<Step> {
  id: string
  kind: string
  title: string
  needs: string[]
}
export type Add = (d: Draft) => string
export const stepOf = (d: Draft): Step => ({
  deviceId: null,
  locationId: null,
  workSeconds: 60,
  waitSeconds: 0,
  words: [],
  safety: null,
  whileWaiting: null,
  action: null,
  follows: null,
  blockedBy: null,
  ifExceeded: null,
  isOutage: false,
  hands: 1,
  clears: null,
  noReturn: null,
  leavesOpen: null,
  ...d,
})

/** Why a step cannot be started yet, in one sentence. */
export const whyBlocked = ({ blockedBy }: Step): string | null =>
  blockedBy && `${blockedBy.says} ${sheets.find((s) => s.id === blockedBy.sheet)!.name}.`

/** The name in the vault of what replaces the factory password on every device of the site. */
export const SITE_PASSWORD = 'site-password'
export const ELECTRIC =
  'Mains: leave fixed wiring to a licensed electrician; use an undamaged lead and a protected outlet.'
export const HEIGHT =
  'Work at height: never alone, a footed ladder, fall protection where local rules ask for ' +
  'it. Keep clear of overhead lines.'
export const KEEP_POWER = 'Do not refresh the page and do not cut the power while it writes.'

/** The laptop is where no site network is. */
export const LAPTOP_OPEN: Step['leavesOpen'] = {
  says: 'The laptop is on a fixed address.',
  until: ['laptop-automatic'],
  orElse: 'Set it back to an automatic address by hand; the next laptop step says it anew.',
}

export const locationOf = (model: SiteModel, d: Device): string | null =>
  d.locationId && model.plan.locations[d.locationId] ? d.locationId : null
const aloft: ReadonlySet<string> = new Set(['roof', 'mast', 'outdoors'])
export const isAloft = (model: SiteModel, d: Device): boolean =>
  aloft.has(model.plan.locations[d.locationId ?? '']?.kind ?? '')
/** Two go up, or one stands below and looks on, and nobody else works beneath (common practice). */
export const handsFor = (model: SiteModel, d: Device): Pick<Step, 'hands' | 'clears'> =>
  isAloft(model, d) ? { hands: 2, clears: 'place' } : { hands: 1, clears: null }
