/**
 * Which line a connection takes, as a number that a router writes on it when it begins: each stands
 * for an order of lines, and whoever bears it goes by the first of them that leads anywhere.
 */
import { inPlan, type LineChoice, type SitePlan, type Uplink } from '../plan'
import { choicesInOrder, groupsOf } from './choice'

export interface MarkedOrder {
  readonly mark: number
  /** Ids of lines; empty where nothing may leave. */
  readonly lineIds: readonly string[]
}
export interface LineMarks {
  /** Every order that something bears. */
  readonly orders: readonly MarkedOrder[]
  /** What began at a line is answered by that line and no other. */
  readonly ofLine: ReadonlyMap<string, number>
  readonly ofChoices: readonly { readonly choice: LineChoice; readonly mark: number }[]
  /** What no choice speaks of: one order, or several that take turns by weight. */
  readonly usual: readonly { readonly mark: number; readonly weight: number }[]
}

/** @param lines those in sockets, in their order */
export function marksOf(plan: SitePlan, lines: readonly Uplink[]): LineMarks {
  const byKey = new Map<string, MarkedOrder>()
  const markOf = (lineIds: readonly string[]): number => {
    const key = lineIds.join(' ')
    const known = byKey.get(key)
    if (known) return known.mark
    const order = { mark: byKey.size + 1, lineIds }
    byKey.set(key, order)
    return order.mark
  }
  const [first = [], ...others] = groupsOf(lines)
  const rest = others.flat().map((u) => u.id)
  const sharing = first.filter((u) => u.weight > 0)
  const usual = (sharing.length > 0 ? sharing : first).map((u) => ({
    mark: markOf([u.id, ...first.filter((o) => o !== u).map((o) => o.id), ...rest]),
    weight: sharing.length > 0 ? u.weight : 1,
  }))
  const ofChoices = choicesInOrder(plan).map((choice) => ({
    choice,
    mark: markOf(choice.uplinkIds.filter((id) => inPlan(plan.uplinks, id).portId !== null)),
  }))
  const ofLine = new Map(lines.map((u) => [u.id, markOf([u.id])]))
  return { orders: [...byKey.values()], ofLine, ofChoices, usual }
}
