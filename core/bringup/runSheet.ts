/**
 * The run sheet of the day, made from the plan: what the disciplines have to do in each phase. Every
 * step names what must be done before.
 */
import { remembered } from '../remember'
import TinyQueue from 'tinyqueue'
import { disciplines } from '../disciplines'
import type { SiteModel } from '../topology'
import { Day, phases } from './day'
import type { Step } from './step'

/** The same list for the same model. */
export const runSheetOf = remembered((model: SiteModel): Step[] => inOrder(stepsOf(model)))

function stepsOf(model: SiteModel): Step[] {
  const day = new Day(model)
  if (day.gear.length === 0) return []
  const parts = disciplines.flatMap((d) => d.day ?? [])
  for (const phase of phases) for (const p of parts) if (p.phase === phase) day.run(p)
  return day.all
}

/**
 * Steps so that each stands after what it needs (Kahn 1962), otherwise in the order in which they
 * were written.
 */
export function inOrder(steps: readonly Step[]): Step[] {
  const at = new Map(steps.map((s, i) => [s.id, i]))
  const waiting = steps.map((s) => new Set(s.needs).size)
  const waitedForBy = new Map<string, number[]>()
  steps.forEach((s, i) => {
    for (const n of new Set(s.needs)) waitedForBy.set(n, [...(waitedForBy.get(n) ?? []), i])
  })
  const ready = new TinyQueue(waiting.flatMap((n, i) => (n === 0 ? [i] : [])))
  const out: Step[] = []
  for (let i = ready.pop(); i !== undefined; i = ready.pop()) {
    out.push(steps[i]!)
    for (const w of waitedForBy.get(steps[i]!.id) ?? []) if (--waiting[w]! === 0) ready.push(w)
  }
  if (out.length < steps.length) {
    const done = new Set(out)
    const left = steps.filter((s) => !done.has(s))
    const unknown = left.flatMap((s) => s.needs.filter((n) => !at.has(n)))
    throw new Error(
      unknown.length > 0
        ? `the run sheet needs steps that it has not: ${unknown.join(', ')}`
        : `the run sheet goes in a circle among ${left.map((s) => s.id).join(', ')}`,
    )
  }
  return out
}
