/** Hosts of one segment, which need no gateway to reach each other. */
import type { Device, WirelessNetwork } from '../plan'
import {
  addressTrouble,
  carriageOf,
  heardFrom,
  isolationOf,
  keepsApart,
  pathOf,
  type SiteModel,
} from '../topology'
import { Lost, type Endpoint, type Located, type Trace, type TraceHop } from './fate'
import { lostOnCable } from './locate'
import { formWords } from './way'

/**
 * Two hosts with typed addresses of one subnet need neither gateway nor lease: they talk wherever
 * their frames reach each other, be it on a
 * switch that is cut off from the rest. Undefined where that is not the case, or where the gateway
 * hears them as well and the usual way says more.
 */
export function asNeighbours(
  model: SiteModel,
  from: Endpoint,
  to: Endpoint,
  hops: TraceHop[],
): Omit<Trace, 'hops'> | undefined {
  if (from.kind !== 'device' || to.kind !== 'device') return undefined
  const [a, b] = [model.plan.devices[from.id], model.plan.devices[to.id]]
  if (
    !a ||
    !b ||
    a.wirelessNetworkId ||
    b.wirelessNetworkId ||
    a.addressing.segmentId !== b.addressing.segmentId ||
    !a.addressing.segmentId
  )
    return undefined
  if ([a, b].some((d) => d.addressing.mode !== 'fixed' || model.profileOf(d.id).vlan !== 'none'))
    return undefined
  const segment = model.segment(a.addressing.segmentId)
  const isPlanned = (d: Device): boolean =>
    carriageOf(model, segment.id)
      .at(d.id)
      .some((x) => x.inside === 'untagged')
  if (isPlanned(a) && isPlanned(b)) return undefined
  if ([a, b].some((d) => addressTrouble(model, d, segment))) return undefined
  if (!heardFrom(model, a.id).has(b.id) || !heardFrom(model, b.id).has(a.id)) return undefined
  hops.push(
    { layer: 'host', deviceId: a.id, text: `${a.name} asks its neighbour` },
    { layer: 'host', deviceId: b.id, text: `${b.name} answers` },
  )
  return {
    verdict: 'delivered',
    decidedBy: {
      kind: 'route',
      id: segment.id,
      text:
        `both have typed addresses of ${segment.subnet} and hear each other, although ` +
        `${model.vlanName(segment.id)} does not reach both from the gateway`,
    },
  }
}

export function sameSegment(
  model: SiteModel,
  source: Located,
  target: Located,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  if (target.device && !target.arrival) throw lostOnCable(model, target)
  const isolating = (at: Located): WirelessNetwork | undefined => {
    const w = model.plan.wirelessNetworks[at.device?.wirelessNetworkId ?? '']
    return w?.clientIsolation ? w : undefined
  }
  const leak =
    isolating(source) && isolating(target)
      ? isolationOf(model).leaks.find((l) => l.segmentId === source.segment.id)
      : undefined
  if (
    !leak &&
    source.arrival &&
    target.arrival &&
    keepsApart(
      model,
      source.segment.vlanId,
      { arrival: source.arrival, isOnAir: isolating(source) !== undefined },
      { arrival: target.arrival, isOnAir: isolating(target) !== undefined },
    )
  ) {
    const network = isolating(source) ?? isolating(target)
    throw new Lost(
      {
        kind: 'isolation',
        id: network?.id ?? source.segment.id,
        text: network
          ? `'${network.name}' keeps its clients apart`
          : `the sockets that lead to them are kept apart in ${source.segment.name}`,
      },
      'blocked',
    )
  }
  const up = source.arrival ? pathOf(source.arrival) : []
  const down = target.arrival ? pathOf(target.arrival) : []
  let common = 0
  while (common < up.length && common < down.length && up[common] === down[common]) common++
  for (const a of up.slice(common).reverse())
    if (a.inPortId)
      hops.push({
        layer: 'cable',
        deviceId: a.before!.deviceId,
        portId: a.outPortId!,
        text: `${model.portName(a.inPortId)} to ${model.portName(a.outPortId!)}, ${formWords(a.form)}`,
      })
  for (const a of down.slice(common))
    if (a.inPortId)
      hops.push({
        layer: 'cable',
        deviceId: a.deviceId,
        portId: a.inPortId,
        text: `${model.portName(a.outPortId!)} to ${model.portName(a.inPortId)}, ${formWords(a.form)}`,
      })
  if (target.device)
    hops.push({ layer: 'host', deviceId: target.device.id, text: `${target.device.name} answers` })
  if (leak) {
    const [a, b] = leak.between.map((id) => model.device(id).name)
    return {
      verdict: 'delivered',
      decidedBy: {
        kind: 'isolation',
        id: leak.atDeviceId,
        text:
          `kept apart on one access point, but not between ${a} and ${b}: ` +
          `${model.device(leak.atDeviceId).name} lets them hear each other`,
      },
    }
  }
  return {
    verdict: 'delivered',
    decidedBy: {
      kind: 'route',
      id: source.segment.id,
      text: `both are in ${source.segment.name}; the gateway's rules do not see it`,
    },
  }
}
