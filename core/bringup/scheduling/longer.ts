/** What moves when a step takes longer, everybody doing what they do in the same order. */
import type { Step } from '../step'
import { openSteps, type Progress } from './day'
import { inOrderOf } from './placing'
import type { Schedule } from './schedule'
import type { Travel } from './travel'

export interface Longer {
  /** How much later the day ends, s. */
  readonly endSeconds: number
  /** What starts later, in the order of the day, and by how much, s. */
  readonly moved: readonly { readonly stepId: string; readonly bySeconds: number }[]
}

/** @param bySeconds hands on, more than was planned */
export function takingLonger(
  steps: readonly Step[],
  schedule: Schedule,
  stepId: string,
  bySeconds: number,
  travel: Travel,
  progress?: Progress,
): Longer {
  const people = 1 + Math.max(0, ...schedule.steps.flatMap((s) => [s.person, s.helper ?? 0]))
  const day = openSteps(
    steps.map((s) => (s.id === stepId ? { ...s, workSeconds: s.workSeconds + bySeconds } : s)),
    people,
    travel,
    progress,
  )
  const number = new Map(day.steps.map((s, n) => [s.id, n]))
  const order = schedule.steps.map((s) => number.get(s.stepId)!)
  const person = new Int32Array(order.length)
  const helper = new Int32Array(order.length).fill(-1)
  for (const s of schedule.steps) {
    person[number.get(s.stepId)!] = s.person
    helper[number.get(s.stepId)!] = s.helper ?? -1
  }
  const later = inOrderOf(day, order, { person, helper })
  return {
    endSeconds: later.totalSeconds - schedule.totalSeconds,
    moved: schedule.steps.flatMap((s) => {
      const by = later.start[number.get(s.stepId)!]! - s.startSeconds
      return by > 0 ? [{ stepId: s.stepId, bySeconds: by }] : []
    }),
  }
}
