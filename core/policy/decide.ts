/** The rule that decides a new connection: the ordered rules as they are exported, asked for one flow. */
import { holdsPort, tellingPorts, type Place, type PortSpan } from '../plan'
import { families, zoneOf, type AddressList, type Family, type Protocol, type Rule, type RuleSet, type Zone } from './rules'

export interface Flow {
  readonly chain: Rule['chain']
  readonly from: Place
  /** Ignored for traffic to the gateway itself. */
  readonly to: Place | 'gateway'
  readonly family: Family
  readonly protocol: Protocol
  readonly port: number | null
}

interface Placed { readonly rule: Rule; readonly at: number }
const listed = (zones: readonly Zone[] | 'any', zone: Zone): boolean => zones === 'any' || zones.includes(zone)
const holds = (list: AddressList | null, place: Place, family: Family): boolean => list === null || list.holds(place, family)
const isOfPair = (r: Rule): boolean => r.chain === 'forward' && r.from !== 'any' && r.to !== 'any' && r.from.length === 1 && r.to.length === 1

/** Rules for new connections that can match a pair of places at all, in order: most speak of one pair, so that a list for each pair is short. */
class PairIndex {
  private readonly byPair = new Map<string, Rule[]>()
  private readonly single = new Map<string, Placed[]>()
  /** Rules of several pairs, by chain and family, in order. */
  private readonly wide: Record<Rule['chain'], Record<Family, Placed[]>> = { input: { ipv4: [], ipv6: [] }, forward: { ipv4: [], ipv6: [] } }

  constructor(rules: readonly Rule[]) {
    for (const [at, rule] of rules.entries()) {
      if (rule.states.length > 0 && !rule.states.includes('new')) continue
      if (!isOfPair(rule)) { for (const f of families) if (rule.family === 'any' || rule.family === f) this.wide[rule.chain][f].push({ rule, at }); continue }
      const key = `${rule.from[0]}>${rule.to[0]}`
      const list = this.single.get(key)
      if (list) list.push({ rule, at })
      else this.single.set(key, [{ rule, at }])
    }
  }
  of(chain: Rule['chain'], from: Place, to: Place | 'gateway', family: Family): readonly Rule[] {
    const key = chain === 'input' ? `${family}>${from}` : `${family}${from}>${to}`
    let list = this.byPair.get(key)
    if (!list) this.byPair.set(key, (list = this.pick(chain, from, to, family)))
    return list
  }
  private pick(chain: Rule['chain'], from: Place, to: Place | 'gateway', family: Family): Rule[] {
    const [fromZone, toZone] = [zoneOf(from), zoneOf(to)]
    const single = (chain === 'forward' && this.single.get(`${fromZone}>${toZone}`)) || []
    const wide = this.wide[chain][family]
    const out: Rule[] = []
    // Both are in order.
    for (let i = 0, j = 0; i < single.length || j < wide.length;) {
      const { rule: r } = j === wide.length || (i < single.length && single[i]!.at < wide[j]!.at) ? single[i++]! : wide[j++]!
      if ((r.family === 'any' || r.family === family) && listed(r.from, fromZone) && holds(r.sources, from, family) && (chain === 'input' || (listed(r.to, toZone) && holds(r.destinations, to, family)))) out.push(r)
    }
    return out
  }
}
const indexes = new WeakMap<RuleSet, PairIndex>()

function indexOf(rules: RuleSet): PairIndex {
  let index = indexes.get(rules)
  if (!index) indexes.set(rules, (index = new PairIndex(rules.rules)))
  return index
}

/** The rules that new connections between two places can meet, in order. */
export const rulesBetween = (rules: RuleSet, from: Place, to: Place, family: Family): readonly Rule[] => indexOf(rules).of('forward', from, to, family)

/** The first of some rules that matches a protocol and port. Every rule set ends with a rule that matches all, so there always is one. */
export function firstFor(rules: readonly Rule[], protocol: Protocol, port: number | null): Rule {
  for (const r of rules) if (r.protocol === 'any' || (r.protocol === protocol && (r.ports.length === 0 || (port !== null && holdsPort(r.ports, port))))) return r
  throw new Error('a rule set must end with a rule that matches everything')
}

/** The ports of a service that stand for all of them among some rules; null alone for what has none. */
export function portsToAsk(rules: readonly Rule[], ports: readonly PortSpan[]): readonly (number | null)[] {
  if (ports.length === 0) return NO_PORT
  return ports.every((p) => typeof p === 'number') ? ports : tellingPorts(ports, rules.map((r) => r.ports))
}
const NO_PORT: readonly null[] = [null]

/** The rule that decides a new connection. */
export const decide = (rules: RuleSet, flow: Flow): Rule => firstFor(indexOf(rules).of(flow.chain, flow.from, flow.to, flow.family), flow.protocol, flow.port)
