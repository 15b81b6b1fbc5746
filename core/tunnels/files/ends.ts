/** The files of both ends, with keys that the caller has: the plan has none that are secret. */
import { own } from '../../plan'
import { ownWithLength, type ReckonedPeer, type ReckonedTunnel } from '../reckoned'
import type { WrittenTunnel } from './write'

/** By their names in the vault. */
export type Keys = Readonly<Record<string, string>>
const keyOf = (keys: Keys, ref: string): string | null =>
  ref === '' ? null : (own(keys, ref) ?? null)

/** What a peer is given. @returns what is missing for it, in words, where it is not complete */
export function peerFile(
  r: ReckonedTunnel,
  p: ReckonedPeer,
  keys: Keys,
): { readonly file: WrittenTunnel; readonly missing: readonly string[] } {
  const { tunnel } = r
  const { peer } = p
  const missing = [
    ...(tunnel.publicKey ? [] : [`the public key of ${tunnel.name}`]),
    ...(r.called ? [] : [`where it is called: ${r.whyNot}`]),
    ...(peer.address ? [] : [`an address for ${peer.name}`]),
    ...(peer.privateKeyRef && !keyOf(keys, peer.privateKeyRef)
      ? [`the private key of ${peer.name}`]
      : []),
  ]
  return {
    missing,
    file: {
      name: `${peer.name}: ${tunnel.name}`,
      privateKey: keyOf(keys, peer.privateKeyRef),
      addresses: peer.address ? [`${peer.address}/32`] : [],
      listenPort: null,
      mtu: r.size.mtu,
      nameServers:
        tunnel.kind === 'sites'
          ? []
          : tunnel.nameServers.length > 0
            ? tunnel.nameServers
            : r.isOnGateway && r.ownAddress
              ? [r.ownAddress]
              : [],
      peers: tunnel.publicKey
        ? [
            {
              name: tunnel.name,
              publicKey: tunnel.publicKey,
              sharedKey: keyOf(keys, peer.sharedKeyRef),
              allowed: p.allowedThere,
              endpoint: r.called,
              keepaliveSeconds: p.keepaliveThere || null,
            },
          ]
        : [],
    },
  }
}

/** What this end is set up with, on a Linux host. */
export function ownFile(r: ReckonedTunnel, keys: Keys): WrittenTunnel {
  const { tunnel } = r
  const address = tunnel.kind === 'provider' ? tunnel.subnet : ownWithLength(r)
  return {
    name: tunnel.name,
    privateKey: keyOf(keys, tunnel.privateKeyRef),
    addresses: address ? [address] : [],
    listenPort: tunnel.listenPort,
    mtu: r.size.mtu,
    nameServers: [],
    peers: r.peers.flatMap((p) =>
      p.peer.publicKey
        ? [
            {
              name: p.peer.name,
              publicKey: p.peer.publicKey,
              sharedKey: keyOf(keys, p.peer.sharedKeyRef),
              allowed: p.allowedHere,
              endpoint: p.peer.endpoint,
              keepaliveSeconds: p.keepaliveHere || null,
            },
          ]
        : [],
    ),
  }
}
