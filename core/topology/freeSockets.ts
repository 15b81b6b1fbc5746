/** Sockets of managed gear in which nothing is: what findings about where to plug in go by. */
import type { Device, Port } from '../plan'
import { selected } from '../remember'
import type { SiteModel } from './siteModel'

export const adoptableOf = (model: SiteModel): Device[] =>
  model.devices.filter((d) => model.profileOf(d.id).adoptable)

/**
 * Copper sockets for hosts, without a licence that is missing. What they depend on, and those that
 * were found last: most edits change none of it.
 */
export const freeSockets = selected(
  ({ plan }: SiteModel) => [plan.devices, plan.profiles, plan.ports, plan.links, plan.uplinks],
  (model) => findFree(model),
)
function findFree(model: SiteModel): readonly Port[] {
  const lines = new Set(Object.values(model.plan.uplinks).map((u) => u.portId))
  const free: Port[] = []
  for (const d of adoptableOf(model)) {
    const profile = model.profileOf(d.id)
    if (profile.vlan !== 'managed') continue
    // Ports are in the order of the housing, as those of the profile are.
    for (const [i, p] of model.portsOf(d.id).entries()) {
      const q = profile.ports[i]!
      if (
        q.role === 'lan' &&
        q.medium === 'copper' &&
        q.licenceId === null &&
        !model.linkAt(p.id) &&
        !lines.has(p.id)
      )
        free.push(p)
    }
  }
  return free
}
