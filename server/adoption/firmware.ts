/**
 * Firmware images of the invented equipment: octets that are the same for the same profile and
 * version, so that their digest can be checked.
 */
import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'

const IMAGE_BYTES = 64 * 1024

const digests = new LRUCache<string, string>({ max: 1000 })
/** SHA-256 of an image, made once: every device of a kind asks for it. */
export function firmwareDigest(profileId: string, version: string): string {
  const key = JSON.stringify([profileId, version])
  const digest =
    digests.get(key) ?? createHash('sha256').update(firmwareImage(profileId, version)).digest('hex')
  digests.set(key, digest)
  return digest
}

export function firmwareImage(profileId: string, version: string): Buffer {
  const out = Buffer.alloc(IMAGE_BYTES)
  let block = createHash('sha256').update(`${profileId} ${version}`).digest()
  for (let at = 0; at < IMAGE_BYTES; at += block.length) {
    block.copy(out, at)
    block = createHash('sha256').update(block).digest()
  }
  return out
}
