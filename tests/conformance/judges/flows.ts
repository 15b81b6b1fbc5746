/** Every flow that the judges decide on: each host to each other host, to the internet, and from the internet, by every service. */
import type { Device, Service, SitePlan } from '@mast/core/plan'

export interface Flow { readonly id: string; readonly from: Device | 'internet'; readonly to: Device | 'internet'; readonly service: Service }

export const hostsOf = (plan: SitePlan): Device[] => Object.values(plan.devices).filter((d) => plan.profiles[d.profileId]!.kind === 'host')

export function flowsOf(plan: SitePlan, hosts = hostsOf(plan)): Flow[] {
  const ends = [...hosts, 'internet' as const]
  const name = (e: Device | 'internet'): string => (e === 'internet' ? e : e.id)
  return ends.flatMap((from) => ends.filter((to) => to !== from).flatMap((to) => Object.values(plan.services).map((service) => ({ id: `${name(from)}>${name(to)}:${service.id}`, from, to, service }))))
}
