/**
 * Sealing under a passphrase, for what leaves the system: scrypt (RFC 7914) makes the key,
 * AES-256-GCM seals.
 */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { slowKey } from './slowKey'

/** 2^17 blocks of 8: some tenths of a second and 128 MiB for every guess. */
const COST = { N: 131_072, r: 8, p: 1, maxmem: 192 * 1024 * 1024 }
export interface SealedText {
  readonly kdf: 'scrypt'
  readonly N: number
  readonly r: number
  readonly p: number
  readonly salt: string
  readonly nonce: string
  readonly tag: string
  readonly body: string
}

export async function sealUnder(passphrase: string, plain: string): Promise<SealedText> {
  const salt = randomBytes(16)
  const nonce = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', await slowKey(passphrase, salt, 32, COST), nonce)
  const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()])
  const { N, r, p } = COST
  return {
    kdf: 'scrypt',
    N,
    r,
    p,
    salt: salt.toString('base64'),
    nonce: nonce.toString('base64'),
    tag: cipher.getAuthTag().toString('base64'),
    body: body.toString('base64'),
  }
}

/**
 * The text, or undefined where the passphrase is another or the file was changed. The cost is ours,
 * not the file's: a file cannot ask for more.
 */
export async function openUnder(
  passphrase: string,
  sealed: SealedText,
): Promise<string | undefined> {
  if (sealed.N !== COST.N || sealed.r !== COST.r || sealed.p !== COST.p) return undefined
  const bytes = (text: string): Buffer => Buffer.from(text, 'base64')
  const key = await slowKey(passphrase, bytes(sealed.salt), 32, COST)
  try {
    const decipher = createDecipheriv('aes-256-gcm', key, bytes(sealed.nonce))
    decipher.setAuthTag(bytes(sealed.tag))
    return Buffer.concat([decipher.update(bytes(sealed.body)), decipher.final()]).toString('utf8')
  } catch {
    return undefined
  }
}
