/**
 * A gateway from its box asks a meeting point on the internet who waits for it, where its line gives
 * it an address without being set.
 */
import type { ControllerPlace } from '../../plan'
import type { SiteModel } from '../../topology'

export function atMeetingPoint(
  model: SiteModel,
  place: ControllerPlace,
): { readonly works: boolean; readonly because: string } {
  if (place.kind !== 'internet')
    return {
      works: false,
      because: 'from its box it may be told the address, and has none of its own beside it yet',
    }
  const why = whyNoLine(model)
  if (why) return { works: false, because: why }
  const { minimum } = model.profileOf(model.gateway!.id).firmware
  return {
    works: true,
    because:
      `its line gives it an address by itself, and it is told of ${place.name} by its serial` +
      (minimum ? `; with firmware ${minimum} at the least` : ''),
  }
}

/** Why its line does not come up as it is from its box; null where it does. */
export function whyNoLine({ gateway, lines, profileOf, plan }: SiteModel): string | null {
  const socket = gateway && profileOf(gateway.id).ports.find((p) => p.role === 'wan')
  const line = lines.find((l) => l.portId && plan.ports[l.portId]?.deviceId === gateway?.id)
  if (!socket || !line) return 'no line is planned into a socket of it'
  const { mode, vlan, pinnedHardwareAddress: pinned } = line.handOff
  if (plan.ports[line.portId!]!.name !== socket.name)
    return `${line.name} is not in ${socket.name}, the socket that asks as from its box`
  if (mode !== 'automatic')
    return `${line.name} gives no address by itself: what it wants is typed into its page`
  if (typeof vlan === 'number')
    return `${line.name} wants VLAN ${vlan}, which is typed into its page`
  return pinned && pinned !== 'none' && pinned !== gateway?.hardwareAddress
    ? `${line.name} wants the hardware address ${pinned}`
    : null
}
