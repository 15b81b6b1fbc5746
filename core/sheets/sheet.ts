/** A stop of the line: a sheet with its question, its mark and what it says is to be done next. */
import type { SitePlan } from '../plan'

export type StopMark =
  | { readonly kind: 'nothing'; readonly word: string }
  | { readonly kind: 'blockers' | 'cautions'; readonly count: number; readonly word: string }
  | { readonly kind: 'clear' | 'proven'; readonly word: string }
  | { readonly kind: 'progress'; readonly word: string }

/** How many findings of a sheet there are. */
export interface SheetCount {
  readonly blockers: number
  readonly cautions: number
}

/** What the marks of the line are made of. */
export interface SiteStanding {
  readonly plan: SitePlan | null
  /** Findings of the plan by sheet; null while they are computed. */
  readonly counts: Readonly<Record<string, SheetCount>> | null
  readonly steps: { readonly all: number; readonly done: number }
  readonly devices: {
    readonly all: number
    /** That have power, were claimed or were heard. */
    readonly begun: number
    readonly inService: number
    readonly wrong: number
    readonly unsent: number
    readonly isSending: boolean
  }
  readonly proof: {
    readonly contradicts: number
    readonly untested: number
    readonly isProven: boolean
    readonly isCurrent: boolean
  } | null
}

/** What the drawer of sites knows of one. */
export interface SiteGlance {
  readonly revision: number
  readonly devices: number
  readonly marks: Readonly<Record<string, SheetCount>>
  readonly steps: number
  readonly stepsDone: number
  readonly nextStep: string | null
  readonly proof: { readonly proven: boolean; readonly revision: number } | null
}

export interface Sheet<Id extends string = string> {
  readonly id: Id
  readonly name: string
  /** What a person comes to it with. */
  readonly question: string
  mark(standing: SiteStanding): StopMark
  /** What is to be done here next, in a few words; null where nothing is. */
  next(glance: SiteGlance): string | null
}
export const defineSheet = <const Id extends string>(sheet: Sheet<Id>): Sheet<Id> => sheet

const NOTHING: StopMark = { kind: 'nothing', word: 'nothing yet' }

interface PlanSheet<Id extends string> extends Sheet<Id> {
  readonly isOfPlan: true
  readonly start: string
  isBegun(plan: SitePlan): boolean
}

/** A sheet of the plan: its mark is what is found in it, its next words that it is to be mended. */
export const planSheet = <const Id extends string>(given: {
  readonly id: Id
  readonly name: string
  readonly question: string
  /** Whether there is anything on it yet. */
  isBegun(plan: SitePlan): boolean
  /** What to begin with where there is nothing on it yet. */
  readonly start: string
  /** What comes before any mending. */
  first?(glance: SiteGlance): string | null
}): PlanSheet<Id> => ({
  ...given,
  isOfPlan: true,
  mark({ plan, counts }) {
    const count = counts?.[given.id]
    if (count && count.blockers > 0)
      return { kind: 'blockers', count: count.blockers, word: `${count.blockers} to mend` }
    if (count && count.cautions > 0)
      return { kind: 'cautions', count: count.cautions, word: `${count.cautions} to weigh` }
    return plan && given.isBegun(plan) ? { kind: 'clear', word: 'clear' } : NOTHING
  },
  next(glance) {
    const { marks } = glance
    const first = given.first?.(glance)
    if (first) return first
    if ((marks[given.id]?.blockers ?? 0) === 0) return null
    const all = Object.values(marks).reduce((n, m) => n + m.blockers, 0)
    return `Mend ${all} ${all === 1 ? 'remark' : 'remarks'}, starting in ${given.name}`
  },
})

/** Where nothing, some or all of something is done. */
export const progressMark = (done: number, all: number, whenAll: string): StopMark =>
  done === 0
    ? NOTHING
    : done === all
      ? { kind: 'clear', word: whenAll }
      : { kind: 'progress', word: `${done} of ${all}` }
