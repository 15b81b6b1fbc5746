/** Where an end of a connection really is, and whether it can live there. */
import { inPlan, type Device, type Segment } from '../plan'
import {
  addressTrouble,
  carriageOf,
  outcomeOf,
  wayOutTrouble,
  type Arrival,
  type Form,
  type SiteModel,
} from '../topology'
import { Lost, type Endpoint, type Located, type TraceHop } from './fate'

/**
 * The segment that an endpoint really sits in: for a host with a lease, the one whose untagged
 * frames reach its socket.
 */
export function locate(
  model: SiteModel,
  end: Extract<Endpoint, { kind: 'device' | 'segment' }>,
  hops: TraceHop[] | undefined,
  role: 'source' | 'target',
): Located {
  if (end.kind === 'segment') {
    const segment = model.plan.segments[end.id]
    if (!segment)
      throw new Lost(
        { kind: 'address', id: end.id, text: `there is no segment '${end.id}'` },
        'broken',
      )
    hops?.push({ layer: 'host', text: `a host in ${segment.name} asks` })
    return { segment, arrival: undefined, device: undefined }
  }
  const device = model.plan.devices[end.id]
  if (!device)
    throw new Lost(
      { kind: 'address', id: end.id, text: `there is no device '${end.id}'` },
      'broken',
    )
  const planned = device.addressing.segmentId
    ? model.plan.segments[device.addressing.segmentId]
    : undefined
  if (!planned)
    throw new Lost(
      { kind: 'address', id: device.id, text: `${device.name} is in no segment yet` },
      'broken',
    )
  hops?.push({ layer: 'host', deviceId: device.id, text: `${device.name} asks` })
  if (device.wirelessNetworkId) return onAir(model, device, role, hops)
  const managed = model.profileOf(device.id).vlan === 'managed'
  const wanted = (s: Segment): Form => (managed ? s.vlanId : 'untagged')
  const there = (s: Segment): Arrival | undefined =>
    carriageOf(model, s.id)
      .at(device.id)
      .find((a) => a.inside === wanted(s))
  const arrival = there(planned)
  if (arrival) return { segment: planned, arrival, device: usable(model, device, planned) }
  const other =
    device.addressing.mode !== 'fixed' && !managed
      ? model.segments.find((s) => there(s))
      : undefined
  if (other) {
    hops?.push({
      layer: 'cable',
      deviceId: device.id,
      text: `its socket carries ${model.vlanName(other.id)}, not ${model.vlanName(planned.id)}`,
    })
    return { segment: other, arrival: there(other), device }
  }
  if (role === 'source') throw lostOnCable(model, { segment: planned, device })
  return { segment: planned, arrival: undefined, device }
}

/** The device itself, where it can live with its address. */
function usable(model: SiteModel, device: Device, segment: Segment): Device {
  const trouble = addressTrouble(model, device, segment)
  if (trouble) throw new Lost({ kind: 'address', id: device.id, text: trouble }, 'broken')
  return device
}

/** A host that leaves its segment, or answers beyond it, needs the gateway of the segment. */
export function needsWayOut({ device, segment }: Located): void {
  const trouble =
    device && device.addressing.segmentId === segment.id ? wayOutTrouble(device, segment) : null
  if (trouble) throw new Lost({ kind: 'address', id: device!.id, text: trouble }, 'broken')
}

function onAir(
  model: SiteModel,
  device: Device,
  role: 'source' | 'target',
  hops: TraceHop[] | undefined,
): Located {
  const network = inPlan(model.plan.wirelessNetworks, device.wirelessNetworkId!)
  const segment = model.segment(network.segmentId)
  for (const apId of network.accessPointIds) {
    const arrival = carriageOf(model, segment.id)
      .at(apId)
      .find((a) => a.inside === segment.vlanId)
    if (!arrival) continue
    hops?.push({
      layer: 'radio',
      deviceId: apId,
      text: `joins '${network.name}' on ${model.device(apId).name}, lands in ${model.vlanName(segment.id)}`,
    })
    const isPlanned = device.addressing.segmentId === segment.id
    return { segment, arrival, device: isPlanned ? usable(model, device, segment) : device }
  }
  if (role === 'source')
    throw new Lost(
      {
        kind: 'cable',
        id: network.id,
        text: `no access point both sends '${network.name}' and gets ${model.vlanName(segment.id)}`,
      },
      'broken',
    )
  return { segment, arrival: undefined, device }
}

export function lostOnCable(
  model: SiteModel,
  at: { segment: Segment; device: Device | undefined },
): Lost {
  const device = at.device!
  const found = outcomeOf(model, {
    segmentId: at.segment.id,
    deviceId: device.id,
    why: 'host',
  }).break
  const where = found?.portId ?? model.portsOf(device.id)[0]!.id
  return new Lost(
    {
      kind: 'cable',
      id: where,
      text: `${model.vlanName(at.segment.id)} stops at ${model.portName(where)}: ${found?.kind ?? 'not carried'}`,
    },
    'broken',
  )
}
