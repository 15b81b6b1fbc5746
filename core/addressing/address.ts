/**
 * Internet addresses as numbers. Parsing is strict: four decimal octets without leading zeros for
 * IPv4
 * (RFC 6943 3.1.1 explains why other spellings are dangerous), RFC 4291 2.2 text for IPv6;
 * formatting
 * follows RFC 5952 for IPv6.
 */
import ipaddr from 'ipaddr.js'

export interface Address {
  readonly family: 4 | 6
  /** The address as an unsigned number of 32 or 128 bits. */
  readonly value: bigint
}

export const addressBits = (family: 4 | 6): number => (family === 4 ? 32 : 128)

const fourOctets = /^(?:(?:0|[1-9]\d?|1\d\d|2[0-4]\d|25[0-5])(?:\.(?!$)|$)){4}$/

/**
 * Parses an address, or gives undefined where the text is not one. A zone index (`%eth0`) is
 * refused.
 */
export function parseAddress(text: string): Address | undefined {
  if (fourOctets.test(text)) {
    const [a, b, c, d] = text.split('.').map(Number) as [number, number, number, number]
    return { family: 4, value: BigInt(((a << 24) | (b << 16) | (c << 8) | d) >>> 0) }
  }
  if (!text.includes(':') || text.includes('%')) return undefined
  const plain = withoutDottedTail(text)
  if (plain === undefined || !ipaddr.IPv6.isValid(plain)) return undefined
  const value = ipaddr.IPv6.parse(plain).parts.reduce(
    (sum, part) => (sum << 16n) | BigInt(part),
    0n,
  )
  return { family: 6, value }
}

/**
 * The last 32 bits in hexadecimal where they are written as four octets; the library takes
 * `::1.2.3.4` for an IPv4-mapped address.
 */
function withoutDottedTail(text: string): string | undefined {
  const at = text.lastIndexOf(':') + 1
  const tail = text.slice(at)
  if (!tail.includes('.')) return text
  if (!fourOctets.test(tail)) return undefined
  const [a, b, c, d] = tail.split('.').map(Number) as [number, number, number, number]
  return `${text.slice(0, at)}${((a << 8) | b).toString(16)}:${((c << 8) | d).toString(16)}`
}

/** As {@link parseAddress}, for text known to be good. @throws RangeError where it is not. */
export function address(text: string): Address {
  const parsed = parseAddress(text)
  if (!parsed) throw new RangeError(`'${text}' is not an address; expected for example 10.20.30.1`)
  return parsed
}

export function formatAddress(a: Address): string {
  if (a.family === 4)
    return [24n, 16n, 8n, 0n].map((shift) => String((a.value >> shift) & 255n)).join('.')
  const parts = Array.from({ length: 8 }, (_, i) =>
    Number((a.value >> BigInt(112 - 16 * i)) & 0xffffn),
  )
  return new ipaddr.IPv6(parts).toRFC5952String()
}

/**
 * Whether a dotted quad is a mask (ones, then zeros), as people type into an address field by
 * mistake.
 */
export function looksLikeMask(a: Address): boolean {
  if (a.family !== 4 || a.value < 0xff000000n) return false
  const inverted = a.value ^ 0xffffffffn
  return (inverted & (inverted + 1n)) === 0n
}

/**
 * Modified EUI-64 interface identifier of a 48-bit hardware address (RFC 4291 appendix A), e.g.
 * `3656:78ff:fe9a:bcde`.
 */
export function modifiedEui64(hardwareAddress: string): string {
  const octets = hardwareAddress.split(/[:-]/).map((o) => parseInt(o, 16))
  if (octets.length !== 6 || octets.some((o) => !(o >= 0 && o <= 255)))
    throw new RangeError(
      `'${hardwareAddress}' is not a hardware address; expected for example 02-00-5E-10-00-01`,
    )
  const id = [
    octets[0]! ^ 2,
    octets[1]!,
    octets[2]!,
    0xff,
    0xfe,
    octets[3]!,
    octets[4]!,
    octets[5]!,
  ]
  return [0, 2, 4, 6].map((i) => ((id[i]! << 8) | id[i + 1]!).toString(16)).join(':')
}

/** The address so many further on (or back), e.g. 10.2.0.255 and 1: 10.2.1.0. */
export function addressAfter(text: string, by: number): string {
  const { family, value } = address(text)
  return formatAddress({ family, value: value + BigInt(by) })
}
