/** Cases of rules: they lie with the discipline, in `core/DISCIPLINE/findings/cases.ts`. */
import type { EditCall } from '../plan'

/**
 * A catch number, or the id of a rule that has none, how to break a clean plan, which subject is
 * named then, and what the text says.
 * Each fix that is offered mends it.
 */
export type FindingCase = readonly [
  catchNumber: string,
  edits: readonly EditCall[],
  subject: string,
  text: RegExp,
]

export const addressing = (
  mode: string,
  segmentId: string,
  address: string,
  gateway: string | null,
): object => ({ addressing: { mode, segmentId, address, gateway } })
