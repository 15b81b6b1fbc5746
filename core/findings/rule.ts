/** What a rule is and what it finds. */
import type { EditCall, SitePlan } from '../plan'
import type { PlanSheetId } from '../sheets'
import type { SiteModel } from '../topology'

export type Severity = 'blocker' | 'caution' | 'note'

/** A number that shows a finding: its value with unit, and how it came about. */
export interface FindingNumber {
  readonly label: string
  readonly value: string
  readonly how?: string
}
/** An edit or several that mend a finding, with the words of its button. */
export interface Fix {
  readonly label: string
  readonly edits: readonly EditCall[]
}

export interface FindingBody {
  /**
   * What tells it from others of the rule, where the subjects do not: they may be the same for two,
   * or other ones as soon as something is mended.
   */
  readonly key?: string
  /** Ids of the entities that it is about, the most telling first. */
  readonly subjects: readonly string[]
  /** What is wrong, in one sentence with the names of things. */
  readonly text: string
  /** Why it matters, in one sentence. */
  readonly why: string
  readonly numbers?: readonly FindingNumber[]
  readonly fixes?: readonly Fix[]
  /** Where they differ from the rule's own. */
  readonly severity?: Severity
  readonly title?: string
  readonly catches?: readonly string[]
}

export interface Rule {
  readonly id: string
  readonly severity: Severity
  readonly catches: readonly string[]
  readonly title: string
  readonly sheet: PlanSheetId
  /**
   * The parts of the plan that what it finds depends on: as long as these are the same, so is what
   * it finds.
   */
  readonly reads: readonly (keyof SitePlan)[]
  check(model: SiteModel): Iterable<FindingBody>
}

export interface Finding extends Omit<FindingBody, 'severity' | 'key' | 'title' | 'catches'> {
  /** The same finding keeps its id from one analysis to the next. */
  readonly id: string
  readonly ruleId: string
  readonly severity: Severity
  readonly catches: readonly string[]
  readonly title: string
  readonly sheet: PlanSheetId
}

export const defineRule = (rule: Rule): Rule => rule
