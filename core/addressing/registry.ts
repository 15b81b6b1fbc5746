/**
 * What an address is: the IANA special-purpose address registries (RFC 6890 and the RFCs that added
 * to them).
 * The most specific entry wins; what no entry covers is ordinary public space.
 */
import { parseAddress, type Address } from './address'
import { containsAddress, containsPrefix, prefix, type Prefix } from './prefix'

export type AddressKind =
  | 'private'
  | 'shared'
  | 'loopback'
  | 'link-local'
  | 'documentation'
  | 'benchmarking'
  | 'multicast'
  | 'broadcast'
  | 'this-network'
  | 'reserved'
  | 'translation'
  | 'public'

export interface RegistryEntry {
  readonly prefix: Prefix
  readonly kind: AddressKind
  readonly name: string
  readonly source: string
  /** Whether the registry marks it globally reachable. */
  readonly global: boolean
}

const row = (
  text: string,
  kind: AddressKind,
  name: string,
  source: string,
  global = false,
): RegistryEntry => ({ prefix: prefix(text), kind, name, source, global })

export const registry: readonly RegistryEntry[] = [
  row('0.0.0.0/8', 'this-network', 'this network', 'RFC 791 3.2'),
  row('10.0.0.0/8', 'private', 'private use', 'RFC 1918'),
  row('100.64.0.0/10', 'shared', 'shared space of carrier-grade NAT', 'RFC 6598'),
  row('127.0.0.0/8', 'loopback', 'loopback', 'RFC 1122 3.2.1.3'),
  row('169.254.0.0/16', 'link-local', 'link-local: no lease was obtained', 'RFC 3927'),
  row('172.16.0.0/12', 'private', 'private use', 'RFC 1918'),
  row('192.0.0.0/24', 'reserved', 'IETF protocol assignments', 'RFC 6890 2.1'),
  row('192.0.2.0/24', 'documentation', 'documentation (TEST-NET-1)', 'RFC 5737'),
  row('192.31.196.0/24', 'reserved', 'AS112 service', 'RFC 7535', true),
  row('192.52.193.0/24', 'reserved', 'automatic multicast tunnelling', 'RFC 7450', true),
  row('192.88.99.0/24', 'reserved', 'former 6to4 relay anycast', 'RFC 7526'),
  row('192.168.0.0/16', 'private', 'private use', 'RFC 1918'),
  row('192.175.48.0/24', 'reserved', 'direct delegation AS112 service', 'RFC 7534', true),
  row('198.18.0.0/15', 'benchmarking', 'benchmarking', 'RFC 2544'),
  row('198.51.100.0/24', 'documentation', 'documentation (TEST-NET-2)', 'RFC 5737'),
  row('203.0.113.0/24', 'documentation', 'documentation (TEST-NET-3)', 'RFC 5737'),
  row('224.0.0.0/4', 'multicast', 'multicast', 'RFC 5771'),
  row('240.0.0.0/4', 'reserved', 'reserved for future use', 'RFC 1112 4'),
  row('255.255.255.255/32', 'broadcast', 'limited broadcast', 'RFC 919 7'),
  row('::/128', 'this-network', 'unspecified', 'RFC 4291 2.5.2'),
  row('::1/128', 'loopback', 'loopback', 'RFC 4291 2.5.3'),
  row('::ffff:0:0/96', 'translation', 'IPv4-mapped', 'RFC 4291 2.5.5.2'),
  row('64:ff9b::/96', 'translation', 'IPv4/IPv6 translation', 'RFC 6052', true),
  row('64:ff9b:1::/48', 'translation', 'local-use translation', 'RFC 8215'),
  row('100::/64', 'reserved', 'discard only', 'RFC 6666'),
  row('2001::/23', 'reserved', 'IETF protocol assignments', 'RFC 2928'),
  row('2001:2::/48', 'benchmarking', 'benchmarking', 'RFC 5180'),
  row('2001:db8::/32', 'documentation', 'documentation', 'RFC 3849'),
  row('2002::/16', 'translation', '6to4', 'RFC 3056'),
  row('3fff::/20', 'documentation', 'documentation', 'RFC 9637'),
  row('fc00::/7', 'private', 'unique local', 'RFC 4193'),
  row('fe80::/10', 'link-local', 'link-local', 'RFC 4291 2.5.6'),
  row('ff00::/8', 'multicast', 'multicast', 'RFC 4291 2.7'),
]

const publicSpace = (family: 4 | 6): RegistryEntry => ({
  prefix: prefix(family === 4 ? '0.0.0.0/0' : '::/0'),
  kind: 'public',
  name: 'public address space',
  source: 'no entry in the registry',
  global: true,
})

export function classify(a: Address): RegistryEntry {
  let best: RegistryEntry | undefined
  for (const entry of registry)
    if (containsAddress(entry.prefix, a) && (!best || entry.prefix.length > best.prefix.length))
      best = entry
  return best ?? publicSpace(a.family)
}

export function classifyText(text: string): RegistryEntry | undefined {
  const a = parseAddress(text)
  return a && classify(a)
}

/** The entry that covers a whole prefix, or public space where none does. */
export function classifyPrefix(p: Prefix): RegistryEntry {
  const covering = registry
    .filter((e) => containsPrefix(e.prefix, p))
    .sort((a, b) => b.prefix.length - a.prefix.length)
  return covering[0] ?? publicSpace(p.family)
}

/** The private blocks of RFC 1918, the only space a site's own IPv4 segments should come from. */
export const privateBlocks: readonly Prefix[] = registry
  .filter((e) => e.kind === 'private' && e.prefix.family === 4)
  .map((e) => e.prefix)
export const isPrivate = (p: Prefix): boolean => classifyPrefix(p).kind === 'private'
