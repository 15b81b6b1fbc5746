/** Runs every rule over a plan. */
import { siteModel, type SiteModel } from '../topology'
import type { SitePlan } from '../plan'
import { planSheetIds, type PlanSheetId, type SheetCount } from '../sheets'
import type { Finding, Rule, Severity } from './rule'
import { disciplines } from '../disciplines'
import { selected } from '../remember'

export const rules: readonly Rule[] = disciplines.flatMap((d) => d.rules ?? [])

const weight: Record<Severity, number> = { blocker: 0, caution: 1, note: 2 }

/** Nobody reads more of one kind, and working out the fix of each takes its time. */
export const MOST_OF_A_RULE = 100

/** What each rule finds; the same as before where the parts that it reads are. */
const lookers = rules.map((rule) =>
  selected(
    (model: SiteModel) => [
      ...rule.reads.map((part) => model.plan[part]),
      // Who is the root of the spanning tree decides where every VLAN goes.
      model.plan.site.preferences.spanningTreeRootId,
      // Of several gateways, which one it is.
      model.gateway?.id,
    ],
    (model) => foundBy(rule, model),
  ),
)

function foundBy(rule: Rule, model: SiteModel): readonly Finding[] {
  const found: Finding[] = []
  for (const body of rule.check(model)) {
    const of = { ruleId: rule.id, catches: rule.catches, title: rule.title, sheet: rule.sheet }
    if (found.length === MOST_OF_A_RULE) {
      found.push({
        ...of,
        id: `${rule.id}:more`,
        severity: rule.severity,
        subjects: body.subjects,
        text: `There are more than ${MOST_OF_A_RULE} remarks of this kind.`,
        why: 'The others are looked for when these are mended.',
      })
      break
    }
    const { key = [...body.subjects].sort().join(','), ...rest } = body
    found.push({
      ...of,
      ...rest,
      title: rest.title ?? rule.title,
      catches: rest.catches ?? rule.catches,
      id: `${rule.id}:${key}`,
      severity: body.severity ?? rule.severity,
    })
  }
  return found
}

/**
 * Findings in the order in which a person should act: blockers first, then by the order of the
 * rules. Rules look again only at what changed since the last plan.
 */
export function findingsOf(plan: SitePlan): Finding[] {
  const model = siteModel(plan)
  const found = lookers.flatMap((look) => look(model))
  return found
    .map((f, i) => ({ f, i }))
    .sort((a, b) => weight[a.f.severity] - weight[b.f.severity] || a.i - b.i)
    .map(({ f }) => f)
}

export function marksOf(findings: readonly Finding[]): Record<PlanSheetId, SheetCount> {
  const marks = Object.fromEntries(
    planSheetIds.map((id) => [id, { blockers: 0, cautions: 0 }]),
  ) as Record<PlanSheetId, { blockers: number; cautions: number }>
  for (const f of findings) {
    if (f.severity === 'blocker') marks[f.sheet].blockers++
    else if (f.severity === 'caution') marks[f.sheet].cautions++
  }
  return marks
}
