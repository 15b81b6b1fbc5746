/** Where on a plan a fault of a tunnel tells most: somebody on the road, or whoever calls. */
import { activeTunnels, peersOf, type Peer, type SitePlan, type Tunnel } from '@mast/core/plan'

const canCome = (t: Tunnel, p: Peer): boolean =>
  t.protocol === 'wireguard' && t.publicKey !== null && p.publicKey !== null && p.endpoint === null

/** The first who calls, with the tunnel that is called; of one that holds the way open where asked. */
export function caller(
  plan: SitePlan,
  isFit: (t: Tunnel, p: Peer) => boolean = () => true,
): { tunnel: Tunnel; peer: Peer } | undefined {
  for (const tunnel of activeTunnels(plan))
    for (const peer of peersOf(plan, tunnel.id))
      if (tunnel.kind !== 'provider' && canCome(tunnel, peer) && isFit(tunnel, peer))
        return { tunnel, peer }
  return undefined
}
