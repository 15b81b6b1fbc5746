import type { PhotographType } from '@mast/api'

/**
 * A photograph made small enough to send over a thin line: at most so many pixels a side, as JPEG.
 */
const LONGEST_SIDE_PX = 1600
const QUALITY = 0.82

export async function photographFrom(
  file: File,
): Promise<{ file: string; mediaType: PhotographType }> {
  const picture = await createImageBitmap(file)
  const scale = Math.min(1, LONGEST_SIDE_PX / Math.max(picture.width, picture.height))
  const canvas = new OffscreenCanvas(
    Math.max(1, Math.round(picture.width * scale)),
    Math.max(1, Math.round(picture.height * scale)),
  )
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  const octets = new Uint8Array(
    await (await canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY })).arrayBuffer(),
  )
  return { file: base64(octets), mediaType: 'image/jpeg' }
}
