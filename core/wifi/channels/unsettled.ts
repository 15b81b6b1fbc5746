import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'

/** Access points that send a network and do not hang yet where they will stay. */
export function unsettledOf(model: SiteModel): Device[] {
  const sends = new Set(Object.values(model.plan.wirelessNetworks).flatMap((w) => w.accessPointIds))
  return model.devices.filter((d) => sends.has(d.id) && d.place?.stays !== true)
}
