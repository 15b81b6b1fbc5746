/** Who leaves for the internet through a tunnel to a provider, and whether that comes up. */
import { activeTunnels, type Peer, type Tunnel } from '../plan'
import type { SiteModel } from '../topology'
import { reckonTunnel } from '../tunnels/reckoned'
import { Lost, type Located, type TraceHop } from './fate'

export interface ByProvider {
  readonly tunnel: Tunnel
  readonly peer: Peer
}

/**
 * IPv4 alone goes through; while it does not come up it is held back, or leaves by the line.
 * @throws Lost where it is held back
 */
export function byProvider(
  model: SiteModel,
  { device, segment }: Located,
  hops: TraceHop[],
): ByProvider | undefined {
  const tunnel = activeTunnels(model.plan).find(
    (t) =>
      t.kind === 'provider' &&
      ((device !== undefined && t.throughIds.includes(device.id)) ||
        t.throughIds.includes(segment.id)),
  )
  if (!tunnel) return undefined
  const [first] = reckonTunnel(model, tunnel).peers
  const why = !tunnel.publicKey
    ? 'has no key yet'
    : !tunnel.subnet
      ? 'has no address from its provider'
      : !first?.peer.publicKey
        ? 'knows no server with a key'
        : !first.peer.endpoint
          ? 'does not know where its server is called'
          : null
  if (first && why === null) {
    hops.push({
      layer: 'route',
      deviceId: tunnel.hostDeviceId,
      text: `leaves through ${tunnel.name}`,
    })
    return { tunnel, peer: first.peer }
  }
  if (tunnel.whenDown === 'blocked')
    throw new Lost(
      {
        kind: 'tunnel',
        id: tunnel.id,
        text: `it goes through ${tunnel.name}, which ${why}: until it comes up it is held back`,
      },
      'broken',
    )
  hops.push({
    layer: 'route',
    deviceId: tunnel.hostDeviceId,
    text: `${tunnel.name} ${why}: meanwhile it leaves by the line`,
  })
  return undefined
}

/** Out at its server, under the address that it gives. */
export function leaveByProvider({ tunnel, peer }: ByProvider, hops: TraceHop[]): void {
  hops.push(
    {
      layer: 'nat',
      deviceId: tunnel.hostDeviceId,
      text: `leaves with ${tunnel.subnet?.split('/')[0] ?? ''} in the tunnel`,
    },
    { layer: 'tunnel', text: `into ${tunnel.name}, and out at ${peer.name}` },
  )
}
