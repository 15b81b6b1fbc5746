/** Every flow that the judges decide on: each host to each other host, to the internet, and from the internet, by every service. */
import { tellingPorts, type Device, type Service, type SitePlan } from '@mast/core/plan'

export interface Flow { readonly id: string; readonly from: Device | 'internet'; readonly to: Device | 'internet'; readonly service: Service }

/** The ports of a service that stand for all of it among the services of a plan. */
export const portsAsked = (plan: SitePlan, service: Service): readonly (number | null)[] => (service.ports.length > 0 ? tellingPorts(service.ports, Object.values(plan.services).map((s) => s.ports)) : [null])

export const hostsOf = (plan: SitePlan): Device[] => Object.values(plan.devices).filter((d) => plan.profiles[d.profileId]!.kind === 'host')

export function flowsOf(plan: SitePlan, hosts = hostsOf(plan)): Flow[] {
  const ends = [...hosts, 'internet' as const]
  const name = (e: Device | 'internet'): string => (e === 'internet' ? e : e.id)
  return ends.flatMap((from) => ends.filter((to) => to !== from).flatMap((to) => Object.values(plan.services).map((service) => ({ id: `${name(from)}>${name(to)}:${service.id}`, from, to, service }))))
}
