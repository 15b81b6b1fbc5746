/**
 * What devices remember, keys and tokens among it, is sealed on disk (AES-256-GCM) with a key that
 * the start command gives.
 */
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'

const NONCE_BYTES = 12
const TAG_BYTES = 16
const MARK = Buffer.from('able-mast-world-1\n')

export interface Sealing {
  seal(text: string, name: string): Buffer
  open(bytes: Buffer, name: string): string
}

/** @param key 32 octets. The name of what is sealed is bound in. */
export function sealingWith(key: Buffer): Sealing {
  if (key.length !== 32) throw new Error('the key of the stand-ins is not 32 octets')
  return {
    seal(text, name) {
      const nonce = randomBytes(NONCE_BYTES)
      const cipher = createCipheriv('aes-256-gcm', key, nonce).setAAD(Buffer.from(name))
      const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
      return Buffer.concat([MARK, nonce, cipher.getAuthTag(), body])
    },
    open(bytes, name) {
      // Files of earlier versions were not sealed; they are with the next time that they are
      // written.
      if (!bytes.subarray(0, MARK.length).equals(MARK)) return bytes.toString('utf8')
      const [from, tag] = [MARK.length + NONCE_BYTES, MARK.length + NONCE_BYTES + TAG_BYTES]
      const decipher = createDecipheriv(
        'aes-256-gcm',
        key,
        bytes.subarray(MARK.length, from),
      ).setAAD(Buffer.from(name))
      decipher.setAuthTag(bytes.subarray(from, tag))
      return Buffer.concat([decipher.update(bytes.subarray(tag)), decipher.final()]).toString(
        'utf8',
      )
    },
  }
}
