/**
 * The rule that decides a new connection: the ordered rules as they are exported, asked for one
 * flow.
 */
import { remembered } from '../remember'
import {
  holdsPort,
  isInWeek,
  joined,
  MANAGED,
  tellingMinutes,
  tellingPorts,
  WEEK_MINUTES,
  weekSpans,
  type Hours,
  type Place,
  type PortSpan,
  type WeekSpan,
} from '../plan'
import {
  families,
  type AddressList,
  type Family,
  type Protocol,
  type Rule,
  type RuleSet,
  type Zone,
} from './rules'

interface Placed {
  readonly rule: Rule
  readonly at: number
}
const listed = (zones: readonly Zone[] | 'any', zone: Zone): boolean =>
  zones === 'any' || zones.includes(zone)
const holds = (list: AddressList | null, place: Place, family: Family): boolean =>
  list === null || list.holds(place, family)
const isOfPair = (r: Rule): boolean =>
  r.chain === 'forward' &&
  r.from !== 'any' &&
  r.to !== 'any' &&
  r.from.length === 1 &&
  r.to.length === 1

/**
 * Rules for new connections that can match a pair of places at all, in order: most speak of one
 * pair, so that a list for each pair is short.
 */
class PairIndex {
  private readonly byPair = new Map<string, Rule[]>()
  private readonly single = new Map<string, Placed[]>()
  /** Rules of several pairs, by chain and family, in order. */
  private readonly wide: Record<Rule['chain'], Record<Family, Placed[]>> = {
    input: { ipv4: [], ipv6: [] },
    forward: { ipv4: [], ipv6: [] },
  }

  constructor(private readonly set: RuleSet) {
    for (const [at, rule] of set.rules.entries()) {
      // No flow that is asked about here went through a port forward: those are told by the
      // forwards themselves.
      if (rule.forwarded === 'only' || (rule.states.length > 0 && !rule.states.includes('new')))
        continue
      if (!isOfPair(rule)) {
        for (const f of families)
          if (rule.family === 'any' || rule.family === f)
            this.wide[rule.chain][f].push({ rule, at })
        continue
      }
      const key = `${rule.from[0]}>${rule.to[0]}`
      const list = this.single.get(key)
      if (list) list.push({ rule, at })
      else this.single.set(key, [{ rule, at }])
    }
  }

  of(chain: Rule['chain'], from: Place, to: Place, family: Family): readonly Rule[] {
    const key = chain === 'input' ? `${family}>${from}` : `${family}${from}>${to}`
    let list = this.byPair.get(key)
    if (!list) this.byPair.set(key, (list = this.pick(chain, from, to, family)))
    return list
  }

  private pick(chain: Rule['chain'], from: Place, to: Place, family: Family): Rule[] {
    const [fromZone, toZone] = [this.set.zoneOf(from), this.set.zoneOf(to)]
    const single = (chain === 'forward' && this.single.get(`${fromZone}>${toZone}`)) || []
    const wide = this.wide[chain][family]
    const out: Rule[] = []
    // Both are in order.
    for (let i = 0, j = 0; i < single.length || j < wide.length;) {
      const { rule: r } =
        j === wide.length || (i < single.length && single[i]!.at < wide[j]!.at)
          ? single[i++]!
          : wide[j++]!
      if (
        (r.family === 'any' || r.family === family) &&
        listed(r.from, fromZone) &&
        holds(r.sources, from, family) &&
        (chain === 'input' || (listed(r.to, toZone) && holds(r.destinations, to, family)))
      )
        out.push(r)
    }
    return out
  }
}

const indexOf = remembered((rules: RuleSet) => new PairIndex(rules))

/**
 * The rules that new connections between two places can meet, in order; of the managed devices
 * those for the gateway itself.
 */
export const rulesBetween = (
  rules: RuleSet,
  from: Place,
  to: Place,
  family: Family,
): readonly Rule[] => indexOf(rules).of(to === MANAGED ? 'input' : 'forward', from, to, family)

/**
 * The first of some rules that matches a protocol and port. Every rule set ends with a rule that
 * matches all, so there always is one.
 * @param minute of the week; hours are left out of account where it is null
 */
function firstFor(
  rules: readonly Rule[],
  protocol: Protocol,
  port: number | null,
  minute: number | null = null,
): Rule {
  for (const r of rules)
    if (
      (r.protocol === 'any' ||
        (r.protocol === protocol &&
          (r.ports.length === 0 || (port !== null && holdsPort(r.ports, port))))) &&
      (r.hours === null || minute === null || isInWeek(weekSpans(r.hours), minute))
    )
      return r
  throw new Error('a rule set must end with a rule that matches everything')
}

/**
 * The ports of a service that stand for all of them among some rules; null alone for what has none.
 */
function portsToAsk(
  rules: readonly Rule[],
  ports: readonly PortSpan[],
): readonly (number | null)[] {
  if (ports.length === 0) return NO_PORT
  return ports.every((p) => typeof p === 'number')
    ? ports
    : tellingPorts(
        ports,
        rules.map((r) => r.ports),
      )
}
const NO_PORT: readonly null[] = [null]

export interface Decision {
  /** At all times. */
  readonly allowed: boolean
  /** What lets it through, or keeps it out. */
  readonly rule: Rule
  /** When it is let through where that is neither always nor never. */
  readonly hours: readonly WeekSpan[] | null
}

const hoursAmong = remembered((rules: readonly Rule[]): readonly Hours[] =>
  rules.flatMap((r) => r.hours ?? []),
)

/**
 * The fate of a service among the rules of a pair: allowed where all of its ports are, at all
 * times.
 */
export function decideAmong(
  rules: readonly Rule[],
  service: { readonly protocol: Protocol; readonly ports: readonly PortSpan[] },
): Decision {
  const hours = hoursAmong(rules)
  if (hours.length === 0) return atOnce(rules, service, null)
  const minutes = tellingMinutes(hours)
  const each = minutes.map((m) => atOnce(rules, service, m))
  const shut = each.find((d) => !d.allowed)
  const open = each.find((d) => d.allowed)
  if (!shut || !open) return each[0]!
  const spans = minutes.flatMap((first, i) =>
    each[i]!.allowed ? [{ first, end: minutes[i + 1] ?? WEEK_MINUTES }] : [],
  )
  return { allowed: false, rule: shut.rule, hours: joined(spans) }
}

/** The same at one minute of the week. */
export function atOnce(
  rules: readonly Rule[],
  { protocol, ports }: { readonly protocol: Protocol; readonly ports: readonly PortSpan[] },
  minute: number | null,
): Decision {
  let decided: Rule | undefined
  for (const port of portsToAsk(rules, ports)) {
    const rule = firstFor(rules, protocol, port, minute)
    decided ??= rule
    if (rule.verdict === 'drop') return { allowed: false, rule, hours: null }
  }
  return { allowed: true, rule: decided!, hours: null }
}
