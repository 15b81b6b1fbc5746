/** When each step can start: hands work on one thing at a time, waits pass by themselves. List scheduling by the longest remaining path. */
import TinyQueue from 'tinyqueue'
import type { Step } from './runSheet'

export interface ScheduledStep {
  readonly stepId: string
  /** Person, from 0. */
  readonly person: number
  /** All in s from the start of the day. */
  readonly startSeconds: number
  readonly handsFreeSeconds: number
  readonly endSeconds: number
  /** Whether a delay of it delays the whole. */
  readonly critical: boolean
}
export interface Schedule { readonly steps: readonly ScheduledStep[]; readonly totalSeconds: number; readonly workSeconds: number; readonly criticalSeconds: number }

const made = new WeakMap<readonly Step[], Map<number, Schedule>>()

/** The same schedule for the same list and number of people. */
export function scheduleOf(steps: readonly Step[], people = 1): Schedule {
  const known = made.get(steps) ?? new Map<number, Schedule>()
  made.set(steps, known)
  let schedule = known.get(people)
  if (!schedule) known.set(people, (schedule = layOut(steps, people)))
  return schedule
}

function layOut(steps: readonly Step[], people: number): Schedule {
  const byId = new Map(steps.map((s) => [s.id, s]))
  const order = new Map(steps.map((s, i) => [s.id, i]))
  const followers = new Map<string, string[]>()
  for (const s of steps) for (const n of s.needs) { const list = followers.get(n); if (list) list.push(s.id); else followers.set(n, [s.id]) }
  const tail = new Map<string, number>()
  const tailOf = (id: string): number => {
    const known = tail.get(id)
    if (known !== undefined) return known
    const s = byId.get(id)!
    const value = s.workSeconds + s.waitSeconds + Math.max(0, ...(followers.get(id) ?? []).map(tailOf))
    tail.set(id, value)
    return value
  }
  for (const s of steps) tailOf(s.id)

  // By number rather than by id: a day of a thousand steps is laid out while somebody waits for the sheet.
  const followersOf = steps.map((s) => [...new Set(followers.get(s.id) ?? [])].map((id) => order.get(id)!))
  const tails = Float64Array.from(steps, (s) => tail.get(s.id)!)
  const waiting = Int32Array.from(steps, (s) => new Set(s.needs).size)
  /** When what a step needs is over, s; complete once nothing of it is waited for. */
  const readyAt = new Float64Array(steps.length)
  const longestFirst = (a: number, b: number): number => tails[b]! - tails[a]! || a - b
  const begin = steps.flatMap((s, n) => (s.needs.length === 0 ? [n] : []))
  /** What can start when hands are next free, and what is still waited for; hands are never free earlier than the last time. */
  const now = new TinyQueue(begin, longestFirst)
  const later = new TinyQueue<number>([], (a, b) => readyAt[a]! - readyAt[b]! || longestFirst(a, b))
  const free = Array.from({ length: people }, () => 0)
  const placed: Omit<ScheduledStep, 'critical'>[] = []
  for (;;) {
    const freeAt = Math.min(...free)
    const person = free.indexOf(freeAt)
    for (let n = later.peek(); n !== undefined && readyAt[n]! <= freeAt; n = later.peek()) now.push(later.pop()!)
    const n = now.pop() ?? later.pop()
    if (n === undefined) break
    const next = steps[n]!
    const startSeconds = Math.max(free[person]!, readyAt[n]!)
    const handsFreeSeconds = startSeconds + next.workSeconds
    const endSeconds = handsFreeSeconds + next.waitSeconds
    free[person] = handsFreeSeconds
    placed.push({ stepId: next.id, person, startSeconds, handsFreeSeconds, endSeconds })
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
  return {
    steps: placed.map((p) => ({ ...p, critical: critical.has(p.stepId) })),
    totalSeconds: placed.reduce((n, p) => Math.max(n, p.endSeconds), 0), workSeconds: steps.reduce((n, s) => n + s.workSeconds, 0), criticalSeconds,
  }
}

export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60)
  if (seconds < 60) return `${Math.round(seconds)} s`
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}
