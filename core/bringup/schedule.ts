/** When each step can start: hands work on one thing at a time, waits pass by themselves. List scheduling by the longest remaining path. */
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

export function scheduleOf(steps: readonly Step[], people = 1): Schedule {
  const byId = new Map(steps.map((s) => [s.id, s]))
  const followers = new Map<string, string[]>()
  for (const s of steps) for (const n of s.needs) followers.set(n, [...(followers.get(n) ?? []), s.id])
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

  const ends = new Map<string, number>()
  const free = Array.from({ length: people }, () => 0)
  const left = new Set(steps.map((s) => s.id))
  const placed: Omit<ScheduledStep, 'critical'>[] = []
  while (left.size > 0) {
    const person = free.indexOf(Math.min(...free))
    const candidates = [...left].map((id) => byId.get(id)!).filter((s) => s.needs.every((n) => ends.has(n)))
    const startOf = (s: Step): number => Math.max(free[person]!, ...s.needs.map((n) => ends.get(n)!))
    const next = candidates.sort((a, b) => startOf(a) - startOf(b) || tail.get(b.id)! - tail.get(a.id)!)[0]
    if (!next) throw new Error('a step needs one that is not on the sheet')
    const startSeconds = startOf(next)
    const handsFreeSeconds = startSeconds + next.workSeconds
    ends.set(next.id, handsFreeSeconds + next.waitSeconds)
    free[person] = handsFreeSeconds
    left.delete(next.id)
    placed.push({ stepId: next.id, person, startSeconds, handsFreeSeconds, endSeconds: handsFreeSeconds + next.waitSeconds })
  }
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
    totalSeconds: Math.max(0, ...placed.map((p) => p.endSeconds)), workSeconds: steps.reduce((n, s) => n + s.workSeconds, 0), criticalSeconds,
  }
}

export function formatDuration(seconds: number): string {
  const minutes = Math.round(seconds / 60)
  if (seconds < 60) return `${Math.round(seconds)} s`
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}
