/** A new cable: what it usually carries, and what is to be said of its sockets. */
import { editCall, inPlan, type EditCall } from '../plan'
import type { SiteModel } from './siteModel'

/** What a socket is beside a plain copper one, in words; empty where it is just that. */
export function socketWords(model: SiteModel, portId: string): string {
  const port = model.profilePortOf(portId)
  const device = model.device(inPlan(model.plan.ports, portId).deviceId)
  const licence = port.licenceId
    ? model.profileOf(device.id).licences.find((l) => l.id === port.licenceId)
    : undefined
  return [
    ...(port.medium === 'optical' ? ['optical'] : []),
    ...(licence
      ? [
          `needs ${licence.name}, which ${device.licencesHeld.includes(licence.id) ? 'is there' : 'is not there yet'}`,
        ]
      : []),
  ].join(', ')
}

/** What has to be brought for, or thought of at, a cable between two sockets. */
export function cableNotes(model: SiteModel, from: string, to: string): string[] {
  const ends = [from, to]
  const optical = ends.filter((p) => model.profilePortOf(p).medium === 'optical')
  return [
    ...(optical.length === 1
      ? [
          `${model.portName(optical[0]!)} is an optical socket and the other end a copper one: ` +
            'bring a copper plug for it, or choose a copper socket.',
        ]
      : []),
    ...ends.flatMap((p) => {
      const words = socketWords(model, p)
      return words.endsWith('not there yet') ? [`${model.portName(p)}: ${words}.`] : []
    }),
  ]
}

/**
 * The cable with what it usually carries: to a host its own segment untagged, between managed
 * devices the management untagged and all others tagged.
 */
export function newCableEdits(
  model: SiteModel,
  id: string,
  from: string,
  to: string,
  lengthM: number,
): EditCall[] {
  const ends = [from, to].map((p) => inPlan(model.plan.ports, p))
  const medium = ends.every((p) => model.profilePortOf(p.id).medium === 'optical')
    ? 'fibre'
    : 'copper'
  const cable = editCall('addLink', { id, a: from, b: to, medium, lengthM })
  const managed = ends
    .filter((p) => model.profileOf(p.deviceId).vlan === 'managed')
    .map((p) => p.id)
  const host = ends
    .map((p) => inPlan(model.plan.devices, p.deviceId))
    .find((d) => model.profileOf(d.id).vlan === 'none')
  const management = model.segments.find((s) => s.purpose === 'management') ?? model.segments[0]
  const untagged = host ? host.addressing.segmentId : management?.id
  if (managed.length === 0 || !untagged) return [cable]
  const others = host || managed.length < 2 ? [] : model.segments.filter((s) => s.id !== untagged)
  return [
    cable,
    editCall('setUntagged', { segmentId: untagged, portIds: managed }),
    ...others.map((s) => editCall('addTag', { segmentId: s.id, portIds: managed })),
  ]
}
