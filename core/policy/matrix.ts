/**
 * Who reaches whom: the verdict of the compiled rules for every ordered pair of places, every
 * service and both families.
 */
import { selected } from '../remember'
import {
  activeTunnels,
  inPlan,
  hasKnownAddress,
  MANAGED,
  own,
  peerSpace,
  piecesOf,
  placeCovers,
  PROVIDER_LAN,
  tunnelSpace,
  uplinksInOrder,
  weekWords,
  type Place,
  type Service,
  type SitePlan,
} from '../plan'
import { compilePolicy, pagesOf } from './compile'
import { decideAmong, rulesBetween, type Decision } from './decide'
import { families, type Family, type Forwarding, type RuleSet } from './rules'

interface Fate {
  /** At all times, and for all that a place consists of. */
  readonly allowed: boolean
  readonly ruleId: string
  /** When, or for whom, where it is neither allowed nor shut for all; in words. */
  readonly partly: string | null
}

export interface CellService extends Fate {
  readonly serviceId: string
  /** The same over IPv6; null where one of the places has none. */
  readonly ipv6: Fate | null
}
export interface MatrixCell {
  readonly from: Place
  readonly to: Place
  /** Over both families. */
  readonly verdict: 'all' | 'some' | 'none'
  readonly services: readonly CellService[]
  /** Whether an intent speaks of the pair at all. */
  readonly stated: boolean
  /** Ports of the line that lead from the internet to hosts of the place. */
  readonly forwards: readonly Forwarding[]
}
export interface Matrix {
  /** The rows: who asks. */ readonly sources: readonly Place[]
  /** The columns: who is asked. */ readonly places: readonly Place[]
  readonly cells: readonly MatrixCell[]
  cell(from: Place, to: Place): MatrixCell | undefined
}

/** A service is allowed where all of its ports are. */
export const decideService = (
  plan: SitePlan,
  from: Place,
  to: Place,
  service: Service,
  family: Family = 'ipv4',
): Decision => decideAmong(rulesBetween(compilePolicy(plan), from, to, family), service)

const isEver = (f: Fate | null): boolean => f !== null && (f.allowed || f.partly !== null)
/** Whether a service gets through by either family, at some time, for some. */
export const isOpen = (s: CellService): boolean => isEver(s) || isEver(s.ipv6)

/** What a pair may use, in words; where the families differ it says so. */
export function cellWords(plan: SitePlan, cell: MatrixCell): string {
  const led = cell.forwards.map(
    (f) =>
      `${f.name} by port ${f.outside.first}${f.outside.last > f.outside.first ? `-${f.outside.last}` : ''}`,
  )
  if (cell.verdict === 'all') return 'everything'
  return [serviceWords(plan, cell), ...led].filter(Boolean).join('; ') || 'nothing'
}

function serviceWords(plan: SitePlan, cell: MatrixCell): string {
  const name = (s: CellService): string => inPlan(plan.services, s.serviceId).name
  const differ = cell.services.filter((s) => s.ipv6 && s.ipv6.allowed !== s.allowed)
  const partly = cell.services.flatMap((s) => {
    const words = s.partly ?? s.ipv6?.partly
    return words ? [`${name(s)} ${words}`] : []
  })
  const only = (family: string, list: readonly CellService[]): string[] =>
    list.length === 0
      ? []
      : [
          `${list.length === cell.services.length ? 'everything' : list.map(name).join(', ')} over ${family} only`,
        ]
  const both = cell.services.filter((s) => s.allowed && !differ.includes(s)).map(name)
  return [
    ...(both.length > 0 ? [both.join(', ')] : []),
    ...partly,
    ...only(
      'IPv4',
      differ.filter((s) => s.allowed),
    ),
    ...only(
      'IPv6',
      differ.filter((s) => s.ipv6!.allowed),
    ),
  ].join('; ')
}

/**
 * Whether a place has addresses of a family, as far as is planned; of a line that nobody asked
 * about IPv6 it is taken for granted.
 */
export function hasFamily(plan: SitePlan, place: Place, family: Family): boolean {
  if (family === 'ipv4') return true
  if (place === PROVIDER_LAN) return false
  if (place === 'internet') {
    const lines = uplinksInOrder(plan)
    return lines.length === 0 || lines.some((u) => u.handOff.ipv6 !== 'none')
  }
  const segment = own(plan.segments, place)
  if (segment) return segment.subnet6 !== null
  const tunnel = own(plan.tunnels, place)
  if (tunnel) return tunnelSpace(plan, tunnel).some((t) => t.includes(':'))
  const peer = own(plan.peers, place)
  if (peer) return peerSpace(peer).some((t) => t.includes(':'))
  const homes =
    place === MANAGED
      ? Object.keys(plan.segments)
      : piecesOf(plan, place).map((p) => own(plan.devices, p)?.addressing.segmentId ?? p)
  return homes.some((id) => own(plan.segments, id)?.subnet6 != null)
}

/** What a matrix depends on. */
function partsOf(plan: SitePlan): readonly unknown[] {
  const lines = uplinksInOrder(plan).map(
    ({ handOff: h }) => `${h.providerLan}:${h.ipv6 === 'none'}`,
  )
  const segments = Object.values(plan.segments).map(
    (s) => `${s.id}:${s.vlanId}:${s.purpose}:${s.subnet}:${s.subnet6}`,
  )
  const hosts = [...namedDevices(plan), ...(speaksOf(plan, MANAGED) ? pagesOf(plan) : [])].map(
    (id) => {
      const d = inPlan(plan.devices, id)
      return `${id}:${d.addressing.segmentId}:${hasKnownAddress(d) ? d.addressing.address : ''}`
    },
  )
  const before = Object.values(plan.wirelessNetworks).flatMap((w) =>
    w.portal ? [w.segmentId, ...w.portal.before] : [],
  )
  return [
    plan.services,
    plan.intents,
    plan.groups,
    plan.forwards,
    plan.tunnels,
    plan.peers,
    plan.site.preferences.betweenSegments,
    hosts.join(),
    before.join(),
    lines.join(),
    segments.join(),
  ]
}

/**
 * The same object for the same plan, and for a plan that differs from the last only in what does
 * not matter here.
 */
export const matrixOf: (plan: SitePlan) => Matrix = selected(partsOf, (plan) => build(plan))

function build(plan: SitePlan): Matrix {
  const rules = compilePolicy(plan)
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  // The provider's own network is asked for seldom, and stands in the grid where an intent speaks
  // of it.
  const intents = Object.values(plan.intents)
  const named = (side: 'from' | 'to'): Place[] =>
    [
      ...new Set(
        intents
          .map((i) => i[side])
          .filter((p) => own(plan.devices, p) ?? own(plan.groups, p) ?? own(plan.peers, p)),
      ),
    ].sort(
      (a, b) => (own(plan.groups, a) ? 0 : 1) - (own(plan.groups, b) ? 0 : 1) || (a < b ? -1 : 1),
    )
  const plain: Place[] = [
    ...segments.map((s) => s.id),
    ...activeTunnels(plan)
      .filter((t) => t.kind !== 'provider')
      .map((t) => t.id),
    'internet',
  ]
  const sources = [...plain, ...named('from')]
  const places = [
    ...plain,
    ...named('to'),
    ...[MANAGED, PROVIDER_LAN].filter((p) => speaksOf(plan, p)),
  ]
  const services = Object.values(plan.services)
  const stated = new Set(intents.map((i) => `${i.from}>${i.to}`))
  const isPlain = new Set(plain)
  const wide = intents.filter((i) => !isPlain.has(i.from) || !isPlain.has(i.to))
  const isStated = (from: Place, to: Place): boolean =>
    stated.has(`${from}>${to}`) ||
    (isPlain.has(from) && isPlain.has(to) ? wide : intents).some(
      (i) => placeCovers(plan, i.from, from) && placeCovers(plan, i.to, to),
    )
  const byPair = new Map<string, MatrixCell | undefined>()
  const decide = (from: Place, to: Place): MatrixCell | undefined => {
    if (isSingle(from) && isSingle(to) && to !== MANAGED) return decideSingle(from, to)
    const pairs = pairsOf(plan, rules, from, to)
    // What stays in a segment passes no rule.
    if (pairs.length === 0) return undefined
    const [four, six] = families.map((f) =>
      hasFamily(plan, from, f) && hasFamily(plan, to, f)
        ? pairs
            .filter(([a, b]) => hasFamily(plan, a, f) && hasFamily(plan, b, f))
            .map(([a, b]) => rulesBetween(rules, a, b, f))
        : null,
    )
    return cellOf(
      from,
      to,
      services.map((s): CellService => ({
        serviceId: s.id,
        ...fateOf(four!.map((r) => decideAmong(r, s))),
        ipv6: six && six.length > 0 ? fateOf(six.map((r) => decideAmong(r, s))) : null,
      })),
    )
  }
  // Most pairs are of two segments.
  const isSingle = (place: Place): boolean => !Object.hasOwn(plan.groups, place)
  const decideSingle = (from: Place, to: Place): MatrixCell | undefined => {
    if (staysInside(plan, rules, from, to)) return undefined
    const four = rulesBetween(rules, from, to, 'ipv4')
    const six =
      hasFamily(plan, from, 'ipv6') && hasFamily(plan, to, 'ipv6')
        ? rulesBetween(rules, from, to, 'ipv6')
        : null
    return cellOf(
      from,
      to,
      services.map((s): CellService => {
        const { allowed, ruleId, partly } = fateOfOne(decideAmong(four, s))
        return {
          serviceId: s.id,
          allowed,
          ruleId,
          partly,
          ipv6: six && fateOfOne(decideAmong(six, s)),
        }
      }),
    )
  }
  const cellOf = (from: Place, to: Place, list: CellService[]): MatrixCell => {
    const forwards =
      from === 'internet' ? rules.forwards.filter((f) => placeCovers(plan, to, f.deviceId)) : []
    const isAll = list.length > 0 && list.every((s) => s.allowed && (s.ipv6?.allowed ?? true))
    const verdict = isAll ? 'all' : list.some(isOpen) || forwards.length > 0 ? 'some' : 'none'
    return {
      from,
      to,
      verdict,
      services: list,
      stated: isStated(from, to) || forwards.length > 0,
      forwards,
    }
  }
  // Decided when asked for: a sheet shows a part of a large grid, and keeps nobody waiting for the
  // rest.
  const known = new Set<Place>([...sources, ...places, MANAGED, PROVIDER_LAN])
  const cell = (from: Place, to: Place): MatrixCell | undefined => {
    // From there nothing is stated: what comes in by the line is the internet's matter.
    if (
      from === to ||
      from === PROVIDER_LAN ||
      from === MANAGED ||
      !known.has(from) ||
      !known.has(to)
    )
      return undefined
    const key = `${from}>${to}`
    let found = byPair.get(key)
    if (!found && !byPair.has(key)) byPair.set(key, (found = decide(from, to)))
    return found
  }
  let all: MatrixCell[] | undefined
  return {
    sources,
    places,
    cell,
    get cells() {
      return (all ??= sources.flatMap((from) => places.flatMap((to) => cell(from, to) ?? [])))
    },
  }
}

const fateOfOne = ({ allowed, rule, hours }: Decision): Fate => ({
  allowed,
  ruleId: rule.id,
  partly: hours && weekWords(hours),
})

/** The fate of several together: of one thing all at once, of several each on its own. */
function fateOf(all: readonly Decision[]): Fate {
  // Of a group in which nobody is meant, or of places that no rule lies between.
  if (all.length === 0) return { allowed: false, ruleId: '', partly: null }
  const shut = all.find((d) => !d.allowed)
  if (!shut) return { allowed: true, ruleId: all[0]!.rule.id, partly: null }
  const timed = all.find((d) => d.hours !== null)
  return {
    allowed: false,
    ruleId: shut.rule.id,
    partly: timed
      ? weekWords(timed.hours!)
      : all.some((d) => d.allowed)
        ? 'for some of them'
        : null,
  }
}

/**
 * The pairs of single places that a pair stands for; what stays in a segment is nobody's to decide.
 */
function pairsOf(plan: SitePlan, rules: RuleSet, from: Place, to: Place): [Place, Place][] {
  const parts = (place: Place): Place[] =>
    own(plan.groups, place) ? piecesOf(plan, place) : [place]
  const targets = to === MANAGED ? [MANAGED, ...pagesOf(plan)] : parts(to)
  return parts(from).flatMap((a) =>
    targets.filter((b) => !staysInside(plan, rules, a, b)).map((b): [Place, Place] => [a, b]),
  )
}

/** What goes from one to another in a segment passes no rule; in a tunnel it comes by the gateway. */
const staysInside = (plan: SitePlan, rules: RuleSet, from: Place, to: Place): boolean => {
  const zone = rules.zoneOf(from)
  return zone === rules.zoneOf(to) && own(plan.tunnels, zone) === undefined
}

const speaksOf = (plan: SitePlan, place: Place): boolean =>
  Object.values(plan.intents).some((i) => i.to === place)

/** Devices that an intent, a group or a port forward names. */
function namedDevices(plan: SitePlan): string[] {
  const ids = new Set([
    ...Object.values(plan.intents).flatMap((i) => [i.from, i.to]),
    ...Object.values(plan.groups).flatMap((g) => g.memberIds),
    ...Object.values(plan.forwards).map((f) => f.deviceId),
    ...Object.values(plan.tunnels).map((t) => t.hostDeviceId),
  ])
  return [...ids].filter((id) => Object.hasOwn(plan.devices, id))
}
