/** C-82: what hangs on a modem beside the gateway is outside all that the gateway does. */
import { editCall, own, type Link, type Port } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type FindingBody } from '../../findings/rule'
import { freeSockets } from '../freeSockets'

/** What only passes frames on has nothing that could be reached. */
const passesOn = (model: SiteModel, deviceId: string): boolean => {
  const { kind, vlan } = model.profileOf(deviceId)
  return kind === 'injector' || (kind === 'switch' && vlan !== 'managed')
}

/** Who is ahead of the gateway, with the cable, and the socket that it comes from. */
function* exposedBy(
  model: SiteModel,
  first: Port,
): Generator<{ readonly device: string; readonly link: Link; readonly at: Port }> {
  const seen = new Set([first.deviceId])
  const waiting = [first]
  for (let port = waiting.pop(); port; port = waiting.pop()) {
    const [link, peer] = [model.linkAt(port.id), model.peerOf(port.id)]
    if (!link || !peer || seen.has(peer.deviceId)) continue
    seen.add(peer.deviceId)
    const { kind } = model.profileOf(peer.deviceId)
    if (kind === 'gateway' || kind === 'modem') continue
    if (passesOn(model, peer.deviceId))
      waiting.push(...model.portsOf(peer.deviceId).filter((p) => p.id !== peer.id))
    else yield { device: peer.deviceId, link, at: port }
  }
}

export default defineRule({
  id: 'wiring/ahead-of-gateway',
  severity: 'blocker',
  catches: ['C-82'],
  title: 'A device ahead of the gateway',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'segments', 'uplinks'],
  *check(model): Generator<FindingBody> {
    if (!model.gateway) return
    for (const modem of model.devices) {
      if (model.profileOf(modem.id).kind !== 'modem') continue
      for (const port of model.portsOf(modem.id))
        for (const { device, link, at } of exposedBy(model, port))
          yield {
            subjects: [device, link.id],
            text:
              `${model.device(device).name} hangs on ${modem.name} ` +
              `(${model.portName(port.id)}), ahead of ${model.gateway.name}.`,
            why:
              'A spare socket of a modem is the provider side: no rule of the gateway is between it ' +
              'and the internet, and no segment of the site is there.',
            fixes: behindGateway(model, device, link, at),
          }
    }
  },
})

/** Into a free socket of the gateway, or of a switch behind it. */
function behindGateway(
  model: SiteModel,
  deviceId: string,
  link: Link,
  at: Port,
): FindingBody['fixes'] {
  const free = freeSockets(model).filter((p) => p.deviceId !== deviceId)
  const to = free.find((p) => p.deviceId === model.gateway?.id) ?? free[0]
  if (!to || link.medium !== 'copper') return []
  const { segmentId } = model.device(deviceId).addressing
  return [
    {
      label: `Plug it into ${model.portName(to.id)}`,
      edits: [
        editCall('movePlug', { linkId: link.id, fromPortId: at.id, toPortId: to.id }),
        ...(segmentId && own(model.plan.segments, segmentId)
          ? [editCall('setUntagged', { segmentId, portIds: [to.id] })]
          : []),
      ],
    },
  ]
}
