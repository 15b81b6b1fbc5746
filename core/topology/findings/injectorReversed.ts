/** C-22: the two sockets of an injector look alike, and the wrong one feeds nobody. */
import { editCall, newId, type EditCall, type Link, type Port } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule } from '../../findings/rule'

/** A socket that an injector is to feed. */
const isFed = (model: SiteModel, port: Port | undefined): boolean =>
  port !== undefined &&
  model.device(port.deviceId).power === 'injector' &&
  model.profilePortOf(port.id).poeIn

/** The two plugs change places. */
function exchanged(model: SiteModel, data: Link, dataId: string, poweredId: string): EditCall[] {
  const powered = model.linkAt(poweredId)
  const move = editCall('movePlug', { linkId: data.id, fromPortId: dataId, toPortId: poweredId })
  const beyond = model.peerOf(poweredId)
  if (!powered || !beyond) return [move]
  const { medium, lengthM } = powered
  return [
    editCall('removeLink', { id: powered.id }),
    move,
    editCall('addLink', {
      id: newId(model.plan, `${powered.id} again`),
      ...{ a: dataId, b: beyond.id, medium, lengthM },
    }),
  ]
}

export default defineRule({
  id: 'wiring/injector-reversed',
  severity: 'blocker',
  catches: ['C-22'],
  title: 'The wrong socket of an injector',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links'],
  *check(model) {
    for (const d of model.devices) {
      if (model.profileOf(d.id).kind !== 'injector') continue
      const ports = model.portsOf(d.id)
      const powered = ports.find((p) => model.profilePortOf(p.id).poeOutType !== null)
      const data = ports.find((p) => model.profilePortOf(p.id).poeOutType === null)
      const link = data && model.linkAt(data.id)
      if (!powered || !link) continue
      const wanting = model.peerOf(data.id)
      const fed = model.peerOf(powered.id)
      if (!isFed(model, wanting) || isFed(model, fed)) continue
      const name = model.device(wanting!.deviceId).name
      yield {
        subjects: [d.id, wanting!.deviceId],
        text:
          `${name} is in the socket ${data.name} of ${d.name}, which feeds nobody; ` +
          (fed
            ? `the powered one leads to ${model.portName(fed.id)}.`
            : 'the powered one is empty.'),
        why: fed
          ? 'The two look alike: it stays dark, and power goes to what wants none.'
          : 'The two look alike: it stays dark.',
        fixes: [
          {
            label: `Put ${name} into the powered socket of ${d.name}`,
            edits: exchanged(model, link, data.id, powered.id),
          },
        ],
      }
    }
  },
})
