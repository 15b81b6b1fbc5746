/** What a rule about the work in the field is, and words that several of them use. */
import type { Finding, FindingBody, Severity } from '../findings/rule'
import type { Step } from '../bringup/step'
import type { SheetId } from '../sheets'
import type { SiteModel } from '../topology'
import type { FieldFacts } from './facts'

export type FieldSheet = Extract<SheetId, 'bring-up' | 'adopt'>
export interface FieldFinding extends Omit<Finding, 'sheet'> {
  readonly sheet: FieldSheet
}
export interface FieldRule {
  readonly id: string
  readonly severity: Severity
  readonly catches: readonly string[]
  readonly title: string
  readonly sheet: FieldSheet
  /** @param sheet the run sheet of the plan */
  check(model: SiteModel, facts: FieldFacts, sheet: readonly Step[]): Iterable<FindingBody>
}

export const nameOf = (model: SiteModel, id: string): string => model.plan.devices[id]?.name ?? id
/** How long ago something was, in seconds of the devices' own time. */
export const secondsSince = (atMs: number, facts: FieldFacts): number =>
  ((facts.nowMs - atMs) / 1000) * facts.clockSpeed
