/**
 * Every flow that the judges decide on: each host to each other host, to the internet, and from the
 * internet, by every service.
 */
import { compilePolicy } from '@mast/core/policy'
import { tellingPorts, type Device, type Service, type SitePlan } from '@mast/core/plan'

export interface Flow {
  readonly id: string
  readonly from: Device | 'internet'
  readonly to: Device | 'internet'
  readonly service: Service
  /** A port forward, asked at the address of the line. */ readonly forwardId?: string
}

/** The ports of a service that stand for all of it among the services of a plan. */
export const portsAsked = (plan: SitePlan, service: Service): readonly (number | null)[] =>
  service.ports.length > 0
    ? tellingPorts(
        service.ports,
        Object.values(plan.services).map((s) => s.ports),
      )
    : [null]

export const hostsOf = (plan: SitePlan): Device[] =>
  Object.values(plan.devices).filter((d) => plan.profiles[d.profileId]!.kind === 'host')

const isPublic = (plan: SitePlan): boolean =>
  !['private', 'carrier-grade'].includes(Object.values(plan.uplinks)[0]!.handOff.addressKind ?? '')

export function flowsOf(plan: SitePlan, hosts = hostsOf(plan)): Flow[] {
  const ends = [...hosts, 'internet' as const]
  const name = (e: Device | 'internet'): string => (e === 'internet' ? e : e.id)
  // What a port of the line leads to is asked there: at the host's own address nobody outside can
  // ask.
  const led = compilePolicy(plan).forwards.flatMap((f): Flow[] =>
    ends
      .filter((from) => from !== 'internet' || isPublic(plan))
      .flatMap((from) => {
        const to = hosts.find((h) => h.id === f.deviceId)
        // A datagram that nobody answers looks like one that never came.
        const isHeard =
          f.protocol === 'tcp' ||
          Object.values(plan.services).some(
            (s) => s.protocol === 'udp' && tellingPorts(s.ports, []).includes(f.inside),
          )
        return to && isHeard
          ? [
              {
                id: `${name(from)}>line:${f.id}`,
                from,
                to,
                forwardId: f.id,
                service: { id: f.id, name: f.name, protocol: f.protocol, ports: [f.outside.first] },
              },
            ]
          : []
      }),
  )
  const direct = ends.flatMap((from) =>
    ends
      .filter((to) => to !== from)
      .flatMap((to) =>
        Object.values(plan.services).map((service) => ({
          id: `${name(from)}>${name(to)}:${service.id}`,
          from,
          to,
          service,
        })),
      ),
  )
  return [
    ...direct.filter((f) => f.from !== 'internet'),
    ...led,
    ...direct.filter(
      (f) =>
        f.from === 'internet' &&
        !Object.values(plan.forwards).some((x) => f.to !== 'internet' && x.deviceId === f.to.id),
    ),
  ]
}
