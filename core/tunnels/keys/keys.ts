/** Keys of X25519 as tunnels write them: 32 octets in base64 (RFC 7748, RFC 4648 4). */
import { x25519 } from '@noble/curves/ed25519.js'

export const KEY_OCTETS = 32
const chunk = (text: string): string => text.replace(/\s+/g, '')

export function keyText(octets: Uint8Array): string {
  let binary = ''
  for (const o of octets) binary += String.fromCharCode(o)
  return btoa(binary)
}
/** @returns null where the text is not 32 octets in base64 */
export function keyOctets(text: string): Uint8Array | null {
  const t = chunk(text)
  if (!/^[A-Za-z0-9+/]{43}=$/.test(t)) return null
  const octets = Uint8Array.from(atob(t), (c) => c.charCodeAt(0))
  // Bits that say nothing have to be zero, or two texts would be one key.
  return keyText(octets) === t ? octets : null
}

/**
 * A private key out of 32 random octets, with the bits set that every such key has (RFC 7748 5): so
 * it reads the same everywhere.
 */
export function privateKeyFrom(random: Uint8Array): string {
  if (random.length !== KEY_OCTETS) throw new Error(`a key is made of ${KEY_OCTETS} octets`)
  const k = Uint8Array.from(random)
  k[0]! &= 248
  k[31]! = (k[31]! & 127) | 64
  return keyText(k)
}

/** The public half. @returns null where the text is no key */
export function publicKeyOf(privateKey: string): string | null {
  const octets = keyOctets(privateKey)
  return octets && keyText(x25519.getPublicKey(octets))
}

/** Whether a public key belongs to a private one; null where either is no key. */
export function areOnePair(privateKey: string, publicKey: string): boolean | null {
  const own = publicKeyOf(privateKey)
  return own === null || keyOctets(publicKey) === null ? null : own === publicKey
}
