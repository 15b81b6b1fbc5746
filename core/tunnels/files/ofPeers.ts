/** The files of all peers, as text, as far as they are complete. */
import type { SiteModel } from '../../topology'
import { reckonedTunnels } from '../reckoned'
import { peerFile, type Keys } from './ends'
import { writeTunnelFile } from './write'

export const filesOfPeers = (model: SiteModel, keys: Keys): Record<string, string> =>
  Object.fromEntries(
    reckonedTunnels(model).flatMap((r) =>
      r.tunnel.protocol === 'wireguard' && r.tunnel.kind !== 'provider'
        ? r.peers.map((p) => [p.peer.id, writeTunnelFile(peerFile(r, p, keys).file)])
        : [],
    ),
  )
