/** Firmware images of the invented equipment: octets that are the same for the same profile and version, so that their digest can be checked. */
import { createHash } from 'node:crypto'

const IMAGE_BYTES = 64 * 1024

export function firmwareImage(profileId: string, version: string): Buffer {
  const out = Buffer.alloc(IMAGE_BYTES)
  let block = createHash('sha256').update(`${profileId} ${version}`).digest()
  for (let at = 0; at < IMAGE_BYTES; at += block.length) {
    block.copy(out, at)
    block = createHash('sha256').update(block).digest()
  }
  return out
}
