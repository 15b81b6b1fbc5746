/** Tunnels that end on the gateway, as its configuration has them. */
import type { GatewayConfiguration } from '@mast/protocol'
import { own } from '../plan'
import type { SiteModel } from '../topology'
import { ownWithLength, reckonedTunnels } from '../tunnels/reckoned'

type Written = GatewayConfiguration['tunnels'][number]

/** Peers whose public key nobody has yet are left out: they cannot come in. */
export function gatewayTunnels(
  model: SiteModel,
  secrets: Readonly<Record<string, string>>,
  missing: string[],
): Written[] {
  const secret = (ref: string, what: string): string | null => {
    const found = ref ? own(secrets, ref) : undefined
    if (ref && found === undefined) missing.push(what)
    return found ?? null
  }
  return reckonedTunnels(model)
    .filter((r) => r.isOnGateway)
    .map((r): Written => {
      const { tunnel } = r
      return {
        zone: `tunnel:${tunnel.id}`,
        name: tunnel.name,
        protocol: tunnel.protocol,
        kind: tunnel.kind,
        address: ownWithLength(r),
        listenPort: tunnel.listenPort,
        mtu: r.size.mtu,
        privateKey: secret(tunnel.privateKeyRef, `the private key of ${tunnel.name}`),
        peers: r.peers.flatMap(({ peer, allowedHere, keepaliveHere }) =>
          peer.publicKey
            ? [
                {
                  name: peer.name,
                  publicKey: peer.publicKey,
                  sharedKey: secret(peer.sharedKeyRef, `the shared key of ${peer.name}`),
                  allowed: [...allowedHere],
                  endpoint: peer.endpoint,
                  keepaliveSeconds: keepaliveHere,
                },
              ]
            : [],
        ),
        through: tunnel.throughIds.flatMap((id) => {
          const address = own(model.plan.devices, id)?.addressing.address
          return own(model.plan.segments, id)?.subnet ?? (address ? `${address}/32` : [])
        }),
        whenDown: tunnel.whenDown,
      }
    })
}
