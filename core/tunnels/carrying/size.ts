/** How large packets may be inside a tunnel. */

/**
 * Around each packet: the outer IP header, UDP, and 32 octets of the protocol's own: type, index and
 * counter, 16, and the tag of the cipher, 16.
 */
const OUTER = { ipv4: 20, ipv6: 40 } as const
const UDP = 8
const OWN = 32
/** IPv4 and IPv6 headers with that of TCP, without options (RFC 9293 3.7.1). */
const TCP = { ipv4: 40, ipv6: 60 } as const

export const overheadOf = (outer: keyof typeof OUTER): number => OUTER[outer] + UDP + OWN

/**
 * What ESP adds in UDP over IPv4 with AES-GCM, for a packet of so many octets: outer header 20, UDP
 * 8, SPI and sequence 8, the explicit part of the nonce 8, padding to 4 with its length and the next
 * header 2, the tag 16 (RFC 4303, RFC 3948, RFC 4106).
 */
export function espOverheadOf(octets: number): number {
  const padding = (4 - ((octets + 2) % 4)) % 4
  return 20 + 8 + 8 + 8 + padding + 2 + 16
}
/** The largest packet that fits through ESP on a path, octets. */
export function espMtu(pathMtu: number): number {
  let inner = pathMtu - 62
  while (inner > 0 && inner + espOverheadOf(inner) > pathMtu) inner--
  return inner
}

export interface TunnelSize {
  readonly mtu: number
  /** The largest TCP segments inside, octets (RFC 4459 3.2). */
  readonly segment: { readonly ipv4: number; readonly ipv6: number }
  readonly outer: 'ipv4' | 'ipv6'
  readonly pathMtu: number
}

/**
 * @param pathMtu the least of the lines between both ends, octets
 * @param outer the family that carries it; where both may, the larger header counts
 */
export function tunnelSize(
  pathMtu: number,
  outer: 'ipv4' | 'ipv6',
  protocol: 'wireguard' | 'ikev2' = 'wireguard',
): TunnelSize {
  const mtu =
    protocol === 'ikev2'
      ? espMtu(pathMtu - (outer === 'ipv6' ? OUTER.ipv6 - OUTER.ipv4 : 0))
      : pathMtu - overheadOf(outer)
  return { mtu, segment: { ipv4: mtu - TCP.ipv4, ipv6: mtu - TCP.ipv6 }, outer, pathMtu }
}
