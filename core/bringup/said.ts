/**
 * Whether what was done is still what the run sheet says: a plan that changes meanwhile asks for
 * other things of the same step.
 */
import { digestOf } from '../plan'
import type { Step } from './step'

/** What there is to read, type and plug, in short; the title may change with a name. */
export const saysOf = (step: Step): string => digestOf({ words: step.words, action: step.action })

/** Once a device runs, its configuration comes from the controller, not from the bench. */
const BENCH: ReadonlySet<string> = new Set(['laptop', 'password', 'firmware', 'configure'])

export interface StepDone {
  readonly stepId: string
  /** As `saysOf` gave it then; null where that is not known. */
  readonly said: string | null
}

/** Ids of steps that were done and that say something else now, by ids of devices in service. */
export function outdated(
  stepOf: (id: string) => Step | undefined,
  done: readonly StepDone[],
  inService: ReadonlySet<string>,
): string[] {
  return done.flatMap(({ stepId, said }) => {
    const step = said === null ? undefined : stepOf(stepId)
    // What ticks itself is as true as what it follows.
    if (!step || step.follows || saysOf(step) === said) return []
    return BENCH.has(step.kind) && step.deviceId !== null && inService.has(step.deviceId)
      ? []
      : [stepId]
  })
}
