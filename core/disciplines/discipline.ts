/**
 * A discipline of the trade, with all that it contributes. Analysis, run sheet, proof and the
 * command line gather from what is registered in `index.ts` and know none of them by name.
 */
import type { DayPart } from '../bringup/day'
import type { FieldRule } from '../field/fieldRule'
import type { Rule } from '../findings/rule'
import type { ProofBuilder } from '../proof/builder'
import type { CauseFinder } from '../proof/cause'
import type { Verb } from '../verbs/verb'

export interface Discipline {
  readonly id: string
  /** What is looked for in a plan, the most urgent first. */
  readonly rules?: readonly Rule[]
  /** What is looked for in the facts of the field. */
  readonly fieldRules?: readonly FieldRule[]
  /** What has to be done on the day. */
  readonly day?: readonly DayPart[]
  /** Tests of the proof that the plan implies. */
  readonly tests?: (proof: ProofBuilder) => void
  /** What looks for causes of a proof that fails. */
  readonly causes?: readonly CauseFinder[]
  /** What can be asked of a plan on the command line. */
  readonly verbs?: readonly Verb[]
}
export const defineDiscipline = (discipline: Discipline): Discipline => discipline
