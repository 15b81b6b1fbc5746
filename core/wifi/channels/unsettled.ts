import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'

/** Access points that send a network and do not hang yet where they will stay. */
export function unsettledOf(model: SiteModel): Device[] {
  const sends = new Set(Object.values(model.plan.wirelessNetworks).flatMap((w) => w.accessPointIds))
  return model.devices.filter((d) => sends.has(d.id) && d.place?.stays !== true)
}

/** Who they are and what is the matter, in words; null where all hang where they stay. */
export function unsettledWords(devices: readonly Device[]): string | null {
  const [first, ...more] = devices
  if (!first) return null
  return more.length === 0
    ? `${first.name} does not hang where it stays yet: what is heard now is not what will be heard`
    : `${first.name} and ${more.length} more do not hang where they stay yet: ` +
        'what is heard now is not what will be heard'
}
