/**
 * DHCP options octet for octet (RFC 2132 and those that added to it). Each encoder gives the
 * content of the option; {@link optionOctets}
 * puts code and length before it.
 */
import { address } from './address'
import { prefix } from './prefix'

const fourOctets = (text: string): number[] => {
  const { family, value } = address(text)
  if (family !== 4) throw new RangeError(`'${text}' is not an IPv4 address`)
  return [24n, 16n, 8n, 0n].map((s) => Number((value >> s) & 255n))
}
/** Options 3, 6, 42 and 138: addresses one after the other (RFC 2132 3.5, 3.8, 8.3; RFC 5417). */
export const addressList = (list: readonly string[]): Uint8Array =>
  Uint8Array.from(list.flatMap(fourOctets))
/** Options 51, 58 and 59: seconds in four octets (RFC 2132 9.2, 9.11, 9.12). */
export const seconds = (value: number): Uint8Array =>
  Uint8Array.of((value >>> 24) & 255, (value >>> 16) & 255, (value >>> 8) & 255, value & 255)
/** Options 12, 15 and others: text without an end mark. */
export const plainText = (text: string): Uint8Array => new TextEncoder().encode(text)
/** Option 1. */
export const maskOctets = (length: number): Uint8Array =>
  seconds(length === 0 ? 0 : (0xffffffff << (32 - length)) >>> 0)

export interface ClasslessRoute {
  readonly to: string
  readonly via: string
}
/**
 * Option 121: the significant octets of every destination after its length, then the router (RFC
 * 3442).
 */
export const classlessRoutes = (routes: readonly ClasslessRoute[]): Uint8Array =>
  Uint8Array.from(routes.flatMap(({ to, via }) => [...destination(to), ...fourOctets(via)]))
/** A destination as in RFC 3442: 10.27.129.0/24 -> 24.10.27.129. */
export function destination(to: string): number[] {
  const p = prefix(to)
  return [p.length, ...fourOctets(to.split('/')[0]!).slice(0, Math.ceil(p.length / 8))]
}

/** Option 43 with one sub-option: its code, its length, the text (RFC 2132 8.4). */
export const vendorText = (code: number, text: string): Uint8Array => {
  const octets = plainText(text)
  if (octets.length > 253)
    throw new RangeError(
      `'${text.slice(0, 20)}...' has ${octets.length} octets; a sub-option of option 43 ` +
        'holds 253 beside its own code and length',
    )
  return Uint8Array.of(code, octets.length, ...octets)
}
/** Option 143: URIs, each after its length in two octets (RFC 8572 8.1). */
export const bootstrapUris = (uris: readonly string[]): Uint8Array =>
  Uint8Array.from(
    uris.flatMap((u) => {
      const o = plainText(u)
      return [o.length >> 8, o.length & 255, ...o]
    }),
  )

/** Option 119: names as in messages of the DNS, without compression (RFC 3397, RFC 1035 3.1). */
export const domainSearch = (domains: readonly string[]): Uint8Array =>
  Uint8Array.from(
    domains.flatMap((d) => [
      ...d.split('.').flatMap((label) => [label.length, ...plainText(label)]),
      0,
    ]),
  )

export const OPTION = {
  mask: 1,
  router: 3,
  nameServers: 6,
  domain: 15,
  timeServers: 42,
  vendor: 43,
  lease: 51,
  renew: 58,
  rebind: 59,
  search: 119,
  routes: 121,
  accessControllers: 138,
  bootstrap: 143,
  /** The same in DHCPv6, with the same content (RFC 8572 8.2). */
  bootstrap6: 136,
} as const

export interface EncodedOption {
  readonly code: number
  readonly name: string
  readonly says: string
  readonly content: Uint8Array
  readonly source: string
}

/**
 * Code, length and content, as on the wire. Content over 255 octets is split over several options
 * of the code (RFC 3396).
 */
export function optionOctets(code: number, content: Uint8Array): Uint8Array {
  const out: number[] = []
  for (let at = 0; at === 0 || at < content.length; at += 255) {
    const part = content.subarray(at, at + 255)
    out.push(code, part.length, ...part)
  }
  return Uint8Array.from(out)
}

export const hexOf = (octets: Uint8Array): string =>
  [...octets].map((o) => o.toString(16).padStart(2, '0')).join('')
