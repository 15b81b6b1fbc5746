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

/** What tells whether a tick still stands, without the step itself. */
export interface SaysNow {
  /** As `saysOf`; null of what ticks itself, which is as true as what it follows. */
  readonly says: string | null
  /** The device that it is done to on the bench. */
  readonly benchOf: string | null
}
export const saysNow = (step: Step): SaysNow => ({
  says: step.follows ? null : saysOf(step),
  benchOf: BENCH.has(step.kind) ? step.deviceId : null,
})

export interface StepDone {
  readonly stepId: string
  /** As `saysOf` gave it then; null where that is not known. */
  readonly said: string | null
}

/** Ids of steps that were done and that say something else now, by ids of devices in service. */
export function outdated(
  now: (stepId: string) => SaysNow | undefined,
  done: readonly StepDone[],
  inService: ReadonlySet<string>,
): string[] {
  return done.flatMap(({ stepId, said }) => {
    const { says = null, benchOf = null } = (said !== null && now(stepId)) || {}
    if (says === null || says === said) return []
    return benchOf !== null && inService.has(benchOf) ? [] : [stepId]
  })
}

/** The same of a run sheet, by id. */
export const outdatedOn = (
  sheet: ReadonlyMap<string, Step>,
  done: readonly StepDone[],
  inService: ReadonlySet<string>,
): string[] =>
  outdated(
    (id) => {
      const step = sheet.get(id)
      return step && saysNow(step)
    },
    done,
    inService,
  )
