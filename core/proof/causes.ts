/**
 * C-80: results that contradict the plan, and their most likely causes in the order in which to
 * check.
 */
import { disciplines } from '../disciplines'
import type { SiteModel } from '../topology'
import { ids, type Cause, type SiteFacts } from './cause'
import type { ProofResult } from './judge'

const finders = disciplines.flatMap((d) => d.causes ?? []).sort((a, b) => a.turn - b.turn)

export function causesOf(
  model: SiteModel,
  results: readonly ProofResult[],
  facts: SiteFacts,
): Cause[] {
  const wrong = results.filter((r) => r.verdict !== 'as-planned')
  if (wrong.length === 0) return []
  const found = finders.flatMap((f) => f.find({ model, results, wrong, facts }))
  const explained = new Set(found.flatMap((c) => c.explains))
  const rest = wrong.filter((r) => r.verdict === 'contradicts' && !explained.has(r.test.id))
  if (rest.length > 0) found.push(rulesDiffer(rest))
  return firstCauses(found.filter((c) => c.explains.length > 0))
}

/** What may just as well follow from something else: a switch that waits carries no tags. */
const CONSEQUENCES: ReadonlySet<string> = new Set(['device-missing', 'host-off', 'missing-tag'])

/** Each that may follow from an earlier one, which explains all that it explains, is told with it. */
function firstCauses(found: readonly Cause[]): Cause[] {
  const out: Cause[] = []
  for (const c of found) {
    const first = CONSEQUENCES.has(c.kind)
      ? out.findIndex((e) => c.explains.every((id) => e.explains.includes(id)))
      : -1
    if (first === -1) out.push(c)
    else
      out[first] = {
        ...out[first]!,
        evidence: [...out[first]!.evidence, `with it: ${c.text.replace(/\.$/, '')}`],
      }
  }
  return out
}

/** What nothing else explains: the gateway decides otherwise than the plan. */
function rulesDiffer(rest: readonly ProofResult[]): Cause {
  const open = rest.filter((r) => r.test.expected === 'blocked').length
  return {
    kind: 'rules',
    text:
      open > 0
        ? `${open} ${open === 1 ? 'connection that must not work works' : 'connections that must not work work'}: ` +
          'the gateway does not run the rules of this plan.'
        : 'The hosts have their addresses, but connections between them fail.',
    evidence: rest.slice(0, 4).map((r) => `${r.test.title}: ${r.observed}`),
    checks: [
      'Compare wanted and running configuration of the gateway in Adopt.',
      'Look for a firewall on the asked host itself.',
      'Trace the pair in Policy and read the rule that decides.',
    ],
    explains: ids(rest),
    subjects: [],
  }
}
