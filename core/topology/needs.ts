/**
 * Where each segment is needed, whether it gets there, and at which port it stops where it does
 * not.
 */
import { remembered } from '../remember'
import type { Port } from '../plan'
import { carriageOf, formInside, formOut, type Arrival, type Form } from './carriage'
import type { SiteModel } from './siteModel'
import { spanningTreeOf } from './spanningTree'

export interface Need {
  readonly segmentId: string
  readonly deviceId: string
  readonly why: 'host' | 'device page' | 'wireless network'
  /** The wireless network that needs it there. */
  readonly wirelessNetworkId?: string
}

/** The first place on the way from the gateway where a segment stops. */
export interface Break {
  /** Port that neither sends nor takes the segment in the right form. */
  readonly portId: string
  readonly kind:
    | 'not sent'
    | 'not received'
    | 'arrives tagged at a host'
    | 'lost in a switch without VLANs'
    | 'no cable'
    | 'wrong VLAN'
  /** Managed ports between the gateway and the need that have to carry it untagged and do not. */
  readonly untaggedPorts: readonly string[]
  /** Those that have to carry it with a tag and do not. */
  readonly missingTagPorts: readonly string[]
}

export interface NeedOutcome {
  readonly need: Need
  readonly arrival: Arrival | undefined
  readonly break: Break | undefined
}

export function needsOf(model: SiteModel): Need[] {
  const needs: Need[] = []
  for (const d of model.devices) {
    const kind = model.profileOf(d.id).kind
    const segmentId = d.addressing.segmentId
    if (segmentId && kind !== 'gateway' && d.wirelessNetworkId === null)
      needs.push({
        segmentId,
        deviceId: d.id,
        why: kind === 'host' || kind === 'controller' ? 'host' : 'device page',
      })
  }
  for (const w of Object.values(model.plan.wirelessNetworks))
    for (const id of w.accessPointIds)
      needs.push({
        segmentId: w.segmentId,
        deviceId: id,
        why: 'wireless network',
        wirelessNetworkId: w.id,
      })
  return needs
}

export function outcomeOf(model: SiteModel, need: Need): NeedOutcome {
  const vlan = model.segment(need.segmentId).vlanId
  const wanted: Form = model.profileOf(need.deviceId).vlan === 'managed' ? vlan : 'untagged'
  const arrival = carriageOf(model, need.segmentId)
    .at(need.deviceId)
    .find((a) => a.inside === wanted)
  return { need, arrival, break: arrival ? undefined : breakOf(model, need) }
}

/**
 * How each device is reached from the gateway by the fewest hops: the last cable of the way, and
 * how many there are.
 */
interface Ways {
  readonly came: ReadonlyMap<string, readonly [Port, Port]>
  readonly depth: ReadonlyMap<string, number>
}
const ways = remembered((model: SiteModel): Ways => {
  const came = new Map<string, readonly [Port, Port]>()
  const depth = new Map<string, number>()
  const { blocked } = spanningTreeOf(model)
  const queue: string[] = []
  if (model.gateway) {
    depth.set(model.gateway.id, 0)
    queue.push(model.gateway.id)
  }
  for (let i = 0; i < queue.length; i++) {
    const at = queue[i]!
    for (const port of model.portsOf(at)) {
      const peer = model.peerOf(port.id)
      if (!peer || depth.has(peer.deviceId) || blocked.has(port.id) || blocked.has(peer.id))
        continue
      depth.set(peer.deviceId, depth.get(at)! + 1)
      came.set(peer.deviceId, [port, peer])
      queue.push(peer.deviceId)
    }
  }
  return { came, depth }
})

/**
 * The cables from the gateway to a device by the fewest hops, as pairs of ports (leaving,
 * entering).
 */
export function cablePath(model: SiteModel, deviceId: string): [Port, Port][] | undefined {
  const { came, depth } = ways(model)
  if (!depth.has(deviceId)) return undefined
  const path: [Port, Port][] = []
  for (let step = came.get(deviceId); step; step = came.get(step[0].deviceId))
    path.unshift([step[0], step[1]])
  return path
}

/** Cables between the gateway and a device; Infinity where there is no way. */
export const cableDepth = (model: SiteModel, deviceId: string): number =>
  ways(model).depth.get(deviceId) ?? Infinity

function breakOf(model: SiteModel, need: Need): Break {
  const path = cablePath(model, need.deviceId)
  const vlan = model.segment(need.segmentId).vlanId
  const firstPort = model.portsOf(need.deviceId)[0]!.id
  if (!path || path.length === 0)
    return { portId: firstPort, kind: 'no cable', untaggedPorts: [], missingTagPorts: [] }
  const managed = (p: Port): boolean => model.profileOf(p.deviceId).vlan === 'managed'
  const { untaggedPorts, missingTagPorts } = mendingOf(model, need, path)

  let inside: Form = vlan
  for (const [out, into] of path) {
    const form = formOut(model, out, inside)
    if (form === undefined)
      return {
        portId: out.id,
        kind: managed(out) ? 'not sent' : 'lost in a switch without VLANs',
        untaggedPorts,
        missingTagPorts,
      }
    const next = formInside(model, into, form)
    if (next === undefined) {
      const kind =
        model.profileOf(into.deviceId).vlan === 'none'
          ? 'arrives tagged at a host'
          : managed(into)
            ? 'not received'
            : 'lost in a switch without VLANs'
      return {
        portId: kind === 'not received' ? into.id : out.id,
        kind,
        untaggedPorts,
        missingTagPorts,
      }
    }
    inside = next
  }
  return { portId: path.at(-1)![1].id, kind: 'wrong VLAN', untaggedPorts, missingTagPorts }
}

/**
 * What the ports of a way have to carry, and do not. Where one end of a cable sends the segment
 * untagged, the other has to take it so; what neither end carries goes with a tag, as trunks do.
 */
function mendingOf(
  model: SiteModel,
  need: Need,
  path: readonly [Port, Port][],
): Pick<Break, 'untaggedPorts' | 'missingTagPorts'> {
  const { segmentId } = need
  const { vlanId } = model.segment(segmentId)
  const untagged: string[] = []
  const tagged: string[] = []
  const managed = (p: Port): boolean => model.profileOf(p.deviceId).vlan === 'managed'
  const isUntagged = (p: Port): boolean => p.untaggedSegmentId === segmentId
  const isTagged = (p: Port): boolean => p.taggedSegmentIds.includes(segmentId)
  const feed = isHost(model, need) ? feedingPort(model, path) : undefined
  for (const [out, into] of path) {
    if (out === feed) {
      if (!isUntagged(out)) untagged.push(out.id)
      break
    }
    if (managed(out) && managed(into)) {
      if (isUntagged(out)) {
        if (!isUntagged(into)) untagged.push(into.id)
      } else if (!isTagged(out) && isUntagged(into)) untagged.push(out.id)
      else {
        if (!isTagged(out)) tagged.push(out.id)
        if (!isTagged(into) && formInside(model, into, vlanId) === undefined)
          (isUntagged(into) ? untagged : tagged).push(isUntagged(into) ? out.id : into.id)
      }
    } else
      for (const p of [out, into])
        if (managed(p) && !isUntagged(p) && !isTagged(p)) tagged.push(p.id)
  }
  return { untaggedPorts: untagged, missingTagPorts: tagged.filter((p) => !untagged.includes(p)) }
}

const isHost = (model: SiteModel, need: Need): boolean =>
  model.profileOf(need.deviceId).vlan === 'none'

/** The last managed port before a host: the one whose untagged VLAN decides what the host hears. */
export function feedingPort(model: SiteModel, path: readonly [Port, Port][]): Port {
  for (let i = path.length - 1; i >= 0; i--)
    if (model.profileOf(path[i]![0].deviceId).vlan === 'managed') return path[i]![0]
  return path[0]![0]
}
