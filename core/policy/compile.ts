/**
 * Intents become the ordered rules of a stateful gateway: the first rule that matches a new connection decides, replies follow the
 * state of their connection. What no intent speaks of falls to the site's default; nothing comes in from the internet by default.
 */
import type { Intent, Place, Segment, SitePlan } from '../plan'

export type Zone = Place
export type Protocol = 'tcp' | 'udp' | 'icmp'

export interface Rule {
  readonly id: string
  /** `input` is traffic to the gateway itself, `forward` traffic through it. */
  readonly chain: 'input' | 'forward'
  readonly from: readonly Zone[] | 'any'
  readonly to: readonly Zone[] | 'any'
  readonly protocol: Protocol | 'any'
  /** Destination ports; empty is all of them. */
  readonly ports: readonly number[]
  readonly state: 'established' | 'invalid' | 'new'
  readonly verdict: 'accept' | 'drop'
  readonly intentId: string | null
  /** Why the rule stands here, in words. */
  readonly text: string
}

export interface RuleSet {
  readonly rules: readonly Rule[]
  /** Segments whose connections to the internet leave with the gateway's own address. */
  readonly masquerade: readonly string[]
}

/** Segments from which the pages of gateway, switches and access points may be opened. */
export const mayAdminister = (s: Segment): boolean => s.purpose === 'management'

/** Stands for the lack of a forward where a connection from the internet has no address to go to. Not a rule of any gateway. */
export const NOTHING_FORWARDED: Rule = {
  id: 'no-forward', chain: 'forward', from: ['internet'], to: 'any', protocol: 'any', ports: [], state: 'new', verdict: 'drop', intentId: null,
  text: 'private addresses cannot be reached from the internet; nothing forwards to them',
}

const cache = new WeakMap<SitePlan, RuleSet>()
export function compilePolicy(plan: SitePlan): RuleSet {
  let rules = cache.get(plan)
  if (!rules) cache.set(plan, (rules = compile(plan)))
  return rules
}

function compile(plan: SitePlan): RuleSet {
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const all = segments.map((s) => s.id)
  const administrators = segments.filter(mayAdminister).map((s) => s.id)
  const rules: Rule[] = []
  const add = (rule: Partial<Rule> & Pick<Rule, 'id' | 'chain' | 'verdict' | 'text'>): void =>
    void rules.push({ from: 'any', to: 'any', protocol: 'any', ports: [], state: 'new', intentId: null, ...rule })

  for (const chain of ['input', 'forward'] as const) {
    add({ id: `${chain}-established`, chain, state: 'established', verdict: 'accept', text: 'replies follow their connection' })
    add({ id: `${chain}-invalid`, chain, state: 'invalid', verdict: 'drop', text: 'belongs to no connection' })
  }
  if (all.length > 0) {
    add({ id: 'input-dhcp', chain: 'input', from: all, protocol: 'udp', ports: [67], verdict: 'accept', text: 'every segment may ask for a lease' })
    add({ id: 'input-names', chain: 'input', from: all, protocol: 'udp', ports: [53], verdict: 'accept', text: 'every segment may ask for names' })
    add({ id: 'input-ping', chain: 'input', from: all, protocol: 'icmp', verdict: 'accept', text: 'every segment may ping its gateway' })
  }
  if (administrators.length > 0)
    add({ id: 'input-pages', chain: 'input', from: administrators, protocol: 'tcp', ports: [22, 443], verdict: 'accept', text: 'only management opens device pages' })
  add({ id: 'input-rest', chain: 'input', verdict: 'drop', text: 'nothing else reaches the gateway itself' })

  const intents = Object.values(plan.intents).sort(byRank)
  for (const intent of intents) {
    const service = intent.service === 'any' ? undefined : plan.services[intent.service]
    add({
      id: `forward-${intent.id}`, chain: 'forward', from: [intent.from], to: [intent.to], intentId: intent.id,
      protocol: service?.protocol ?? 'any', ports: service?.ports ?? [],
      verdict: intent.action === 'allow' ? 'accept' : 'drop', text: intent.reason || sentence(plan, intent),
    })
  }
  if (plan.site.preferences.betweenSegments === 'allow' && all.length > 0)
    add({ id: 'forward-open', chain: 'forward', from: all, verdict: 'accept', text: 'the site leaves open what no intent denies' })
  add({ id: 'forward-rest', chain: 'forward', verdict: 'drop', text: 'what no intent allows is dropped' })
  return { rules, masquerade: all }
}

const byRank = (a: Intent, b: Intent): number => a.rank - b.rank || (a.id < b.id ? -1 : 1)

export function placeName(plan: SitePlan, place: Place): string {
  return place === 'internet' ? 'the internet' : plan.segments[place]?.name ?? place
}

function sentence(plan: SitePlan, intent: Intent): string {
  const what = intent.service === 'any' ? 'everything' : plan.services[intent.service]!.name
  return `${placeName(plan, intent.from)} ${intent.action === 'allow' ? 'may use' : 'may not use'} ${what} ${intent.to === 'internet' ? 'on' : 'in'} ${placeName(plan, intent.to)}`
}

export interface Flow {
  readonly chain: 'input' | 'forward'
  readonly from: Zone
  /** Ignored for traffic to the gateway itself. */
  readonly to: Zone | 'gateway'
  readonly protocol: Protocol
  readonly port: number | null
}

/** Rules for new connections that can match a pair of zones at all, in order: most speak of one pair, so that a list for each pair is short. */
class PairIndex {
  private readonly byPair = new Map<string, Rule[]>()
  constructor(private readonly rules: readonly Rule[]) {}
  of(chain: Rule['chain'], from: string, to: string): readonly Rule[] {
    const key = chain === 'input' ? `>${from}` : `${from}>${to}`
    let list = this.byPair.get(key)
    if (!list) this.byPair.set(key, (list = this.pick(chain, from, to)))
    return list
  }
  private readonly single = new Map<string, { rule: Rule; at: number }[]>()
  private readonly wide: { rule: Rule; at: number }[] = []
  private isSplit = false
  private split(): void {
    this.isSplit = true
    for (const [at, rule] of this.rules.entries()) {
      if (rule.state !== 'new') continue
      if (rule.chain === 'forward' && rule.from !== 'any' && rule.to !== 'any' && rule.from.length === 1 && rule.to.length === 1) {
        const key = `${rule.from[0]}>${rule.to[0]}`
        const list = this.single.get(key)
        if (list) list.push({ rule, at })
        else this.single.set(key, [{ rule, at }])
      } else this.wide.push({ rule, at })
    }
  }
  private pick(chain: Rule['chain'], from: string, to: string): Rule[] {
    if (!this.isSplit) this.split()
    const listed = (zones: readonly Zone[] | 'any', zone: string): boolean => zones === 'any' || (zones as readonly string[]).includes(zone)
    const wide = this.wide.filter(({ rule: r }) => r.chain === chain && listed(r.from, from) && (chain === 'input' || listed(r.to, to)))
    return [...(chain === 'forward' ? this.single.get(`${from}>${to}`) ?? [] : []), ...wide].sort((a, b) => a.at - b.at).map(({ rule }) => rule)
  }
}
const indexes = new WeakMap<RuleSet, PairIndex>()

function indexOf(rules: RuleSet): PairIndex {
  let index = indexes.get(rules)
  if (!index) indexes.set(rules, (index = new PairIndex(rules.rules)))
  return index
}

/** The rules that new connections between two zones can meet, in order. */
export const rulesBetween = (rules: RuleSet, from: Zone, to: Zone): readonly Rule[] => indexOf(rules).of('forward', from, to)

/** The first of some rules that matches a protocol and port. Every rule set ends with a rule that matches all, so there always is one. */
export function firstFor(rules: readonly Rule[], protocol: Protocol, port: number | null): Rule {
  for (const r of rules) if (r.protocol === 'any' || (r.protocol === protocol && (r.ports.length === 0 || (port !== null && r.ports.includes(port))))) return r
  throw new Error('a rule set must end with a rule that matches everything')
}

/** The rule that decides a new connection. */
export const decide = (rules: RuleSet, flow: Flow): Rule => firstFor(indexOf(rules).of(flow.chain, flow.from, flow.to), flow.protocol, flow.port)
