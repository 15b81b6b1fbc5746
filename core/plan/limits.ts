/**
 * How large a plan may grow. Beyond any site that one gateway pair serves, below what analysis and
 * browsers would choke on; what is stored already is read whatever its size.
 */
import type { PlanProblem } from './references'
import { collections, kindOf, type Collection, type SitePlan } from './schema'

/** VLANs on ports, tagged, in all. */
export const MOST_TAGS = 400_000

/** What of a plan is larger than it may be; of these collections alone where they are given. */
export function sizeProblems(
  plan: SitePlan,
  which: readonly Collection[] = collections,
): PlanProblem[] {
  const problems: PlanProblem[] = which.flatMap((c) => {
    const { most, plural } = kindOf(c)
    const count = Object.keys(plan[c]).length
    return count > most
      ? [
          {
            path: [c],
            reason:
              `a plan has at most ${most.toLocaleString('en-GB')} ${plural}; this would ` +
              `be ${count.toLocaleString('en-GB')}. Divide it into several sites`,
          },
        ]
      : []
  })
  if (which.includes('ports') && problems.length === 0) {
    let tags = 0
    for (const p of Object.values(plan.ports)) tags += p.taggedSegmentIds.length
    if (tags > MOST_TAGS)
      problems.push({
        path: ['ports'],
        reason:
          `a plan has at most ${MOST_TAGS.toLocaleString('en-GB')} tags on its ports; this ` +
          `would be ${tags.toLocaleString('en-GB')}. Divide it into several sites`,
      })
  }
  return problems
}
