/** Where the day is, from what was ticked. */
import type { Step } from '../step'
import type { Progress } from './day'

export interface TickedStep {
  readonly stepId: string
  readonly doneMs: number
  /** When its wait is over. */
  readonly readyMs: number
  readonly by: string | null
}

export interface UnderWay {
  /** When the first step was begun, as far as its planned time says. */
  readonly begunMs: number
  readonly progress: Progress
}

/** @returns null while nothing is done */
export function underWay(
  sheet: readonly Step[],
  done: readonly TickedStep[],
  names: readonly string[],
  nowMs: number,
): UnderWay | null {
  const byId = new Map(sheet.map((s) => [s.id, s]))
  const known = done.filter((d) => byId.has(d.stepId)).sort((a, b) => a.doneMs - b.doneMs)
  if (known.length === 0) return null
  const begunMs = Math.min(...known.map((d) => d.doneMs - byId.get(d.stepId)!.workSeconds * 1000))
  const seconds = (ms: number): number => Math.round((ms - begunMs) / 1000)
  const placeOf = (d: TickedStep | undefined): string | null =>
    d ? byId.get(d.stepId)!.locationId : null
  const somewhere = known.filter((d) => byId.get(d.stepId)!.locationId !== null)
  return {
    begunMs,
    progress: {
      // A clock that was set back does not undo what is done.
      nowSeconds: seconds(Math.max(nowMs, known.at(-1)!.doneMs)),
      endedSeconds: new Map(known.map((d) => [d.stepId, seconds(d.readyMs)])),
      standing: names.map((name) =>
        placeOf(somewhere.findLast((d) => names.length === 1 || d.by === name)),
      ),
    },
  }
}
