/**
 * How a new device can come to call the controller from where it hangs: which ways there are, which
 * of them lead there by the plan, and what decides.
 */
import { controllerEnd, trace, type Endpoint } from '../../forwarding'
import { CONTROLLER_NAME, nameServersOf } from '../../naming'
import {
  handsOutLeases,
  type ControllerPlace,
  type Device,
  type Port,
  type Segment,
  type Service,
} from '../../plan'
import { cablePath, carriageOf, type SiteModel } from '../../topology'
import { bootstrapUrl, controllerUrl } from '../configuration'
import { atMeetingPoint } from './meetingPoint'

export const waysToController = [
  'same-segment',
  'typed',
  'dhcp-option',
  'dns-name',
  'meeting-point',
  'bootstrap',
] as const
export type WayKind = (typeof waysToController)[number]

export interface Way {
  readonly kind: WayKind
  readonly works: boolean
  /** What decides it. */
  readonly because: string
}
export interface Ways {
  /** Where it asks from while it is as from its box; null where that is nowhere. */
  readonly from: Segment | null
  /** The address to type, nothing more and nothing less; null while the controller has none. */
  readonly url: string | null
  readonly ways: readonly Way[]
  /** Once it is set up and speaks from its own segment; null where that is the same. */
  readonly then: {
    readonly segment: Segment
    readonly works: boolean
    readonly because: string
  } | null
}

type Asked = Pick<Service, 'id' | 'name' | 'protocol' | 'ports'>
const DNS: Asked = { id: 'dns', name: 'names', protocol: 'udp', ports: [53] }
const HTTPS: Asked = { id: 'https', name: 'HTTPS', protocol: 'tcp', ports: [443] }

/** The socket that a device hangs from, beyond what only passes frames on. */
const feedOf = (model: SiteModel, device: Device): Port | undefined =>
  (cablePath(model, device.id) ?? [])
    .map(([out]) => out)
    .findLast((p) => p.deviceId !== device.id && model.profileOf(p.deviceId).vlan === 'managed')

interface Reached {
  readonly works: boolean
  readonly because: string
}

function reach(model: SiteModel, from: Endpoint, to: Endpoint, service: Asked): Reached {
  const t = trace(model, from, to, service)
  return { works: t.verdict === 'delivered', because: t.decidedBy.text }
}

/** @throws where there is no such device */
export function waysOf(model: SiteModel, deviceId: string): Ways {
  const device = model.device(deviceId)
  const { controllerPlace: place } = model
  const { port } = model.plan.controller
  const url = controllerUrl(model)
  const service: Asked = {
    id: 'controller',
    name: 'the controller',
    protocol: 'tcp',
    ports: [port],
  }
  // A device that nobody set speaks where frames arrive without a tag.
  const feed = feedOf(model, device)
  const from = feed?.untaggedSegmentId ? model.segment(feed.untaggedSegmentId) : null
  const none = (because: string): Ways => ({
    from,
    url,
    ways: waysToController.map((kind) => ({ kind, works: false, because })),
    then: null,
  })
  if (!place || !url) return none('no controller with an address is in the plan')
  if (device.id === model.gateway?.id) return ofGateway(model, place, url)
  const controller = controllerEnd(place)
  if (!feed || !from)
    return none('nothing arrives without a tag at its uplink, so it has no address to call from')
  const asking: Endpoint = { kind: 'segment', id: from.id }
  const isCarried = carriageOf(model, from.id).at(feed.deviceId).length > 0
  const leased: Reached = !isCarried
    ? {
        works: false,
        because: `VLAN ${from.vlanId} does not get as far as ${model.portName(feed.id)}`,
      }
    : handsOutLeases(from)
      ? { works: true, because: '' }
      : {
          works: false,
          because: `nobody hands out leases in ${from.name}, where it asks for its address`,
        }
  const reached = leased.works ? reach(model, asking, controller, service) : leased
  const all: Way[] = [
    { kind: 'same-segment', ...besideIt(model, place, from, reached) },
    { kind: 'typed', ...reached },
    { kind: 'dhcp-option', ...byLease(model, from, reached) },
    { kind: 'dns-name', ...byName(model, from, asking, reached) },
    { kind: 'meeting-point', ...byMeetingPoint(model, device, asking, leased, reached) },
    { kind: 'bootstrap', ...byBootstrap(model, from, asking, leased) },
  ]
  const home = device.addressing.segmentId ? model.segment(device.addressing.segmentId) : null
  return {
    from,
    url,
    ways: all,
    then:
      home && home.id !== from.id
        ? {
            segment: home,
            ...reach(model, { kind: 'device', id: device.id }, controller, service),
          }
        : null,
  }
}

/** It has a leg in every segment and knows the names itself; nobody gives it a lease. */
function ofGateway(model: SiteModel, place: ControllerPlace, url: string): Ways {
  const home = place.kind === 'host' ? place.device.addressing.segmentId : null
  const beside =
    place.kind === 'gateway'
      ? { works: true, because: 'the controller is inside it' }
      : home
        ? { works: true, because: `it has an address of its own in ${model.segment(home).name}` }
        : { works: false, because: whereNot(place) }
  return {
    from: null,
    url,
    ways: [
      { kind: 'same-segment', ...beside },
      { kind: 'typed', works: true, because: 'its configuration says the address' },
      { kind: 'dhcp-option', works: false, because: 'it hands out the leases and gets none' },
      {
        kind: 'dns-name',
        works: false,
        because: `it answers for ${CONTROLLER_NAME} itself, once it is set up`,
      },
      { kind: 'meeting-point', ...atMeetingPoint(model, place) },
      { kind: 'bootstrap', works: false, because: 'it hands out the leases that tell of it' },
    ],
    then: null,
  }
}

const whereNot = (place: ControllerPlace): string =>
  place.kind === 'internet'
    ? 'the controller is on the internet'
    : 'the controller is at another site'

function besideIt(
  model: SiteModel,
  place: ControllerPlace,
  from: Segment,
  reached: Reached,
): Reached {
  const home =
    place.kind === 'host'
      ? place.device.addressing.segmentId
      : place.kind === 'gateway'
        ? place.segmentId
        : null
  if (home === from.id) return reached
  return {
    works: false,
    because: home
      ? `it wakes up in ${from.name}, the controller is in ${model.segment(home).name}`
      : whereNot(place),
  }
}

function byLease(model: SiteModel, from: Segment, reached: Reached): Reached {
  if (!reached.works) return reached
  if (model.plan.controller.discovery !== 'dhcp-option')
    return { works: false, because: 'the plan tells devices by a name, not by their leases' }
  if (from.dhcp.mode === 'relay')
    return {
      works: false,
      because: `leases of ${from.name} come from ${from.dhcp.relayTo}, which has to be told there`,
    }
  return from.purpose === 'management'
    ? { works: true, because: `leases of ${from.name} say it, and ${reached.because}` }
    : { works: false, because: `leases say it in management only, and it wakes up in ${from.name}` }
}

function byName(model: SiteModel, from: Segment, asking: Endpoint, reached: Reached): Reached {
  if (!reached.works) return reached
  if (model.controllerPlace?.kind === 'internet')
    return {
      works: false,
      because: `it asks for ${CONTROLLER_NAME}, a name of the site alone`,
    }
  const servers = nameServersOf(from)
  if (!from.gateway || servers[0] !== from.gateway)
    return {
      works: false,
      because: `it is told to ask ${servers[0] ?? 'nobody'}, who does not know ${CONTROLLER_NAME}`,
    }
  const asked = reach(model, asking, { kind: 'gateway' }, DNS)
  return asked.works
    ? { works: true, because: `${from.gateway} answers for ${CONTROLLER_NAME}` }
    : asked
}

/** By RFC 8572: its lease says where, and what it is given there is signed for it. */
function byBootstrap(model: SiteModel, from: Segment, asking: Endpoint, leased: Reached): Reached {
  const { bootstrap } = model.plan.controller
  const [place, url] = [model.controllerPlace, bootstrapUrl(model)]
  if (!bootstrap || !place || !url)
    return { works: false, because: 'the controller does not serve devices from their box' }
  if (!leased.works) return leased
  if (from.dhcp.mode === 'relay')
    return {
      works: false,
      because: `leases of ${from.name} come from ${from.dhcp.relayTo}, which has to be told there`,
    }
  if (from.purpose !== 'management')
    return {
      works: false,
      because: `leases say it in management only, and it wakes up in ${from.name}`,
    }
  const reached = reach(model, asking, controllerEnd(place), {
    id: 'bootstrap',
    name: 'the start from the box',
    protocol: 'tcp',
    ports: [bootstrap.port],
  })
  return reached.works
    ? {
        works: true,
        because: `leases of ${from.name} say ${url}; its maker has to have vouched for the owner`,
      }
    : reached
}

/** The point tells it the controller's address; it still has to reach that. */
function byMeetingPoint(
  model: SiteModel,
  device: Device,
  asking: Endpoint,
  leased: Reached,
  reached: Reached,
): Reached {
  if (!leased.works) return leased
  if (device.addressing.mode === 'fixed')
    return {
      works: false,
      because: 'its address is typed in; it needs an automatic one until it is claimed',
    }
  const out = reach(model, asking, { kind: 'internet' }, HTTPS)
  if (!out.works) return { works: false, because: `no way out to the internet: ${out.because}` }
  if (!reached.works) return reached
  const { minimum } = model.profileOf(device.id).firmware
  const least = minimum ? `, with firmware ${minimum} at the least` : ''
  const { controllerPlace: place } = model
  const at = place?.kind === 'internet' ? place.name : place?.address
  return {
    works: true,
    because: `it gets out by HTTPS, and from there to ${at}; as from its box${least}`,
  }
}
