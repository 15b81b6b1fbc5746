/** The files of all who are not the gateway: peers, and hosts on which a tunnel ends; as far as they are complete. */
import type { SiteModel } from '../../topology'
import { reckonedTunnels } from '../reckoned'
import { ownFile, peerFile, type Keys } from './ends'
import { writeTunnelFile } from './write'

/** @returns text by the id of the peer, or of the tunnel */
export const filesToGive = (model: SiteModel, keys: Keys): Record<string, string> =>
  Object.fromEntries(
    reckonedTunnels(model).flatMap((r): [string, string][] =>
      r.tunnel.protocol !== 'wireguard'
        ? []
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
