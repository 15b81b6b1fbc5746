/** Who is to ask the internet while a failover is tried: one host of each segment, by what it may. */
import type { Service } from '../plan'
import type { SiteModel } from '../topology'
import { choiceFor } from '../uplinks'
import { trace } from './trace'

export interface OutsideAsk {
  readonly segmentId: string
  /** A service that leaves by lines of its own; null for what the segment asks otherwise. */
  readonly serviceId: string | null
  readonly hostId: string
  readonly protocol: 'icmp' | 'tcp'
  readonly port: number | null
}

/** Of what nobody answers over UDP nothing is seen. */
function asked({ protocol, ports }: Service): Pick<OutsideAsk, 'protocol' | 'port'>[] {
  if (protocol !== 'icmp' && protocol !== 'tcp') return []
  const [port] = ports
  return [
    { protocol, port: port === undefined ? null : typeof port === 'number' ? port : port.first },
  ]
}

/** Segments without a host, or with none that may reach the internet, are left out. */
export function outsideAsks(model: SiteModel): OutsideAsk[] {
  const { plan } = model
  const services = Object.values(plan.services)
  // A ping is the least that can be asked.
  services.sort((a, b) => Number(b.protocol === 'icmp') - Number(a.protocol === 'icmp'))
  const chosen = new Set(
    Object.values(plan.lineChoices).flatMap((c) => (c.service === 'any' ? [] : c.service)),
  )
  return model.segments.flatMap((s): OutsideAsk[] => {
    const hosts = model.membersOf(s.id).filter((d) => {
      const { kind } = model.profileOf(d.id)
      return kind === 'host' || kind === 'controller'
    })
    const ask = (among: readonly Service[], serviceId: string | null): OutsideAsk[] => {
      for (const { id: hostId } of hosts)
        for (const service of among)
          for (const by of asked(service))
            if (
              trace(model, { kind: 'device', id: hostId }, { kind: 'internet' }, service)
                .verdict === 'delivered'
            )
              return [{ segmentId: s.id, serviceId, hostId, ...by }]
      return []
    }
    const choice = (service: Service) => choiceFor(plan, s.id, service)
    const other = services.filter((v) => chosen.has(v.id) && choice(v)?.service !== 'any')
    return [
      ...ask(
        services.filter((v) => !other.includes(v)),
        null,
      ),
      ...other.flatMap((v) => (choice(v) ? ask([v], v.id) : [])),
    ]
  })
}
