/** The files of all who are not the gateway: peers, and hosts on which a tunnel ends; as far as they are complete. */
import type { SiteModel } from '../../topology'
import { reckonedTunnels, type ReckonedTunnel } from '../reckoned'
import { mirrored } from '../ike/compare'
import { writeSwanctl } from '../ike/swanctl'
import { ownFile, peerFile, type Keys } from './ends'
import { writeTunnelFile } from './write'

/** How the daemon at the other end is set: as its people say, or as it has to be. */
function foreignEnds({ tunnel, peers, called }: ReckonedTunnel, keys: Keys): [string, string][] {
  const { ike } = tunnel
  if (!ike) return []
  const end = tunnel.foreignIke ?? mirrored(ike)
  return peers.map(({ peer: { id, name, endpoint, sharedKeyRef } }) => {
    const remote = endpoint ? null : (called?.host ?? null)
    return [
      id,
      writeSwanctl([{ id, name, end, remote, sharedKeyRef, interfaceId: 1 }], keys, false),
    ]
  })
}

/** @returns text by the id of the peer, or of the tunnel */
export const filesToGive = (model: SiteModel, keys: Keys): Record<string, string> =>
  Object.fromEntries(
    reckonedTunnels(model).flatMap((r): [string, string][] =>
      r.tunnel.protocol !== 'wireguard'
        ? foreignEnds(r, keys)
        : [
            ...(r.isOnGateway
              ? []
              : [[r.tunnel.id, writeTunnelFile(ownFile(r, keys))] as [string, string]]),
            ...(r.tunnel.kind === 'provider'
              ? []
              : r.peers.map((p): [string, string] => [
                  p.peer.id,
                  writeTunnelFile(peerFile(r, p, keys).file),
                ])),
          ],
    ),
  )
