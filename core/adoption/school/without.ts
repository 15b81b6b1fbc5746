/** What a site has and has not while its controller is off or out of reach. */
import { dayTime, type ControllerPlace } from '../../plan'
import type { SiteModel } from '../../topology'

export interface Without {
  /** When that is. */
  readonly when: string
  readonly stops: readonly string[]
  readonly goesOn: readonly string[]
}

/** Empty lists where the plan has no controller: there is nothing to miss. */
export function withoutController(model: SiteModel): Without {
  const { plan, controllerPlace: place } = model
  if (!place) return { when: '', stops: [], goesOn: [] }
  const { channels, replanMinute, restart, dark } = plan.site.wireless
  const networks = Object.values(plan.wirelessNetworks)
  const pages = networks.filter((w) => w.portal !== null).map((w) => w.name)
  const hasRadios = model.devices.some((d) => model.profileOf(d.id).kind === 'access-point')
  const isAlone = place.kind === 'gateway'
  const names = Object.values(plan.tunnels).flatMap((t) => (t.dynamicName && t.endpointName) || [])
  return {
    when: whenOf(model, place),
    stops: [
      'Nobody sees who has joined, how strong, and how much moves; a device that fails is not noticed.',
      'A change of the plan waits, and so does a release under way; firmware too.',
      'A new or replaced device waits for its claim.',
      'What somebody sets at the page of a device is not noticed.',
      ...(channels === 'nightly' && hasRadios
        ? [`Channels are not planned anew at ${dayTime(replanMinute)}.`]
        : []),
      ...(isAlone ? ['All that the gateway does: lines, leases, rules between segments.'] : []),
    ],
    goesOn: isAlone
      ? ['Within a segment switches and access points go on.']
      : [
          'Devices run what they were sent last, also after a restart.',
          'Lines, leases, rules and tunnels: they are kept by the gateway.',
          ...(hasRadios
            ? ['Who goes from one access point to the next: they settle that among themselves.']
            : []),
          ...pages.map((p) => `The page of ${p}: access points show it.`),
          ...(restart ? [`Restarts at ${dayTime(restart.minute)}: devices keep the time.`] : []),
          ...(dark ? ['Lamps by the hour: devices keep the time.'] : []),
          ...names.map((n) => `The name ${n}: the gateway keeps it.`),
        ],
  }
}

function whenOf(model: SiteModel, place: ControllerPlace): string {
  const runs =
    model.plan.controller.runs === 'when-needed' ? 'It is started only when somebody needs it' : ''
  switch (place.kind) {
    case 'host':
      return runs || `While ${place.device.name} is off, or off its cable`
    case 'gateway':
      return `While ${place.device.name} is off`
    case 'peer':
      return [
        runs,
        `While the line, or the tunnel to ${model.plan.peers[place.peerId]?.name} is down`,
      ]
        .filter(Boolean)
        .join('. ')
    case 'internet':
      return 'While no line leads to the internet'
  }
}
