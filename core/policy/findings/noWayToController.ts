/** C-71: devices whose own page lives where the controller cannot be reached. */
import { editCall, newId, placeName } from '../../plan'
import { decideService } from '../../policy'
import { defineRule } from '../../findings/rule'
import { DECIDES_BY } from '../decidesBy'
import { listWords } from '../../words'

export default defineRule({
  id: 'policy/no-way-to-controller',
  severity: 'blocker',
  catches: ['C-71'],
  title: 'Devices that cannot reach the controller',
  sheet: 'policy',
  reads: DECIDES_BY,
  *check(model) {
    const { port } = model.plan.controller
    const { controllerPlace: at } = model
    // The gateway opens its own to the segments of devices.
    if (!at || at.kind === 'gateway') return
    const place = at.kind === 'host' ? at.device.id : at.kind === 'peer' ? at.peerId : 'internet'
    const home = at.kind === 'host' ? at.device.addressing.segmentId : place
    if (!home) return
    const service = {
      id: 'svc-controller',
      name: 'controller',
      protocol: 'tcp' as const,
      ports: [port],
    }
    const bySegment = new Map<string, string[]>()
    for (const d of model.devices) {
      const at = d.addressing.segmentId
      if (!at || at === home || !model.profileOf(d.id).adoptable || d.id === model.gateway?.id)
        continue
      if (!decideService(model.plan, d.id, place, service).allowed)
        bySegment.set(at, [...(bySegment.get(at) ?? []), d.id])
    }
    for (const [from, ids] of bySegment) {
      const segment = model.segment(from)
      const known = Object.values(model.plan.services).find(
        (s) => s.protocol === 'tcp' && s.ports.length === 1 && s.ports[0] === port,
      )
      const serviceId = known?.id ?? newId(model.plan, service.id)
      yield {
        subjects: [from, home, ...ids],
        text:
          `${listWords(ids.map((id) => model.device(id).name))} ` +
          `${ids.length === 1 ? 'has its' : 'have their'} page in ${segment.name}, from where ` +
          `the controller in ${placeName(model.plan, home)} may not be reached.`,
        why: "They ask for an address, find the controller's name, and are never heard of.",
        numbers: [{ label: 'controller', value: `TCP ${port}` }],
        fixes: [
          {
            label: `Let ${segment.name} reach the controller`,
            edits: [
              ...(known ? [] : [editCall('addService', { ...service, id: serviceId })]),
              editCall('stateFirst', {
                id: newId(model.plan, `controller ${from}`),
                from,
                to: home,
                service: serviceId,
                action: 'allow',
                reason: 'devices reach their controller',
              }),
            ],
          },
        ],
      }
    }
  },
})
