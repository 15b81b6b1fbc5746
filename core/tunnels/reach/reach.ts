/** What somebody at the other end of a tunnel reaches, and who reaches them: by the rules as they are exported. */
import { hasKnownAddress, own, piecesOf, type Place, type Service, type SitePlan } from '../../plan'
import { decideService, rulesBetween, compilePolicy, decideAmong } from '../../policy'

export interface Reached {
  readonly place: Place
  /** Ids of services that get there at all times. */
  readonly services: readonly string[]
  /** What of it is open at some hours only. */
  readonly atTimes: readonly string[]
}

function open(
  plan: SitePlan,
  from: Place,
  to: Place,
  services: readonly Service[],
): Reached | null {
  const rules = rulesBetween(compilePolicy(plan), from, to, 'ipv4')
  const each = services.map((s) => ({ id: s.id, fate: decideAmong(rules, s) }))
  const always = each.filter((e) => e.fate.allowed).map((e) => e.id)
  const atTimes = each.filter((e) => e.fate.hours !== null).map((e) => e.id)
  return always.length + atTimes.length > 0 ? { place: to, services: always, atTimes } : null
}

/** Devices that intents speak of: of them it may hold what holds not for their neighbours. */
const named = (plan: SitePlan, side: 'from' | 'to'): string[] => [
  ...new Set(
    Object.values(plan.intents)
      .flatMap((i) => piecesOf(plan, i[side]))
      .filter((id) => {
        const d = own(plan.devices, id)
        return d !== undefined && hasKnownAddress(d)
      }),
  ),
]

/** Segments, single devices that are reached by more than their segment, and the internet. */
export function reachedFrom(plan: SitePlan, from: Place): Reached[] {
  const services = Object.values(plan.services)
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const out = segments.flatMap((s) => open(plan, from, s.id, services) ?? [])
  const wide = new Map(out.map((r) => [r.place, r.services.length + r.atTimes.length]))
  const single = named(plan, 'to').flatMap((id) => {
    const found = open(plan, from, id, services)
    const home = own(plan.devices, id)!.addressing.segmentId!
    return found && found.services.length + found.atTimes.length > (wide.get(home) ?? 0)
      ? [found]
      : []
  })
  return [...out, ...single, ...[open(plan, from, 'internet', services) ?? []].flat()]
}

/** Segments, and single devices, from which something gets to a place in a tunnel. */
export function reaching(plan: SitePlan, to: Place): Place[] {
  const services = Object.values(plan.services)
  return [...Object.keys(plan.segments), ...named(plan, 'from')].filter((from) =>
    services.some((s) => {
      const fate = decideService(plan, from, to, s)
      return fate.allowed || fate.hours !== null
    }),
  )
}
