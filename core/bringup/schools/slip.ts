/** A slip of paper for whoever plugs a device in without knowing what it is. */
import type { Device } from '../../plan'
import { cableDepth, type SiteModel } from '../../topology'
import { formatDuration } from '../../words'
import type { Step } from '../step'

/** The lamp in words, of one that waits for nobody. */
export function slipWords(model: SiteModel, device: Device): Step['words'] {
  const { setUp, waits, lights } = model.profileOf(device.id)
  const waitsFor =
    waits.bootSeconds + waits.firmwareSeconds + waits.applySeconds + waits.bootSeconds
  const good = lights.find((l) => l.state === 'in-service')
  return [
    ...(setUp.lamp ? [{ label: 'Its lamp', text: setUp.lamp }] : []),
    {
      label: 'Then',
      text:
        `leave it alone for up to ${formatDuration(2 * waitsFor)}: it starts, fetches and starts ` +
        `again${good ? `; it is done when the lamp is ${good.colour} as the decoder shows it` : ''}`,
    },
    { label: 'Never', text: 'pull its power or press its button meanwhile' },
  ]
}

export interface Slip {
  readonly deviceId: string
  readonly name: string
  readonly serial: string | null
  /** What goes where, one line each. */
  readonly lines: readonly string[]
}

const powers: Readonly<Record<Device['power'], string>> = {
  outlet: 'Its own power lead into an outlet.',
  poe: 'No power lead: the cable feeds it.',
  injector:
    'The injector into an outlet; its powered socket to the device, its data socket to the network. ' +
    'They look alike.',
  battery: 'No power lead.',
}

/** Which socket, which power, which lamp, and what not to do. */
export function slipOf(model: SiteModel, device: Device): Slip {
  const up = model.portsOf(device.id).flatMap((p) => {
    const peer = model.peerOf(p.id)
    const isUp = peer && cableDepth(model, peer.deviceId) < cableDepth(model, device.id)
    return isUp ? [{ own: p.name, peer: model.portName(peer.id) }] : []
  })
  const line = model.lines.flatMap((u) =>
    u.portId && model.plan.ports[u.portId]?.deviceId === device.id
      ? [`${u.name} into its socket ${model.plan.ports[u.portId]!.name}.`]
      : [],
  )
  return {
    deviceId: device.id,
    name: device.name,
    serial: device.serial,
    lines: [
      `It is ${model.profileOf(device.id).name}${device.serial ? `, serial ${device.serial} on its label` : ''}.`,
      ...line,
      ...up.map((u) => `One cable, from its socket ${u.own} to ${u.peer}. No other.`),
      powers[device.power],
      ...slipWords(model, device).map((w) => `${w.label}: ${w.text}.`),
    ],
  }
}
