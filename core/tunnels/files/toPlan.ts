/** What a file that was read becomes in a plan: a tunnel to a provider, or to other sites. */
import type { Peer, Tunnel } from '../../plan'
import type { ReadTunnel } from './read'

export interface FromFile {
  readonly kind: Tunnel['kind']
  readonly tunnel: Pick<Tunnel, 'subnet' | 'mtu' | 'listenPort'>
  /** All that stand in it, in their order. */
  readonly peers: readonly Pick<
    Peer,
    'name' | 'publicKey' | 'endpoint' | 'keepaliveSeconds' | 'networks' | 'device'
  >[]
}

/** Everything goes to a provider; whoever is given some networks alone is another site. */
export function fromFile(read: ReadTunnel): FromFile {
  const isEverything = (net: string): boolean => net.endsWith('/0')
  const kind = read.peers.some((p) => p.allowed.some(isEverything)) ? 'provider' : 'sites'
  const address = read.addresses.find((a) => !a.includes(':'))
  const isAlone = kind === 'provider'
  return {
    kind,
    tunnel: {
      // With the length as it stands there, the tunnel's own network is known only where it is no host's.
      subnet: address ? `${address.split('/')[0]!}/32` : null,
      mtu: read.mtu,
      listenPort: isAlone ? null : read.listenPort,
    },
    peers: read.peers.map((p, n) => ({
      name: (
        p.name ?? `${isAlone ? 'Server of the provider' : 'The other site'}${n ? ` ${n + 1}` : ''}`
      ).slice(0, 80),
      device: isAlone ? 'server' : 'gateway',
      publicKey: p.publicKey,
      endpoint: p.endpoint,
      keepaliveSeconds: p.keepaliveSeconds,
      networks: isAlone ? [] : p.allowed.filter((net) => !isEverything(net)),
    })),
  }
}
