/** Tunnels that end on the gateway, as its configuration has them. */
import type { GatewayConfiguration } from '@mast/protocol'
import { activeTunnels, own, throughPrefixes, tunnelSpace } from '../plan'
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
        ike: tunnel.protocol === 'ikev2' ? tunnel.ike : null,
        peers: r.peers.flatMap(({ peer, ike, allowedHere, keepaliveHere }) =>
          peer.publicKey || ike
            ? [
                {
                  name: peer.name,
                  publicKey: ike ? '' : peer.publicKey!,
                  sharedKey: secret(peer.sharedKeyRef, `the shared key of ${peer.name}`),
                  // It knows its own end alone.
                  allowed: ike ? (tunnel.ike?.remoteSelectors ?? []) : [...allowedHere],
                  endpoint: peer.endpoint,
                  keepaliveSeconds: keepaliveHere,
                },
              ]
            : [],
        ),
        through: throughPrefixes(model.plan, tunnel),
        whenDown: tunnel.whenDown,
      }
    })
}

/** What lies behind tunnels that end on a host is sent to that host. IPv4 alone. */
export function routesToTunnels(model: SiteModel): GatewayConfiguration['routes'] {
  return reckonedTunnels(model)
    .filter((r) => !r.isOnGateway)
    .flatMap(({ tunnel }) => {
      const via = own(model.plan.devices, tunnel.hostDeviceId)?.addressing.address
      return via
        ? tunnelSpace(model.plan, tunnel)
            .filter((to) => !to.includes(':'))
            .map((to) => ({ to, via }))
        : []
    })
}

/** Names that follow the address of the line, each once. */
export function dynamicNames(
  { plan }: SiteModel,
  secrets: Readonly<Record<string, string>>,
  missing: string[],
): GatewayConfiguration['dynamicNames'] {
  const byName = new Map(
    activeTunnels(plan).flatMap(({ endpointName, dynamicName }) => {
      if (!endpointName || !dynamicName) return []
      const { how, server, ttlSeconds, keyRef } = dynamicName
      const key = keyRef ? (own(secrets, keyRef) ?? null) : null
      if (keyRef && key === null) missing.push(`what lets ${endpointName} be changed`)
      return [[endpointName, { name: endpointName, how, server, ttlSeconds, key }]]
    }),
  )
  return [...byName.values()]
}
