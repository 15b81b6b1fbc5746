/**
 * What is to be said of the work in the field: the same remarks as of the plan, out of facts
 * instead.
 */
import { runSheetOf } from '../bringup'
import { disciplines } from '../disciplines'
import type { Severity } from '../findings'
import type { SiteModel } from '../topology'
import type { FieldFacts } from './facts'
import type { FieldFinding, FieldRule } from './fieldRule'

export const fieldRules: readonly FieldRule[] = disciplines.flatMap((d) => d.fieldRules ?? [])

const weight: Record<Severity, number> = { blocker: 0, caution: 1, note: 2 }

export function fieldFindingsOf(model: SiteModel, facts: FieldFacts): FieldFinding[] {
  const sheet = runSheetOf(model)
  return fieldRules
    .flatMap((rule) =>
      [...rule.check(model, facts, sheet)].map((body): FieldFinding => ({
        ...body,
        id: `${rule.id}:${body.subjects.join(',')}`,
        ruleId: rule.id,
        severity: body.severity ?? rule.severity,
        catches: rule.catches,
        title: rule.title,
        sheet: rule.sheet,
      })),
    )
    .sort((a, b) => weight[a.severity] - weight[b.severity])
}
