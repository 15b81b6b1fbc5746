/**
 * Where a VLAN travels: a flood of one segment's frames from the gateway through every port that carries them, tagged
 * or untagged (IEEE 802.1Q 8.8: a frame leaves a port only where that port is a member of its VLAN, with a tag unless it is in the
 * untagged set; an untagged frame is received into the port's own VLAN). A transparent switch passes frames as they are; an unaware
 * one loses tagged frames; a host hears only untagged ones.
 */
import type { Port } from '../plan'
import type { SiteModel } from './siteModel'

/** The form in which a frame is on a wire: its VLAN id, or `untagged`. */
export type Form = number | 'untagged'

export interface Arrival {
  readonly deviceId: string
  /** Port that it came in by; null at the gateway, where it starts. */
  readonly inPortId: string | null
  /** Port of the previous device that it left by. */
  readonly outPortId: string | null
  readonly form: Form
  /** The VLAN that it is in inside this device, or its wire form inside a device that does not know VLANs. */
  readonly inside: Form
  readonly before: Arrival | null
}

export interface Carriage {
  readonly segmentId: string
  /** Every place that frames of the segment reach, in the order of discovery; a device can be reached in two forms. */
  readonly arrivals: readonly Arrival[]
  /** What each port carries of it. A port that is absent carries nothing. */
  readonly forms: ReadonlyMap<string, Form>
  at(deviceId: string): readonly Arrival[]
}

/** The VLAN that an incoming frame falls into at a managed port, or undefined where the port drops it. */
function received(model: SiteModel, port: Port, form: Form): Form | undefined {
  const { segments } = model.plan
  if (form === 'untagged') return port.untaggedSegmentId === null ? undefined : segments[port.untaggedSegmentId]!.vlanId
  return port.taggedSegmentIds.some((id) => segments[id]!.vlanId === form) ? form : undefined
}

/** The form in which a managed port sends a VLAN, or undefined where it does not. */
function sent(model: SiteModel, port: Port, vlan: Form): Form | undefined {
  const { segments } = model.plan
  if (port.untaggedSegmentId !== null && segments[port.untaggedSegmentId]!.vlanId === vlan) return 'untagged'
  return port.taggedSegmentIds.some((id) => segments[id]!.vlanId === vlan) ? vlan : undefined
}

export function formOut(model: SiteModel, port: Port, inside: Form): Form | undefined {
  switch (model.profileOf(port.deviceId).vlan) {
    case 'managed': return model.profilePortOf(port.id).role === 'wan' ? undefined : sent(model, port, inside)
    case 'transparent': return inside
    case 'unaware': return inside === 'untagged' ? inside : undefined
    case 'none': return undefined
  }
}

export function formInside(model: SiteModel, port: Port, form: Form): Form | undefined {
  switch (model.profileOf(port.deviceId).vlan) {
    case 'managed': return model.profilePortOf(port.id).role === 'wan' ? undefined : received(model, port, form)
    case 'transparent': return form
    case 'unaware':
    case 'none': return form === 'untagged' ? form : undefined
  }
}

const cache = new WeakMap<SiteModel, Map<string, Carriage>>()

export function carriageOf(model: SiteModel, segmentId: string): Carriage {
  let known = cache.get(model)
  if (!known) cache.set(model, (known = new Map()))
  let carriage = known.get(segmentId)
  if (!carriage) known.set(segmentId, (carriage = flood(model, segmentId)))
  return carriage
}

function flood(model: SiteModel, segmentId: string): Carriage {
  const arrivals: Arrival[] = []
  const forms = new Map<string, Form>()
  const byDevice = new Map<string, Arrival[]>()
  const seen = new Set<string>()
  const arrive = (a: Arrival): void => {
    const key = `${a.deviceId}|${a.inside}`
    if (seen.has(key)) return
    seen.add(key)
    arrivals.push(a)
    byDevice.set(a.deviceId, [...(byDevice.get(a.deviceId) ?? []), a])
  }
  if (model.gateway)
    arrive({ deviceId: model.gateway.id, inPortId: null, outPortId: null, form: 'untagged', inside: model.plan.segments[segmentId]!.vlanId, before: null })
  for (let i = 0; i < arrivals.length; i++) {
    const here = arrivals[i]!
    for (const port of model.portsOf(here.deviceId)) {
      if (port.id === here.inPortId) continue
      const form = formOut(model, port, here.inside)
      if (form === undefined) continue
      forms.set(port.id, form)
      const peer = model.peerOf(port.id)
      if (!peer) continue
      const inside = formInside(model, peer, form)
      if (inside === undefined) continue
      forms.set(peer.id, form)
      arrive({ deviceId: peer.deviceId, inPortId: peer.id, outPortId: port.id, form, inside, before: here })
    }
  }
  return { segmentId, arrivals, forms, at: (id) => byDevice.get(id) ?? [] }
}

/** The hops from the gateway to an arrival, the gateway first. */
export function pathOf(arrival: Arrival): Arrival[] {
  const path: Arrival[] = []
  for (let a: Arrival | null = arrival; a; a = a.before) path.unshift(a)
  return path
}
