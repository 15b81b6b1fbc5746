import { applyRawEdit } from './edits'
import type { EditOutcome, PlanPatch, RawEdit } from './edit'
import type { SitePlan } from './schema'

/** Several edits as one: all of them, or none where one is refused. */
export function runEdits(plan: SitePlan, summary: string, calls: readonly RawEdit[]): EditOutcome {
  const patches: PlanPatch[] = []
  const inverse: PlanPatch[] = []
  let next = plan
  for (const call of calls) {
    const outcome = applyRawEdit(next, call)
    if (!outcome.ok) return outcome
    next = outcome.plan
    patches.push(...outcome.patches)
    inverse.unshift(...outcome.inverse)
  }
  return { ok: true, plan: next, patches, inverse, summary }
}
