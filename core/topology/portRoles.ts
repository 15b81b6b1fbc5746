/**
 * What each socket of a managed device is there for: carries one VLAN to hosts, several between
 * devices, or nothing at all; and whom it lets speak. Leases and router
 * advertisements come by the sockets that lead to whoever hands them out, and by no other.
 */
import { remembered } from '../remember'
import type { Port } from '../plan'
import { cableDepth, cablePath } from './needs'
import type { SiteModel } from './siteModel'

export interface PortRole {
  /** `parked` is empty and carries nothing. */
  readonly mode: 'access' | 'trunk' | 'parked'
  /**
   * Hosts are behind it, no switch: another bridge that speaks there is a mistake (IEEE 802.1Q
   * 13.25, an edge port).
   */
  readonly isEdge: boolean
  /** Servers of leases and routers are reached by it. */
  readonly isTrusted: boolean
  /** What is at the other end of its cable. */
  readonly leadsTo: string | null
}

export const portRolesOf: (model: SiteModel) => ReadonlyMap<string, PortRole> = remembered(
  (model) => work(model),
)

function work(model: SiteModel): Map<string, PortRole> {
  const out = new Map<string, PortRole>()
  const towardsServers = new Set<string>()
  const servers = new Set(
    model.segments.flatMap((s) =>
      s.dhcp.mode === 'relay' && s.dhcp.relayTo ? [s.dhcp.relayTo] : [],
    ),
  )
  for (const d of model.devices)
    if (d.addressing.address && servers.has(d.addressing.address))
      for (const [leaving] of cablePath(model, d.id) ?? []) towardsServers.add(leaving.id)
  for (const d of model.devices) {
    const { vlan, kind } = model.profileOf(d.id)
    if (vlan !== 'managed') continue
    for (const p of model.portsOf(d.id))
      if (model.profilePortOf(p.id).role !== 'wan')
        out.set(p.id, roleOf(model, p, kind === 'gateway', towardsServers.has(p.id)))
  }
  return out
}

function roleOf(model: SiteModel, p: Port, isGateway: boolean, leadsToServer: boolean): PortRole {
  const peer = model.peerOf(p.id)
  const isEmpty = p.untaggedSegmentId === null && p.taggedSegmentIds.length === 0
  const end = peer && model.profileOf(peer.deviceId)
  const isEdge = end === undefined || end.vlan === 'none'
  // Towards the gateway, or beside it to a device as near: by either a server may be reached.
  const isUp =
    peer !== undefined &&
    !isEdge &&
    !isGateway &&
    cableDepth(model, peer.deviceId) <= cableDepth(model, p.deviceId)
  return {
    mode: !peer && isEmpty ? 'parked' : p.taggedSegmentIds.length > 0 ? 'trunk' : 'access',
    isEdge,
    isTrusted: isUp || leadsToServer,
    leadsTo: peer ? model.portName(peer.id) : null,
  }
}
