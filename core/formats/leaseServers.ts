/**
 * Who hands out the leases of which segments: the gateway for its own, and each server elsewhere to
 * which requests are passed on. Everybody gets a file of their own.
 */
import { hostLabel } from '../naming'
import type { Segment } from '../plan'
import type { SiteModel } from '../topology'

export interface LeaseServer {
  /** Null is the gateway. */
  readonly address: string | null
  readonly name: string
  /** For the names of files; empty for the gateway. */
  readonly suffix: string
  readonly segments: readonly Segment[]
}

/** The gateway first, with what it serves or nothing, then the others by address. */
export function leaseServersOf(model: SiteModel): LeaseServer[] {
  const gateway: LeaseServer = {
    address: null,
    name: model.gateway?.name ?? 'the gateway',
    suffix: '',
    segments: model.segments.filter((s) => s.subnet !== null && s.dhcp.mode === 'server'),
  }
  const elsewhere = [
    ...new Set(
      model.segments.flatMap((s) =>
        s.dhcp.mode === 'relay' && s.dhcp.relayTo ? [s.dhcp.relayTo] : [],
      ),
    ),
  ].sort()
  return [
    gateway,
    ...elsewhere.map((address): LeaseServer => {
      const device = model.devices.find((d) => d.addressing.address === address)
      return {
        address,
        name: device?.name ?? address,
        suffix: `-${device ? hostLabel(device.name) : address.replaceAll('.', '-')}`,
        segments: model.segments.filter(
          (s) => s.subnet !== null && s.dhcp.mode === 'relay' && s.dhcp.relayTo === address,
        ),
      }
    }),
  ]
}

/**
 * A file for each server that hands out leases. The gateway's is there where nobody does, and where
 * it has more to do than that.
 */
export function filesByServer(
  model: SiteModel,
  name: (suffix: string) => string,
  write: (server: LeaseServer) => string,
  hasGatewayMore: boolean,
): Record<string, string> {
  const servers = leaseServersOf(model)
  const isAlone = servers.every((s) => s.segments.length === 0)
  return Object.fromEntries(
    servers
      .filter((s) => s.segments.length > 0 || (s.address === null && (hasGatewayMore || isAlone)))
      .map((s) => [name(s.suffix), write(s)]),
  )
}
