/** Tunnels: keys, networks, what goes through them, files. */
export { KEY_OCTETS, areOnePair, privateKeyFrom, publicKeyOf } from './keys/keys'
export { transferOf } from './carrying/speed'
export { reachedFrom, type Reached } from './reach/reach'
export { readTunnelFile } from './files/read'
export { ownFile, peerFile } from './files/ends'
export { writeTunnelFile } from './files/write'
export { reckonTunnel, USUAL_PORT, type ReckonedPeer, type ReckonedTunnel } from './reckoned'
