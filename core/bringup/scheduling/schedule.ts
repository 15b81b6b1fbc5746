/**
 * When each step can start and who does it: hands work on one thing at a time, waits pass by
 * themselves, ladders and power-offs allow nobody else.
 */
import { remembered } from '../../remember'
import type { Step } from '../step'
import { boundOf, openSteps, type OpenSteps, type Progress } from './day'
import { bestOrder } from './search'
import { slacksOf } from './slack'
import type { Travel } from './travel'

export interface ScheduledStep {
  readonly stepId: string
  /** Person, from 0. */
  readonly person: number
  /** The one who has to be there as well; null where one is enough, or alone. */
  readonly helper: number | null
  /** On the way to it, before it starts; of both where there are two. */
  readonly travelSeconds: number
  /** All in s from the start of the day. */
  readonly startSeconds: number
  readonly handsFreeSeconds: number
  readonly endSeconds: number
  /** How much longer it may take before the whole day does, everybody doing what they do. */
  readonly slackSeconds: number
  /** Whether a delay of it delays the whole. */
  readonly critical: boolean
}
export interface Schedule {
  /** In the order in which they start; without those that were done already. */
  readonly steps: readonly ScheduledStep[]
  readonly totalSeconds: number
  readonly workSeconds: number
  readonly travelSeconds: number
  /** No order is shorter with any number of people. */
  readonly criticalSeconds: number
  /** No order is shorter with so many people. */
  readonly boundSeconds: number
  /** Hands-on time of steps for two, where there is one. */
  readonly aloneSeconds: number
  /** From when to when somebody is without line or network; null where nothing is cut. */
  readonly outage: { readonly fromSeconds: number; readonly toSeconds: number } | null
}

const byPeople = remembered<readonly Step[], Map<number, Schedule>>(() => new Map())

/**
 * The same schedule for the same list and number of people, while nothing is done.
 * @param travel the same for the same list
 * @param progress where the day is by now; left out, it is of the whole day
 */
export function scheduleOf(
  steps: readonly Step[],
  people = 1,
  travel: Travel = () => 0,
  progress?: Progress,
): Schedule {
  if (progress) return layOut(openSteps(steps, people, travel, progress))
  const known = byPeople(steps)
  let schedule = known.get(people)
  if (!schedule) known.set(people, (schedule = layOut(openSteps(steps, people, travel))))
  return schedule
}

function layOut(day: OpenSteps): Schedule {
  const placed = bestOrder(day)
  const slack = slacksOf(day, placed)
  const { steps, work, wait } = day
  const handsFree = (n: number): number => placed.start[n]! + work[n]!
  const inTime = [...placed.order].sort((a, b) => placed.start[a]! - placed.start[b]! || a - b)
  const listed = inTime.map((n): ScheduledStep => {
    const helper = placed.helper[n]!
    return {
      stepId: steps[n]!.id,
      person: placed.person[n]!,
      helper: helper < 0 ? null : helper,
      travelSeconds: placed.travel[n]!,
      startSeconds: placed.start[n]!,
      handsFreeSeconds: handsFree(n),
      endSeconds: handsFree(n) + wait[n]!,
      slackSeconds: slack[n]!,
      critical: slack[n]! === 0,
    }
  })
  const cut = listed.filter((_, i) => day.isOutage[inTime[i]!])
  return {
    steps: listed,
    totalSeconds: listed.reduce((t, s) => Math.max(t, s.endSeconds), day.from),
    workSeconds: work.reduce((t, s) => t + s, 0),
    travelSeconds: listed.reduce((t, s) => t + s.travelSeconds, 0),
    criticalSeconds: day.tail.reduce((t, s) => Math.max(t, s), 0),
    boundSeconds: boundOf(day),
    aloneSeconds: steps.reduce((t, s) => t + (s.hands > day.people ? s.workSeconds : 0), 0),
    outage:
      cut.length === 0
        ? null
        : {
            fromSeconds: Math.min(...cut.map((s) => s.startSeconds)),
            toSeconds: Math.max(...cut.map((s) => s.endSeconds)),
          },
  }
}
