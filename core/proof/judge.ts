/**
 * Compares what was observed with what was planned. A blocked test counts only where the asking
 * host could ask at all, and where its target was shown to answer somebody.
 */
import type { Observation } from '@mast/protocol'
import { containsAddress, parseAddress, parsePrefix } from '../addressing'
import type { AdoptionState } from '../adoption'
import { isInWeek, weekMinuteAt } from '../plan'
import type { ProofTest } from './proofTest'

export interface ProofResult {
  readonly test: ProofTest
  readonly verdict: 'as-planned' | 'contradicts' | 'untested'
  /** What was seen, in words. */
  readonly observed: string
  readonly observation: Observation | null
}

const words: Record<Observation['outcome'], string> = {
  works: 'works',
  'no-answer': 'no answer',
  refused: 'refused',
  'no-lease': 'no lease',
  'no-address': 'could not ask: no address',
  'no-name': 'no name found',
  off: 'could not ask: switched off',
  'too-big': 'too large for the way',
  'too-weak': 'too weak',
  'not-held': 'let through before the page was passed',
  'other-session': 'let through for another time',
  'no-handshake': 'no handshake',
  elsewhere: 'comes out elsewhere',
}

export function judge(
  tests: readonly ProofTest[],
  observations: readonly Observation[],
  states: Readonly<Record<string, AdoptionState>>,
): ProofResult[] {
  const byId = new Map(observations.map((o) => [o.id, o]))
  const first = tests.map((planned): ProofResult => {
    const test = atItsTime(planned, byId.get(planned.probe?.id ?? ''))
    if (test.kind === 'service') {
      const state = states[test.from] ?? 'planned'
      return {
        test,
        verdict: state === 'in-service' ? 'as-planned' : 'contradicts',
        observed: state.replace('-', ' '),
        observation: null,
      }
    }
    if (test.kind === 'nobody')
      return { test, verdict: 'untested', observed: 'nobody there to ask', observation: null }
    const observation = byId.get(test.probe!.id) ?? null
    if (!observation) return { test, verdict: 'untested', observed: 'not tried', observation }
    return { test, observation, ...verdictOf(test, observation) }
  })
  const results = new Map(first.map((r) => [r.test.id, r]))
  return first.map((r) =>
    r.verdict === 'as-planned' && r.test.expected === 'blocked'
      ? withControl(r, r.test.controlId === null ? undefined : results.get(r.test.controlId))
      : r,
  )
}

/**
 * What is expected of a connection with hours, at the time at which it was tried by the clocks of
 * the site.
 */
function atItsTime(test: ProofTest, o: Observation | undefined): ProofTest {
  // Proofs of an earlier version know no hours.
  const hours = (test as Partial<ProofTest>).hours ?? null
  if (!hours || !o) return test
  return {
    ...test,
    expected:
      o.epochSeconds != null &&
      isInWeek(hours.spans, weekMinuteAt(hours.timeZone, new Date(o.epochSeconds * 1000)))
        ? 'works'
        : 'blocked',
  }
}

/** Silence proves nothing of a target that nobody hears. */
function withControl(r: ProofResult, control: ProofResult | undefined): ProofResult {
  if (control?.verdict === 'as-planned') return r
  const why = !control
    ? 'nothing shows that it would answer'
    : control.verdict === 'untested'
      ? `not shown to answer: '${control.test.title}' was not tried`
      : `its target answers nobody: '${control.test.title}' fails`
  return { ...r, verdict: 'untested', observed: `${r.observed}, but ${why}` }
}

function verdictOf(test: ProofTest, o: Observation): Pick<ProofResult, 'verdict' | 'observed'> {
  if (test.expected === 'blocked') {
    if (o.outcome === 'works')
      return { verdict: 'contradicts', observed: `works, and must not: ${o.detail}` }
    // A host without an address proves nothing about the rules.
    if (o.outcome === 'no-address' || o.outcome === 'no-lease' || o.outcome === 'off')
      return { verdict: 'untested', observed: words[o.outcome] }
    return { verdict: 'as-planned', observed: o.outcome === 'refused' ? 'refused' : 'blocked' }
  }
  if (o.outcome === 'off') return { verdict: 'untested', observed: words[o.outcome] }
  if (o.outcome === 'too-weak' || o.outcome === 'other-session')
    return { verdict: 'contradicts', observed: o.detail }
  if (o.outcome !== 'works') return { verdict: 'contradicts', observed: words[o.outcome] }
  if (test.kind === 'lease') {
    const got = o.address ? parseAddress(o.address) : undefined
    const subnet = test.subnet ? parsePrefix(test.subnet) : undefined
    if (!got || !subnet || !containsAddress(subnet, got))
      return {
        verdict: 'contradicts',
        observed: `${o.address ?? 'nothing'}, outside ${test.subnet ?? 'any subnet'}`,
      }
    // Observations of an earlier version say nothing of it.
    const others = test.server
      ? ((o as Partial<Observation>).servers ?? []).filter((s) => s !== test.server)
      : []
    if (others.length > 0)
      return {
        verdict: 'contradicts',
        observed: `${others.join(', ')} ${others.length === 1 ? 'hands' : 'hand'} out leases too`,
      }
    if (test.address && o.address !== test.address)
      return {
        verdict: 'contradicts',
        observed: `${o.address} instead of the reserved ${test.address}`,
      }
    return { verdict: 'as-planned', observed: o.address! }
  }
  return { verdict: 'as-planned', observed: 'works' }
}

export interface ProofCount {
  readonly asPlanned: number
  readonly contradicts: number
  readonly untested: number
  readonly proven: boolean
}
export function countOf(results: readonly ProofResult[]): ProofCount {
  const n = (v: ProofResult['verdict']): number => results.filter((r) => r.verdict === v).length
  return {
    asPlanned: n('as-planned'),
    contradicts: n('contradicts'),
    untested: n('untested'),
    proven: results.length > 0 && n('as-planned') === results.length,
  }
}
