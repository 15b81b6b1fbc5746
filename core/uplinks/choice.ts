/** By which lines something may leave, and in which order. */
import {
  ANYWHERE,
  holdsPort,
  inPlan,
  own,
  type LineChoice,
  type Service,
  type SitePlan,
  type Uplink,
} from '../plan'
import type { SiteModel } from '../topology'

type Asked = Pick<Service, 'protocol' | 'ports'>

/** Choices in the order in which they are asked; of one rank the first id. */
export const choicesInOrder = (plan: SitePlan): LineChoice[] =>
  Object.values(plan.lineChoices).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))

/** Lines of one rank share what leaves; the groups in the order in which they are used. */
export function groupsOf(lines: readonly Uplink[]): Uplink[][] {
  const groups: Uplink[][] = []
  for (const u of lines) {
    const last = groups.at(-1)
    if (last?.[0]!.rank === u.rank) last.push(u)
    else groups.push([u])
  }
  return groups
}

/** One port or span of a service stands for it where choices speak of some of its ports only. */
const speaksOf = (plan: SitePlan, c: LineChoice, asked: Asked): boolean => {
  if (c.service === 'any') return true
  const { protocol, ports } = inPlan(plan.services, c.service)
  const [first] = asked.ports
  const port = typeof first === 'object' ? first.first : first
  return (
    protocol === asked.protocol &&
    (ports.length === 0 || (port !== undefined && holdsPort(ports, port)))
  )
}

/** What decides by which lines somebody leaves; undefined where the site's own order does. */
export const choiceFor = (
  plan: SitePlan,
  segmentId: string | null,
  asked: Asked,
): LineChoice | undefined =>
  choicesInOrder(plan).find(
    (c) => (c.from === ANYWHERE || c.from === segmentId) && speaksOf(plan, c, asked),
  )

/**
 * Lines in sockets by which hosts of a segment may leave for a service, in groups of which the
 * first with a line that leads anywhere is used. The lines of a choice are used one after the other.
 * @param segmentId null for the gateway itself
 */
export function lineGroups(model: SiteModel, segmentId: string | null, asked: Asked): Uplink[][] {
  const c = segmentId === null ? undefined : choiceFor(model.plan, segmentId, asked)
  if (!c) return groupsOf(model.lines.filter((u) => u.portId !== null))
  return c.uplinkIds.flatMap((id) => {
    const u = own(model.plan.uplinks, id)
    return u && u.portId !== null ? [[u]] : []
  })
}

export interface Way {
  readonly line: Uplink
  /** Of what leaves; less than 1 where lines share it. */ readonly share: number
}

/** The lines that carry it while some are dead, each with its share; none where it cannot leave. */
export function waysOut(groups: readonly (readonly Uplink[])[], dead: ReadonlySet<string>): Way[] {
  for (const group of groups) {
    const alive = group.filter((u) => !dead.has(u.id))
    if (alive.length === 0) continue
    const all = alive.reduce((sum, u) => sum + u.weight, 0)
    return alive
      .map((line) => ({ line, share: all === 0 ? 1 / alive.length : line.weight / all }))
      .filter((w) => w.share > 0)
  }
  return []
}
