/**
 * Names of addresses in the reverse trees: in-addr.arpa (RFC 1035 3.5) and ip6.arpa (RFC 3596 2.5).
 */
import { address, addressBits, formatAddress } from './address'
import { prefixSize, type Prefix } from './prefix'

/** e.g. 10.20.30.1 -> `1.30.20.10.in-addr.arpa`. */
export function reverseName(text: string): string {
  const a = address(text)
  if (a.family === 4) return `${formatAddress(a).split('.').reverse().join('.')}.in-addr.arpa`
  return `${nibbles(a.value).reverse().join('.')}.ip6.arpa`
}
const nibbles = (value: bigint): string[] => value.toString(16).padStart(32, '0').split('')

/**
 * The zones that hold the reverse names of a prefix: cut at octets (at nibbles for IPv6). A subnet
 * longer than /24 lies in the zone of its
 * /24; one that is not on an octet boundary takes several zones.
 */
export function reverseZones(p: Prefix): string[] {
  const unit = p.family === 4 ? 8 : 4
  const cut = Math.min(Math.ceil(p.length / unit) * unit, p.family === 4 ? 24 : 128) || unit
  const step = 1n << BigInt(addressBits(p.family) - cut)
  const count = p.length >= cut ? 1n : prefixSize(p) / step
  const first = (p.network / step) * step
  return Array.from({ length: Number(count) }, (_, i) => {
    const value = first + BigInt(i) * step
    if (p.family === 4)
      return `${formatAddress({ family: 4, value })
        .split('.')
        .slice(0, cut / 8)
        .reverse()
        .join('.')}.in-addr.arpa`
    return `${nibbles(value)
      .slice(0, cut / 4)
      .reverse()
      .join('.')}.ip6.arpa`
  })
}
