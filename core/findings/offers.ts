/**
 * What pressing a fix would do, found out by doing it: rules offer what usually mends, and only the
 * whole plan tells whether it does here, and what it brings.
 */
import { runEdits, type SitePlan } from '../plan'
import { findingsOf } from './analyse'
import type { Finding, Fix } from './rule'

export interface Offer extends Fix {
  /** Blockers that are not there before: what they say. */
  readonly brings: readonly string[]
}

/** Of a finding, of whatever kind, what it offers is all that is needed. */
type Offering = Pick<Finding, 'id' | 'fixes'>

/**
 * The fixes of a finding that can be done and take it away, those first that bring no new blocker.
 * @param plan the one that it was found in
 */
export function offersOf(plan: SitePlan, finding: Offering): Offer[] {
  const before = new Set(findingsOf(plan).map((f) => f.id))
  const offers = (finding.fixes ?? []).flatMap((fix): Offer[] => {
    const outcome = runEdits(plan, fix.label, fix.edits)
    if (!outcome.ok) return []
    const after = findingsOf(outcome.plan)
    if (after.some((f) => f.id === finding.id)) return []
    const brings = after
      .filter((f) => f.severity === 'blocker' && !before.has(f.id))
      .map((f) => f.text)
    return [{ ...fix, brings }]
  })
  // What was looked at last is at hand for the next look, which is at the plan itself.
  findingsOf({ ...plan })
  return offers.sort((a, b) => Math.sign(a.brings.length) - Math.sign(b.brings.length))
}
