/** What a bridge has to carry, from what hangs behind it. */
import type { Bridge } from '../plan'
import type { SiteModel } from '../topology'
import { deviceAt } from './facts'

export interface Carried {
  /** Towards B and towards A, Mbit/s. */
  readonly toB: number
  readonly toA: number
  readonly how: string
}
/** Of one host by the purpose of its segment, Mbit/s to it and from it (common practice). */
const needs: Readonly<Record<string, readonly [to: number, from: number]>> = {
  cameras: [0.2, 8],
  voice: [0.1, 0.1],
  payments: [0.5, 0.5],
  instruments: [0.1, 0.2],
}
const OTHER: readonly [number, number] = [10, 2]

/** All devices on the far side of a bridge, as seen from the gateway. */
function behind(model: SiteModel, from: string, without: string): Set<string> {
  const seen = new Set([from])
  const queue = [from]
  while (queue.length > 0)
    for (const port of model.portsOf(queue.pop()!)) {
      const link = model.linkAt(port.id)
      if (!link || link.id === without) continue
      const peer = model.port(link.a === port.id ? link.b : link.a).deviceId
      if (seen.has(peer)) continue
      seen.add(peer)
      queue.push(peer)
    }
  return seen
}

/** As said; else the sum of the hosts behind the end that is away from the gateway, and of lines there. */
export function carriedBy(model: SiteModel, bridge: Bridge): Carried {
  if (bridge.wantedMbps)
    return { toB: bridge.wantedMbps.toB, toA: bridge.wantedMbps.toA, how: 'as said' }
  const [a, b] = [deviceAt(model, bridge, 'a'), deviceAt(model, bridge, 'b')]
  const sideB = behind(model, b.id, bridge.linkId)
  const isBFar = !model.gateway || !sideB.has(model.gateway.id)
  const far = isBFar ? sideB : behind(model, a.id, bridge.linkId)
  let [to, from] = [0, 0]
  let hosts = 0
  for (const id of far) {
    if (model.profileOf(id).kind !== 'host') continue
    const segment = model.plan.segments[model.device(id).addressing.segmentId ?? '']
    const [t, f] = needs[segment?.purpose ?? ''] ?? OTHER
    to += t
    from += f
    hosts++
  }
  for (const line of model.lines) {
    const at = line.portId ? model.plan.ports[line.portId]?.deviceId : undefined
    if (!at || !far.has(at)) continue
    to += line.handOff.upMbps ?? 0
    from += line.handOff.downMbps ?? 0
  }
  const how = `${hosts} ${hosts === 1 ? 'host' : 'hosts'} behind it, by what each usually needs (common practice)`
  return isBFar ? { toB: to, toA: from, how } : { toB: from, toA: to, how }
}
