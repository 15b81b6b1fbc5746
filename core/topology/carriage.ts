/**
 * Where a VLAN travels: a flood of one segment's frames from the gateway through every port that
 * carries them, tagged
 * or untagged (IEEE 802.1Q 8.8: a frame leaves a port only where that port is a member of its VLAN,
 * with a tag unless it is in the
 * untagged set; an untagged frame is received into the port's own VLAN). A transparent switch
 * passes frames as they are; an unaware
 * one loses tagged frames; a host hears only untagged ones.
 */
import type { Port } from '../plan'
import type { SiteModel } from './siteModel'
import type { Arrival, Carriage } from './arrival'
import type { Form } from './form'
import { enters, leaves, wiredOf } from './wired'

export type { Arrival, Carriage, Form }

export const formOut = (model: SiteModel, port: Port, inside: Form): Form | undefined =>
  leaves(wiredOf(model).socketOf(port.id), inside)
export const formInside = (model: SiteModel, port: Port, form: Form): Form | undefined =>
  enters(wiredOf(model).socketOf(port.id), form)

export function carriageOf(model: SiteModel, segmentId: string): Carriage {
  const { carriages } = wiredOf(model)
  let carriage = carriages.get(segmentId)
  if (!carriage) carriages.set(segmentId, (carriage = flood(model, segmentId)))
  return carriage
}

/**
 * Hosts that hear the frames of a wired host, whatever VLANs they pass through and whether or not
 * the gateway is among those who do.
 */
export function heardFrom(model: SiteModel, hostId: string): Set<string> {
  const { arrivals } = spread(model, {
    deviceId: hostId,
    inPortId: null,
    outPortId: null,
    form: 'untagged',
    inside: 'untagged',
    before: null,
  })
  return new Set(arrivals.map((a) => a.deviceId))
}

function flood(model: SiteModel, segmentId: string): Carriage {
  const start: Arrival | undefined = model.gateway && {
    deviceId: model.gateway.id,
    inPortId: null,
    outPortId: null,
    form: 'untagged',
    inside: model.segment(segmentId).vlanId,
    before: null,
  }
  const { arrivals, forms, byDevice } = start
    ? spread(model, start)
    : { arrivals: [], forms: new Map<string, Form>(), byDevice: new Map<string, Arrival[]>() }
  return { segmentId, arrivals, forms, at: (id) => byDevice.get(id) ?? [] }
}

/** Follows frames from where they start until nobody new hears them. */
function spread(
  model: SiteModel,
  start: Arrival,
): { arrivals: Arrival[]; forms: Map<string, Form>; byDevice: Map<string, Arrival[]> } {
  const { sockets } = wiredOf(model)
  const arrivals: Arrival[] = []
  const forms = new Map<string, Form>()
  const byDevice = new Map<string, Arrival[]>()
  const arrive = (a: Arrival): void => {
    const here = byDevice.get(a.deviceId)
    if (here?.some((x) => x.inside === a.inside)) return
    arrivals.push(a)
    if (here) here.push(a)
    else byDevice.set(a.deviceId, [a])
  }
  arrive(start)
  for (let i = 0; i < arrivals.length; i++) {
    const here = arrivals[i]!
    for (const socket of sockets.get(here.deviceId) ?? []) {
      if (socket.portId === here.inPortId) continue
      const form =
        here === start && socket.mode === 'none' ? here.inside : leaves(socket, here.inside)
      if (form === undefined) continue
      forms.set(socket.portId, form)
      const peer = socket.peer!
      const inside = enters(peer, form)
      if (inside === undefined) continue
      forms.set(peer.portId, form)
      arrive({
        deviceId: peer.deviceId,
        inPortId: peer.portId,
        outPortId: socket.portId,
        form,
        inside,
        before: here,
      })
    }
  }
  return { arrivals, forms, byDevice }
}

/** The hops from the gateway to an arrival, the gateway first. */
export function pathOf(arrival: Arrival): Arrival[] {
  const path: Arrival[] = []
  for (let a: Arrival | null = arrival; a; a = a.before) path.unshift(a)
  return path
}
