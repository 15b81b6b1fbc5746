/** Whether octets are the kind of picture that they claim to be, by their first octets. */
import type { PhotographType } from '@mast/api'
import { own } from '@mast/core/plan'

/**
 * JPEG (ISO/IEC 10918-1 B.1.1.3: SOI then a marker), PNG (ISO/IEC 15948 5.2), WebP (RFC 9649 2.4).
 */
const starts: Readonly<Record<PhotographType, (b: Buffer) => boolean>> = {
  'image/jpeg': (b) => b.length > 3 && b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff,
  'image/png': (b) =>
    b.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])),
  'image/webp': (b) =>
    b.subarray(0, 4).toString('latin1') === 'RIFF' &&
    b.subarray(8, 12).toString('latin1') === 'WEBP',
}
export const isPhotograph = (octets: Buffer, mediaType: string): boolean =>
  own<(b: Buffer) => boolean>(starts, mediaType)?.(octets) ?? false
