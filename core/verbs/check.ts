/** Findings of a plan. */
import { findingsOf } from '../findings'
import { defineVerb } from './verb'

export const check = defineVerb({
  name: 'check',
  usage: 'FILE [--json]',
  about: 'findings of a plan',
  run(plan) {
    const findings = findingsOf(plan)
    const count = (severity: string): number =>
      findings.filter((f) => f.severity === severity).length
    const summary = { blockers: count('blocker'), cautions: count('caution'), notes: count('note') }
    const lines = findings.map((f) =>
      [
        `${f.severity} ${f.catches.join(' ')} ${f.text}`,
        ...(f.numbers ?? []).map((n) => `    ${n.label}: ${n.value}${n.how ? ` (${n.how})` : ''}`),
        ...(f.fixes ?? []).map((x) => `    fix: ${x.label}`),
      ].join('\n'),
    )
    return {
      status: summary.blockers > 0 ? 1 : 0,
      text: [
        ...lines,
        `${summary.blockers} blockers, ${summary.cautions} cautions, ${summary.notes} notes`,
      ].join('\n'),
      json: { ok: true, site: plan.site.name, summary, findings },
    }
  },
})
