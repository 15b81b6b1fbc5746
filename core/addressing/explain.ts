/**
 * Addresses and subnets as people type and paste them, with what is wrong in words that say what to
 * write instead.
 */
import { formatAddress, looksLikeMask, parseAddress, type Address } from './address'
import { formatPrefix, maskOf, readPrefix, type Prefix } from './prefix'

export type Explained<T> = { ok: true; value: T } | { ok: false; reason: string }
const no = (reason: string): { ok: false; reason: string } => ({ ok: false, reason })

/**
 * An address of a host. Masks, prefixes, IPv4-mapped IPv6, leading zeros and other near misses are
 * named.
 */
export function explainAddress(text: string): Explained<Address> {
  const plain = text.trim()
  if (plain === '') return no('an address is missing')
  if (plain.includes('/'))
    return no(`'${plain}' is a subnet; write the address alone, ${plain.split('/')[0]}`)
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(plain)
  if (mapped)
    return no(
      `'${plain}' is an IPv4 address written as IPv6 (RFC 4291 2.5.5.2); write ${mapped[1]}`,
    )
  const a = parseAddress(plain)
  if (a)
    return looksLikeMask(a)
      ? no(`'${plain}' is a mask, not an address; did mask and gateway change places?`)
      : { ok: true, value: a }
  const octets = plain.split('.')
  if (/^[\d.]+$/.test(plain)) {
    if (octets.length !== 4)
      return no(
        `'${plain}' has ${octets.length} ${octets.length === 1 ? 'part' : 'parts'}; an IPv4 address has four`,
      )
    const zeros = octets.find((o) => /^0\d/.test(o))
    if (zeros)
      return no(
        `'${plain}' has the leading zero of ${zeros}, which some programs read as octal; ` +
          `write ${octets.map((o) => String(Number(o))).join('.')}`,
      )
    const large = octets.find((o) => Number(o) > 255)
    if (large) return no(`'${plain}' has ${large}; the parts of an IPv4 address end at 255`)
  }
  if (plain.includes('%')) return no(`'${plain}' has a zone index; write the address alone`)
  return no(`'${plain}' is not an address; expected for example 10.20.30.1`)
}

/**
 * A subnet as `network/length`, or with a dotted mask after a slash or a space. Host bits,
 * everything, and masks with holes are named.
 */
export function explainSubnet(text: string): Explained<Prefix> {
  const plain = text.trim()
  if (plain === '') return no('a subnet is missing')
  const [base = '', tail = ''] = plain.split(/\s*\/\s*|\s+/, 2)
  const known = explainAddress(base)
  if (!known.ok)
    return looksLikeMask(parseAddress(base) ?? { family: 6, value: 0n })
      ? no(`'${base}' is a mask where the network should stand; did they change places?`)
      : known
  if (tail === '') return no(`'${plain}' has no length; expected for example ${base}/24`)
  const length = tail.includes('.') ? lengthOfMask(tail) : tail
  if (length === undefined)
    return no(`'${tail}' is not a mask: its ones are not in one run from the left`)
  const read = readPrefix(`${base}/${length}`)
  if ('problem' in read) {
    if (read.problem === 'host bits set' && read.network)
      return no(`host bits are set in '${plain}'; the subnet is ${formatPrefix(read.network)}`)
    return no(`'${plain}' has no length that fits; IPv4 goes to 32, IPv6 to 128`)
  }
  if (read.length === 0)
    return no(`'${plain}' is every address there is; a segment needs a part of it`)
  return { ok: true, value: read }
}

/** The length of a dotted mask; undefined where it is none. */
export function lengthOfMask(text: string): string | undefined {
  for (let length = 0; length <= 32; length++) if (maskOf(length) === text) return String(length)
  return undefined
}

/** A span as `first-last`, of one family, in order. */
export function explainSpan(text: string): Explained<{ first: string; last: string }> {
  const parts = text.trim().split(/\s*[-–]\s*|\s+to\s+/)
  if (parts.length !== 2)
    return no(`'${text.trim()}' is not a span; expected for example 10.20.30.50-10.20.30.199`)
  const [first, last] = parts.map(explainAddress) as [Explained<Address>, Explained<Address>]
  if (!first.ok) return first
  if (!last.ok) return last
  if (first.value.family !== last.value.family) return no(`'${text.trim()}' mixes IPv4 and IPv6`)
  if (first.value.value > last.value.value) return no(`'${text.trim()}' ends before it starts`)
  return { ok: true, value: { first: formatAddress(first.value), last: formatAddress(last.value) } }
}

/** The same as {@link explainSubnet}, as text in its one right spelling. */
export const subnetText = (text: string): Explained<string> => {
  const e = explainSubnet(text)
  return e.ok ? { ok: true, value: formatPrefix(e.value) } : e
}
