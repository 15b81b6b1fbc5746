/** Where the clock of a device gets the time from, and whether that answers it. */
import { atAddress, trace, type Endpoint, type Trace } from '../../forwarding'
import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'

/** RFC 5905. */
const NTP = { id: 'ntp', name: 'time', protocol: 'udp' as const, ports: [123] }

export interface TimeServer {
  /** As it is told to the device; null is what its maker gave it, on the internet. */
  readonly address: string | null
  /** Null where it answers. */
  readonly whyNot: string | null
  /** Whether that is how it is set, and no cable or line of which there is a remark anyhow. */
  readonly isSet: boolean
}

type Why = Pick<TimeServer, 'whyNot' | 'isSet'>

/** In the order in which they are asked. */
export function timeServersOf(model: SiteModel, device: Device): readonly TimeServer[] {
  const { segmentId } = device.addressing
  const told = segmentId ? model.segment(segmentId).options.timeServers : []
  const from: Endpoint =
    device.id === model.gateway?.id ? { kind: 'gateway' } : { kind: 'device', id: device.id }
  const decided = (t: Trace): Why =>
    t.verdict === 'delivered'
      ? { whyNot: null, isSet: false }
      : { whyNot: t.decidedBy.text, isSet: t.decidedBy.kind === 'rule' }
  const set = (whyNot: string): Why => ({ whyNot, isSet: true })
  if (from.kind === 'gateway') {
    // It leaves by its line, and nothing of its own is filtered.
    return [
      {
        address: null,
        whyNot: model.wayOut ? null : 'no line is plugged into it',
        isSet: false,
      },
    ]
  }
  const why = (address: string): Why => {
    const { end, why: nobody } = atAddress(model, address)
    if (!end) return set(nobody)
    const host = end.kind === 'device' ? model.device(end.id) : undefined
    return host && !host.serviceIds.some((id) => isTime(model, id))
      ? set(`${host.name} does not offer the time`)
      : decided(trace(model, from, end, NTP))
  }
  return told.length > 0
    ? told.map((address) => ({ address, ...why(address) }))
    : [{ address: null, ...decided(trace(model, from, { kind: 'internet' }, NTP)) }]
}

const isTime = ({ plan }: SiteModel, serviceId: string): boolean => {
  const s = plan.services[serviceId]
  return (
    s?.protocol === 'udp' &&
    s.ports.some((p) => (typeof p === 'number' ? p === 123 : p.first <= 123 && p.last >= 123))
  )
}
