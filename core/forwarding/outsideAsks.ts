/** Who is to ask the internet while a failover is tried: one host of each segment, by what it may. */
import type { SiteModel } from '../topology'
import { trace } from './trace'

export interface OutsideAsk {
  readonly segmentId: string
  readonly hostId: string
  readonly protocol: 'icmp' | 'tcp' | 'udp'
  readonly port: number | null
}

/** Segments without a host, or with none that may reach the internet, are left out. */
export function outsideAsks(model: SiteModel): OutsideAsk[] {
  const services = Object.values(model.plan.services).flatMap((s) => {
    const [port] = s.ports
    if (s.protocol !== 'icmp' && s.protocol !== 'tcp' && s.protocol !== 'udp') return []
    return [
      {
        service: s,
        protocol: s.protocol,
        port: port === undefined ? null : typeof port === 'number' ? port : port.first,
      },
    ]
  })
  // A ping is the least that can be asked.
  services.sort((a, b) => Number(b.protocol === 'icmp') - Number(a.protocol === 'icmp'))
  return model.segments.flatMap((s): OutsideAsk[] => {
    for (const host of model.membersOf(s.id)) {
      const { kind } = model.profileOf(host.id)
      if (kind !== 'host' && kind !== 'controller') continue
      for (const { service, protocol, port } of services) {
        const t = trace(model, { kind: 'device', id: host.id }, { kind: 'internet' }, service)
        // Of what nobody answers over UDP nothing is seen.
        if (t.verdict === 'delivered' && protocol !== 'udp')
          return [{ segmentId: s.id, hostId: host.id, protocol, port }]
      }
    }
    return []
  })
}
