/**
 * One text for one value: keys in order, no white space (as RFC 8785 orders them), so that equal
 * values have equal digests.
 */
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'

export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`
  if (typeof value === 'object' && value !== null) {
    const entries = Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
    return `{${entries.map(([k, v]) => `${JSON.stringify(k)}:${canonicalJson(v)}`).join(',')}}`
  }
  return JSON.stringify(value)
}

/** SHA-256 of the canonical text, in hexadecimal. */
export const digestOf = (value: unknown): string =>
  bytesToHex(sha256(utf8ToBytes(canonicalJson(value))))
