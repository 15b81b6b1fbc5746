/** Who calls whom: one step is done at one place, and somebody at another waits for it. */
import type { Step } from '../step'
import type { Schedule, ScheduledStep } from './schedule'

export interface HandOver {
  readonly doneId: string
  /** What waits for it, in the order in which it is begun. */
  readonly nextIds: readonly string[]
  readonly from: number
  readonly to: number
  /** When the call is due, s from the start of the day. */
  readonly atSeconds: number
}

const crewOf = (s: ScheduledStep): readonly number[] =>
  s.helper === null ? [s.person] : [s.person, s.helper]

/** By time. Nobody calls somebody who was there, or who stands beside them. */
export function handOversOf(steps: readonly Step[], schedule: Schedule): HandOver[] {
  const at = new Map(schedule.steps.map((s) => [s.stepId, s]))
  const place = new Map(steps.map((s) => [s.id, s.locationId]))
  const calls = schedule.steps.flatMap((next): HandOver[] => {
    const needs = steps.find((s) => s.id === next.stepId)?.needs ?? []
    return needs.flatMap((id): HandOver[] => {
      const done = at.get(id)
      if (!done || crewOf(done).some((p) => crewOf(next).includes(p))) return []
      const [here, there] = [place.get(id) ?? null, place.get(next.stepId) ?? null]
      if (here === null || there === null || here === there) return []
      return [
        {
          doneId: id,
          nextIds: [next.stepId],
          from: done.person,
          to: next.person,
          atSeconds: done.endSeconds,
        },
      ]
    })
  })
  // One call tells of everything that waits for it.
  const byCall = new Map<string, HandOver>()
  for (const c of calls) {
    const key = `${c.doneId} ${c.from} ${c.to}`
    const known = byCall.get(key)
    byCall.set(key, known ? { ...known, nextIds: [...known.nextIds, ...c.nextIds] } : c)
  }
  return [...byCall.values()].sort((a, b) => a.atSeconds - b.atSeconds)
}
