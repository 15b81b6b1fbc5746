/** A small invented site on which one whole job of the trade is done, from the first fact to the proof. */
import type { EditCall, SitePlan } from '@mast/core/plan'

export interface Exercise {
  /** For addresses of pages and names of files. */
  readonly id: string
  /** Number of the job. */
  readonly job: `J-${number}`
  readonly name: string
  /** What is to be done, for who opens it. */
  readonly task: string
  /** What decides it. */
  readonly decides: string
  /** As it is found. */
  begin(): SitePlan
  /** What a person decides that no remark offers. */
  readonly decisions: readonly EditCall[]
  /** Remarks that are meant to stand: the job is done that way. */
  readonly leaves: readonly string[]
  /** Titles of the proofs that show it. */
  readonly shows: readonly string[]
}
