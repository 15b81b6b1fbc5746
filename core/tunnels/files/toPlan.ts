/** What a file that was read becomes in a plan: a tunnel to a provider, or to other sites. */
import { formatPrefix, parseAddress, prefixAround } from '../../addressing'
import type { Peer, Tunnel } from '../../plan'
import type { ReadTunnel } from './read'

export interface FromFile {
  readonly kind: Tunnel['kind']
  readonly tunnel: Pick<Tunnel, 'subnet' | 'address' | 'mtu' | 'listenPort'>
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
  const [address, length = '32'] = read.addresses.find((a) => !a.includes(':'))?.split('/') ?? []
  const own = address ? parseAddress(address) : undefined
  const isAlone = kind === 'provider'
  return {
    kind,
    tunnel: {
      // A provider gives one address out of a network that is its own affair.
      subnet: own ? formatPrefix(prefixAround(own, isAlone ? 32 : Number(length))) : null,
      address: isAlone ? null : (address ?? null),
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
