/** The files of all who are not the gateway: peers, and hosts on which a tunnel ends; as far as they are complete. */
import type { Peer } from '../../plan'
import type { SiteModel } from '../../topology'
import { reckonedTunnels, type ReckonedTunnel } from '../reckoned'
import { mirrored } from '../ike/compare'
import { writeSwanctl } from '../ike/swanctl'
import { ownFile, peerFile, type Keys } from './ends'
import { writeTunnelFile } from './write'

/** How the daemon at the other end is set: as its people say, or as it has to be. */
export function foreignIkeFile(
  { tunnel, called }: Pick<ReckonedTunnel, 'tunnel' | 'called'>,
  { id, name, endpoint, sharedKeyRef }: Peer,
  keys: Keys = {},
): string | null {
  const { ike } = tunnel
  if (!ike) return null
  const end = tunnel.foreignIke ?? mirrored(ike)
  const remote = endpoint ? null : (called?.host ?? null)
  return writeSwanctl([{ id, name, end, remote, sharedKeyRef, interfaceId: 1 }], keys, false)
}

/** @returns text by the id of the peer, or of the tunnel */
export const filesToGive = (model: SiteModel, keys: Keys): Record<string, string> =>
  Object.fromEntries(
    reckonedTunnels(model).flatMap((r): [string, string][] =>
      r.tunnel.protocol !== 'wireguard'
        ? r.peers.flatMap(({ peer }): [string, string][] => {
            const text = foreignIkeFile(r, peer, keys)
            return text === null ? [] : [[peer.id, text]]
          })
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
