/** Who reaches whom: the verdict of the compiled rules for every ordered pair of places, every service and both families. */
import { PROVIDER_LAN, uplinksInOrder, type Place, type Service, type SitePlan } from '../plan'
import { compilePolicy } from './compile'
import { firstFor, portsToAsk, rulesBetween } from './decide'
import { families, type Family, type Rule } from './rules'

export interface CellService {
  readonly serviceId: string
  readonly allowed: boolean
  readonly ruleId: string
  /** The same over IPv6; null where one of the places has none. */
  readonly ipv6: { readonly allowed: boolean; readonly ruleId: string } | null
}
export interface MatrixCell {
  readonly from: Place
  readonly to: Place
  /** Over both families. */
  readonly verdict: 'all' | 'some' | 'none'
  readonly services: readonly CellService[]
  /** Whether an intent speaks of the pair at all. */
  readonly stated: boolean
}
export interface Matrix { /** The rows: who asks. */ readonly sources: readonly Place[]; /** The columns: who is asked. */ readonly places: readonly Place[]; readonly cells: readonly MatrixCell[]; cell(from: Place, to: Place): MatrixCell | undefined }

export interface Decision { readonly allowed: boolean; readonly rule: Rule }

/** A service is allowed where all of its ports are. */
export const decideService = (plan: SitePlan, from: Place, to: Place, service: Service, family: Family = 'ipv4'): Decision => decideAmong(rulesBetween(compilePolicy(plan), from, to, family), service)

function decideAmong(rules: readonly Rule[], { protocol, ports }: Service): Decision {
  let decided: Rule | undefined
  for (const port of portsToAsk(rules, ports)) {
    const rule = firstFor(rules, protocol, port)
    decided ??= rule
    if (rule.verdict === 'drop') return { allowed: false, rule }
  }
  return { allowed: true, rule: decided! }
}

/** Whether a service gets through by either family. */
export const isOpen = (s: CellService): boolean => s.allowed || (s.ipv6?.allowed ?? false)

/** What a pair may use, in words; where the families differ it says so. */
export function cellWords(plan: SitePlan, cell: MatrixCell): string {
  if (cell.verdict !== 'some') return cell.verdict === 'all' ? 'everything' : 'nothing'
  const name = (s: CellService): string => plan.services[s.serviceId]!.name
  const differ = cell.services.filter((s) => s.ipv6 && s.ipv6.allowed !== s.allowed)
  const only = (family: string, list: readonly CellService[]): string[] =>
    list.length === 0 ? [] : [`${list.length === cell.services.length ? 'everything' : list.map(name).join(', ')} over ${family} only`]
  const both = cell.services.filter((s) => s.allowed && !differ.includes(s)).map(name)
  return [...(both.length > 0 ? [both.join(', ')] : []), ...only('IPv4', differ.filter((s) => s.allowed)), ...only('IPv6', differ.filter((s) => !s.allowed))].join('; ')
}

/** Whether a place has addresses of a family, as far as is planned; of a line that nobody asked about IPv6 it is taken for granted. */
export function hasFamily(plan: SitePlan, place: Place, family: Family): boolean {
  if (family === 'ipv4') return true
  if (place === PROVIDER_LAN) return false
  return place === 'internet' ? uplinksInOrder(plan)[0]?.handOff.ipv6 !== 'none' : plan.segments[place]!.subnet6 !== null
}

/** What a matrix depends on. */
interface Basis { readonly services: SitePlan['services']; readonly intents: SitePlan['intents']; readonly rest: string }
const basisOf = (plan: SitePlan): Basis => {
  const handOff = uplinksInOrder(plan)[0]?.handOff
  const segments = Object.values(plan.segments).map((s) => `${s.id}:${s.vlanId}:${s.purpose}:${s.subnet}:${s.subnet6}`)
  return { services: plan.services, intents: plan.intents, rest: `${plan.site.preferences.betweenSegments}|${handOff?.providerLan}|${handOff?.ipv6 === 'none'}|${segments.join()}` }
}
const cache = new WeakMap<SitePlan, Matrix>()
let last: { basis: Basis; matrix: Matrix } | undefined

/** The same object for the same plan, and for a plan that differs from the last only in what does not matter here. */
export function matrixOf(plan: SitePlan): Matrix {
  const known = cache.get(plan)
  if (known) return known
  const basis = basisOf(plan)
  const isSame = last?.basis.services === basis.services && last.basis.intents === basis.intents && last.basis.rest === basis.rest
  const matrix = isSame ? last!.matrix : build(plan)
  cache.set(plan, matrix)
  last = { basis, matrix }
  return matrix
}

function build(plan: SitePlan): Matrix {
  const rules = compilePolicy(plan)
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  // The provider's own network is asked for seldom, and stands in the grid where an intent speaks of it.
  const places: Place[] = [...segments.map((s) => s.id), 'internet', ...(Object.values(plan.intents).some((i) => i.to === PROVIDER_LAN) ? [PROVIDER_LAN] : [])]
  const services = Object.values(plan.services)
  const stated = new Set(Object.values(plan.intents).map((i) => `${i.from}>${i.to}`))
  const byPair = new Map<string, MatrixCell>()
  const decide = (from: Place, to: Place): MatrixCell => {
    const [between, between6] = families.map((f) => (hasFamily(plan, from, f) && hasFamily(plan, to, f) ? rulesBetween(rules, from, to, f) : null))
    const list = services.map((s): CellService => {
      const { allowed, rule } = decideAmong(between!, s)
      const six = between6 ? decideAmong(between6, s) : null
      return { serviceId: s.id, allowed, ruleId: rule.id, ipv6: six && { allowed: six.allowed, ruleId: six.rule.id } }
    })
    const verdicts = list.flatMap((s) => (s.ipv6 ? [s.allowed, s.ipv6.allowed] : [s.allowed]))
    const open = verdicts.filter(Boolean).length
    const verdict = open === 0 ? 'none' : open === verdicts.length ? 'all' : 'some'
    return { from, to, verdict, services: list, stated: stated.has(`${from}>${to}`) }
  }
  // Decided when asked for: a sheet shows a part of a large grid, and keeps nobody waiting for the rest.
  const known = new Set([...places, PROVIDER_LAN])
  const cell = (from: Place, to: Place): MatrixCell | undefined => {
    // From there nothing is stated: what comes in by the line is the internet's matter.
    if (from === to || from === PROVIDER_LAN || !known.has(from) || !known.has(to)) return undefined
    const key = `${from}>${to}`
    let found = byPair.get(key)
    if (!found) byPair.set(key, (found = decide(from, to)))
    return found
  }
  let all: MatrixCell[] | undefined
  const sources = places.filter((p) => p !== PROVIDER_LAN)
  return { sources, places, cell, get cells() { return (all ??= sources.flatMap((from) => places.flatMap((to) => cell(from, to) ?? []))) } }
}
