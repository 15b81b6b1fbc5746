/** Who reaches whom: the verdict of the compiled rules for every ordered pair of places and every service. */
import type { Place, Service, SitePlan } from '../plan'
import { compilePolicy, decide, type Rule } from './compile'

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

/** A service is allowed where all of its ports are. */
export function decideService(plan: SitePlan, from: Place, to: Place, service: Service): { allowed: boolean; rule: Rule } {
  const rules = compilePolicy(plan)
  const ports = service.ports.length > 0 ? service.ports : [null]
  let decided: Rule | undefined
  for (const port of ports) {
    const rule = decide(rules, { chain: 'forward', from, to, protocol: service.protocol, port })
    decided ??= rule
    if (rule.verdict === 'drop') return { allowed: false, rule }
  }
  return { allowed: true, rule: decided! }
}

export function matrixOf(plan: SitePlan): Matrix {
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const places: Place[] = [...segments.map((s) => s.id), 'internet']
  const services = Object.values(plan.services)
  const stated = new Set(Object.values(plan.intents).map((i) => `${i.from}>${i.to}`))
  const byPair = new Map<string, MatrixCell>()
  for (const from of places)
    for (const to of places) {
      if (from === to) continue
      const list = services.map((s): CellService => {
        const { allowed, rule } = decideService(plan, from, to, s)
        return { serviceId: s.id, allowed, ruleId: rule.id }
      })
      const open = list.filter((s) => s.allowed).length
      const verdict = open === 0 ? 'none' : open === list.length ? 'all' : 'some'
      byPair.set(`${from}>${to}`, { from, to, verdict, services: list, stated: stated.has(`${from}>${to}`) })
    }
  return { places, cells: [...byPair.values()], cell: (from, to) => byPair.get(`${from}>${to}`) }
}
