/** What Wiring says of a link through the air. */
import type { Link } from '../../plan'
import type { SiteModel } from '../../topology'
import { throughputOf } from '../budget/rates'
import { isReckoned, reckonedBridges } from '../reckoned'

/** Undefined of a cable, and of a path of which nothing is said. */
export function airWords(model: SiteModel, link: Link | undefined): string | undefined {
  if (link?.medium !== 'radio') return undefined
  const bridge = Object.values(model.plan.bridges).find((b) => b.linkId === link.id)
  const r = bridge && reckonedBridges(model).get(bridge.id)
  if (!r || !isReckoned(r)) return 'through the air'
  const mbps = Math.min(r.budget.toB.step?.mbps ?? 0, r.budget.toA.step?.mbps ?? 0)
  const { aloneMbps, bothMbps } = throughputOf(r.budget.facts.a.unit, mbps, r.socketMbps)
  return `through the air, ${Math.round(aloneMbps)} Mbit/s, ${Math.round(bothMbps)} each when both are busy`
}
