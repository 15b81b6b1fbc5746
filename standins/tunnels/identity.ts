/** Who an end of a tunnel is: the public half of the private key that it holds (RFC 7748). */
import { createPrivateKey, createPublicKey } from 'node:crypto'

/** An X25519 private key in PKCS 8 is its 32 octets behind these (RFC 8410 7). */
const BEFORE_KEY = Buffer.from('302e020100300506032b656e04220420', 'hex')

/** Both in base64; null where it is no key. */
export function publicHalf(privateKey: string): string | null {
  const octets = Buffer.from(privateKey, 'base64')
  if (octets.length !== 32) return null
  const key = createPrivateKey({
    key: Buffer.concat([BEFORE_KEY, octets]),
    format: 'der',
    type: 'pkcs8',
  })
  return createPublicKey(key)
    .export({ format: 'der', type: 'spki' })
    .subarray(-32)
    .toString('base64')
}
