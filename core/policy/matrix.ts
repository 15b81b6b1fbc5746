/** Who reaches whom: the verdict of the compiled rules for every ordered pair of places and every service. */
import type { Place, Service, SitePlan } from '../plan'
import { compilePolicy, firstFor, NOTHING_FORWARDED, rulesBetween, type Rule } from './compile'

export interface CellService { readonly serviceId: string; readonly allowed: boolean; readonly ruleId: string }
export interface MatrixCell {
  readonly from: Place
  readonly to: Place
  readonly verdict: 'all' | 'some' | 'none'
  readonly services: readonly CellService[]
  /** Whether an intent speaks of the pair at all. */
  readonly stated: boolean
}
export interface Matrix { readonly places: readonly Place[]; readonly cells: readonly MatrixCell[]; cell(from: Place, to: Place): MatrixCell | undefined }

/** A service is allowed where all of its ports are. From the internet nothing can be addressed that leaves by translation, whatever the rules let in. */
export function decideService(plan: SitePlan, from: Place, to: Place, service: Service): { allowed: boolean; rule: Rule } {
  const rules = compilePolicy(plan)
  return decideAmong(rulesBetween(rules, from, to), from === 'internet' && rules.masquerade.includes(to), service)
}

function decideAmong(rules: readonly Rule[], isUnaddressable: boolean, { protocol, ports }: Service): { allowed: boolean; rule: Rule } {
  let decided: Rule | undefined
  for (const port of ports.length > 0 ? ports : [null]) {
    const rule = firstFor(rules, protocol, port)
    decided ??= rule
    if (rule.verdict === 'drop') return { allowed: false, rule }
  }
  return isUnaddressable ? { allowed: false, rule: NOTHING_FORWARDED } : { allowed: true, rule: decided! }
}

/** What a matrix depends on. */
interface Basis { readonly services: SitePlan['services']; readonly intents: SitePlan['intents']; readonly betweenSegments: string; readonly segments: string }
const basisOf = ({ services, intents, segments, site }: SitePlan): Basis =>
  ({ services, intents, betweenSegments: site.preferences.betweenSegments, segments: Object.values(segments).map((s) => `${s.id}:${s.vlanId}:${s.purpose}`).join() })
const cache = new WeakMap<SitePlan, Matrix>()
let last: { basis: Basis; matrix: Matrix } | undefined

/** The same object for the same plan, and for a plan that differs from the last only in what does not matter here. */
export function matrixOf(plan: SitePlan): Matrix {
  const known = cache.get(plan)
  if (known) return known
  const basis = basisOf(plan)
  const isSame = last?.basis.services === basis.services && last.basis.intents === basis.intents && last.basis.betweenSegments === basis.betweenSegments && last.basis.segments === basis.segments
  const matrix = isSame ? last!.matrix : build(plan)
  cache.set(plan, matrix)
  last = { basis, matrix }
  return matrix
}

function build(plan: SitePlan): Matrix {
  const rules = compilePolicy(plan)
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const places: Place[] = [...segments.map((s) => s.id), 'internet']
  const services = Object.values(plan.services)
  const stated = new Set(Object.values(plan.intents).map((i) => `${i.from}>${i.to}`))
  const byPair = new Map<string, MatrixCell>()
  const decide = (from: Place, to: Place): MatrixCell => {
    const between = rulesBetween(rules, from, to)
    const isUnaddressable = from === 'internet' && rules.masquerade.includes(to)
    const list = services.map((s): CellService => {
      const { allowed, rule } = decideAmong(between, isUnaddressable, s)
      return { serviceId: s.id, allowed, ruleId: rule.id }
    })
    const open = list.filter((s) => s.allowed).length
    const verdict = open === 0 ? 'none' : open === list.length ? 'all' : 'some'
    return { from, to, verdict, services: list, stated: stated.has(`${from}>${to}`) }
  }
  // Decided when asked for: a sheet shows a part of a large grid, and keeps nobody waiting for the rest.
  const known = new Set(places)
  const cell = (from: Place, to: Place): MatrixCell | undefined => {
    if (from === to || !known.has(from) || !known.has(to)) return undefined
    const key = `${from}>${to}`
    let found = byPair.get(key)
    if (!found) byPair.set(key, (found = decide(from, to)))
    return found
  }
  let all: MatrixCell[] | undefined
  return { places, cell, get cells() { return (all ??= places.flatMap((from) => places.flatMap((to) => cell(from, to) ?? []))) } }
}
