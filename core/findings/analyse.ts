/** Runs every rule over a plan. */
import { siteModel } from '../topology'
import type { SitePlan } from '../plan'
import type { Finding, Rule, Severity, Sheet } from './rule'
import accessVlanUnassignable from './rules/accessVlanUnassignable'
import addressInWrongPlace from './rules/addressInWrongPlace'
import duplicates from './rules/duplicates'
import guestIsolationAlone from './rules/guestIsolationAlone'
import lanOverlapsProvider from './rules/lanOverlapsProvider'
import missingTag from './rules/missingTag'
import poeBudget from './rules/poeBudget'
import poolCovers from './rules/poolCovers'
import publicSpace from './rules/publicSpace'
import restrictedReachesStaff from './rules/restrictedReachesStaff'
import subnetsOverlap from './rules/subnetsOverlap'

export const rules: readonly Rule[] = [
  duplicates, lanOverlapsProvider, subnetsOverlap, publicSpace, addressInWrongPlace, poolCovers, missingTag, accessVlanUnassignable, poeBudget,
  guestIsolationAlone, restrictedReachesStaff,
]

const weight: Record<Severity, number> = { blocker: 0, caution: 1, note: 2 }

/** Findings in the order in which a person should act: blockers first, then by the order of the rules. */
export function findingsOf(plan: SitePlan): Finding[] {
  const model = siteModel(plan)
  const found = rules.flatMap((rule) => [...rule.check(model)].map((body): Finding => ({
    ...body, id: `${rule.id}:${body.subjects.join(',')}`, ruleId: rule.id, severity: body.severity ?? rule.severity,
    catches: rule.catches, title: rule.title, sheet: rule.sheet,
  })))
  return found.map((f, i) => ({ f, i })).sort((a, b) => weight[a.f.severity] - weight[b.f.severity] || a.i - b.i).map(({ f }) => f)
}

export type SheetMark = { readonly blockers: number; readonly cautions: number }

export function marksOf(findings: readonly Finding[]): Record<Sheet, SheetMark> {
  const marks = {} as Record<Sheet, { blockers: number; cautions: number }>
  for (const sheet of ['survey', 'addresses', 'wiring', 'wifi', 'policy'] as const) marks[sheet] = { blockers: 0, cautions: 0 }
  for (const f of findings) {
    if (f.severity === 'blocker') marks[f.sheet].blockers++
    else if (f.severity === 'caution') marks[f.sheet].cautions++
  }
  return marks
}
