/** Lines whose way to the gateway leads over a bridge, and what carries on while it is down. */
import type { Uplink } from '../plan'
import type { SiteModel } from '../topology'
import { cablePath } from '../topology/needs'
import type { Reckoned } from './reckoned'

export interface LineOver {
  readonly line: Uplink
  /** Minutes a year that it is missed for the bridge alone. */
  readonly minutes: number
  /** The next in order that does not lead over the bridge. */
  readonly standby: Uplink | null
}

export function linesOver(model: SiteModel, r: Reckoned): LineOver[] {
  const ends = new Set([r.budget.facts.a.device.id, r.budget.facts.b.device.id])
  const isOver = (line: Uplink): boolean => {
    const at = line.portId ? model.plan.ports[line.portId]?.deviceId : undefined
    if (!at) return false
    const on = (cablePath(model, at) ?? []).flat().map((p) => p.deviceId)
    return [...ends].every((id) => on.includes(id))
  }
  const minutes = Math.max(r.timesToB[0]?.belowMinutes ?? 0, r.timesToA[0]?.belowMinutes ?? 0)
  return model.lines.filter(isOver).map((line) => ({
    line,
    minutes,
    standby: model.lines.find((l) => l.portId !== null && !isOver(l)) ?? null,
  }))
}
