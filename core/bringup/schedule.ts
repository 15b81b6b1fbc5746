/**
 * When each step can start: hands work on one thing at a time, waits pass by themselves. List
 * scheduling by the longest remaining path.
 */
import { remembered } from '../remember'
import TinyQueue from 'tinyqueue'
import type { Step } from './step'
import type { Travel } from './travel'

export interface ScheduledStep {
  readonly stepId: string
  /** Person, from 0. */
  readonly person: number
  /** On the way to it, before it starts. */
  readonly travelSeconds: number
  /** All in s from the start of the day. */
  readonly startSeconds: number
  readonly handsFreeSeconds: number
  readonly endSeconds: number
  /** Whether a delay of it delays the whole. */
  readonly critical: boolean
}
export interface Schedule {
  /** In the order in which they start. */
  readonly steps: readonly ScheduledStep[]
  readonly totalSeconds: number
  readonly workSeconds: number
  readonly travelSeconds: number
  readonly criticalSeconds: number
  /** From when to when somebody is without line or network; null where nothing is cut. */
  readonly outage: { readonly fromSeconds: number; readonly toSeconds: number } | null
}

const byPeople = remembered<readonly Step[], Map<number, Schedule>>(() => new Map())

/**
 * The same schedule for the same list and number of people.
 * @param travel the same for the same list
 */
export function scheduleOf(steps: readonly Step[], people = 1, travel: Travel = () => 0): Schedule {
  const known = byPeople(steps)
  let schedule = known.get(people)
  if (!schedule) known.set(people, (schedule = layOut(steps, people, travel)))
  return schedule
}

function layOut(steps: readonly Step[], people: number, travel: Travel): Schedule {
  const byId = new Map(steps.map((s) => [s.id, s]))
  const order = new Map(steps.map((s, i) => [s.id, i]))
  const followers = new Map<string, string[]>()
  for (const s of steps)
    for (const n of s.needs) {
      const list = followers.get(n)
      if (list) list.push(s.id)
      else followers.set(n, [s.id])
    }
  const tail = new Map<string, number>()
  const tailOf = (id: string): number => {
    const known = tail.get(id)
    if (known !== undefined) return known
    const s = byId.get(id)!
    const value =
      s.workSeconds + s.waitSeconds + Math.max(0, ...(followers.get(id) ?? []).map(tailOf))
    tail.set(id, value)
    return value
  }
  for (const s of steps) tailOf(s.id)

  // By number rather than by id: a day of a thousand steps is laid out while somebody waits for the
  // sheet.
  const followersOf = steps.map((s) =>
    [...new Set(followers.get(s.id) ?? [])].map((id) => order.get(id)!),
  )
  const tails = Float64Array.from(steps, (s) => tail.get(s.id)!)
  const waiting = Int32Array.from(steps, (s) => new Set(s.needs).size)
  /** When what a step needs is over, s; complete once nothing of it is waited for. */
  const readyAt = new Float64Array(steps.length)
  const longestFirst = (a: number, b: number): number => tails[b]! - tails[a]! || a - b
  const begin = steps.flatMap((s, n) => (s.needs.length === 0 ? [n] : []))
  /**
   * What can start when hands are next free, and what is still waited for; hands are never free
   * earlier than the last time.
   */
  const now = new Map<string | null, TinyQueue<number>>()
  const put = (n: number): void => {
    const at = steps[n]!.locationId
    const here = now.get(at)
    if (here) here.push(n)
    else now.set(at, new TinyQueue([n], longestFirst))
  }
  begin.forEach(put)
  /**
   * The longest of what can be done without walking; where there is nothing, what is soon to be
   * done here if it is sooner than going and coming back; else the longest elsewhere.
   */
  const take = (standingAt: string | null, freeAt: number): number | undefined => {
    const first = (of: Iterable<string | null>): TinyQueue<number> | undefined => {
      let best: TinyQueue<number> | undefined
      for (const at of of) {
        const q = now.get(at)
        if (q && q.length > 0 && (!best || longestFirst(q.peek()!, best.peek()!) < 0)) best = q
      }
      return best
    }
    const here = first(standingAt === null ? now.keys() : [standingAt, null])
    if (here) return here.pop()
    const away = first(now.keys())
    if (away && standingAt !== null) {
      const backAt = freeAt + 2 * travel(standingAt, steps[away.peek()!]!.locationId)
      const soon = later.data
        .filter((n) => steps[n]!.locationId === standingAt && readyAt[n]! <= backAt)
        .sort((a, b) => readyAt[a]! - readyAt[b]! || longestFirst(a, b))[0]
      if (soon !== undefined) {
        later = laterOf(later.data.filter((n) => n !== soon))
        return soon
      }
    }
    return away?.pop()
  }
  const laterOf = (list: number[]): TinyQueue<number> =>
    new TinyQueue<number>(list, (a, b) => readyAt[a]! - readyAt[b]! || longestFirst(a, b))
  let later = laterOf([])
  const free = Array.from({ length: people }, () => 0)
  const standing = Array.from<string | null>({ length: people }).fill(null)
  const placed: Omit<ScheduledStep, 'critical'>[] = []
  for (;;) {
    const freeAt = Math.min(...free)
    const person = free.indexOf(freeAt)
    for (let n = later.peek(); n !== undefined && readyAt[n]! <= freeAt; n = later.peek())
      put(later.pop()!)
    const n = take(standing[person]!, freeAt) ?? later.pop()
    if (n === undefined) break
    const next = steps[n]!
    const travelSeconds = travel(standing[person]!, next.locationId)
    if (next.locationId !== null) standing[person] = next.locationId
    const startSeconds = Math.max(free[person]! + travelSeconds, readyAt[n]!)
    const handsFreeSeconds = startSeconds + next.workSeconds
    const endSeconds = handsFreeSeconds + next.waitSeconds
    free[person] = handsFreeSeconds
    placed.push({
      stepId: next.id,
      person,
      travelSeconds,
      startSeconds,
      handsFreeSeconds,
      endSeconds,
    })
    for (const f of followersOf[n]!) {
      readyAt[f] = Math.max(readyAt[f]!, endSeconds)
      if (--waiting[f]! === 0) later.push(f)
    }
  }
  if (placed.length < steps.length) throw new Error('a step needs one that is not on the sheet')
  const criticalSeconds = Math.max(0, ...tail.values())
  const critical = new Set<string>()
  let at = steps.filter((s) => s.needs.length === 0 && tail.get(s.id) === criticalSeconds)[0]?.id
  while (at) {
    critical.add(at)
    const rest = tail.get(at)! - byId.get(at)!.workSeconds - byId.get(at)!.waitSeconds
    at = (followers.get(at) ?? []).find((f) => tail.get(f) === rest && rest > 0)
  }
  const cut = placed.filter((p) => byId.get(p.stepId)!.isOutage)
  return {
    outage:
      cut.length === 0
        ? null
        : {
            fromSeconds: Math.min(...cut.map((p) => p.startSeconds)),
            toSeconds: Math.max(...cut.map((p) => p.endSeconds)),
          },
    travelSeconds: placed.reduce((n, p) => n + p.travelSeconds, 0),
    steps: placed
      .map((p) => ({ ...p, critical: critical.has(p.stepId) }))
      .sort(
        (a, b) => a.startSeconds - b.startSeconds || order.get(a.stepId)! - order.get(b.stepId)!,
      ),
    totalSeconds: placed.reduce((n, p) => Math.max(n, p.endSeconds), 0),
    workSeconds: steps.reduce((n, s) => n + s.workSeconds, 0),
    criticalSeconds,
  }
}
