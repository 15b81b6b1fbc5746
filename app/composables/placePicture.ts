import type { PhotographType } from '@mast/api'
import { MOST_MEGAPIXELS, pictureFile } from '@mast/core/wifi/drawing'

/** What lies under a plan is drawn so large at the most, pixels a side. */
const LONGEST_SIDE_PX = 2400
const MOST_KEPT_OCTETS = 3 * 1024 ** 2
/** A page that takes longer, ms, is no plan of a place. */
const PAGE_MS = 30_000

export interface PlacePicture {
  readonly file: string
  readonly mediaType: PhotographType
  readonly widthPx: number
  readonly heightPx: number
}

/**
 * A picture for a plan of the place from a PNG, JPEG, WebP or SVG, or a page of a PDF: drawn here,
 * so that what is kept and shown to others is points and nothing that acts.
 * @param page of a PDF, from 1
 * @throws Error that says in words why not
 */
export async function placePictureFrom(file: File, page: number): Promise<PlacePicture> {
  const octets = new Uint8Array(await file.arrayBuffer())
  const told = pictureFile(octets)
  if ('refused' in told) throw new Error(`${file.name}: ${told.refused}`)
  const canvas =
    told.kind === 'pages'
      ? await pageDrawn(octets, page)
      : told.kind === 'drawing'
        ? await svgDrawn(octets, told)
        : await pointsDrawn(file)
  return { ...(await packed(canvas)), widthPx: canvas.width, heightPx: canvas.height }
}

/** As large as is kept, in proportion. Drawings have no size of their own and may grow. */
function canvasFor(width: number, height: number, mayGrow: boolean): HTMLCanvasElement {
  const most = LONGEST_SIDE_PX / Math.max(width, height)
  const scale = mayGrow ? most : Math.min(1, most)
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(width * scale))
  canvas.height = Math.max(1, Math.round(height * scale))
  const context = canvas.getContext('2d')!
  // Plans are drawn on paper.
  context.fillStyle = 'white'
  context.fillRect(0, 0, canvas.width, canvas.height)
  return canvas
}

async function pointsDrawn(file: File): Promise<HTMLCanvasElement> {
  const picture = await createImageBitmap(file).catch(() => {
    throw new Error(`${file.name} cannot be read as a picture; it may be cut`)
  })
  const canvas = canvasFor(picture.width, picture.height, false)
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  return canvas
}

/** As a picture it runs no scripts and loads nothing. */
async function svgDrawn(
  octets: Uint8Array<ArrayBuffer>,
  size: { readonly widthPx: number; readonly heightPx: number },
): Promise<HTMLCanvasElement> {
  const url = URL.createObjectURL(new Blob([octets], { type: 'image/svg+xml' }))
  try {
    const picture = new Image()
    picture.src = url
    await picture.decode().catch(() => {
      throw new Error('the drawing cannot be shown; save it as a PNG')
    })
    const canvas = canvasFor(size.widthPx, size.heightPx, true)
    canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
    return canvas
  } finally {
    URL.revokeObjectURL(url)
  }
}

async function pageDrawn(octets: Uint8Array, number: number): Promise<HTMLCanvasElement> {
  const [pdf, { default: PdfWorker }] = await Promise.all([
    import('pdfjs-dist'),
    import('pdfjs-dist/build/pdf.worker.mjs?worker'),
  ])
  const thread = new PdfWorker()
  let timer: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`page ${number} takes too long to draw`)), PAGE_MS)
  })
  const worker = pdf.PDFWorker.fromPort({ port: thread })
  try {
    const drawn = (async () => {
      const document_ = await pdf.getDocument({
        ...{ data: octets, worker, maxImageSize: MOST_MEGAPIXELS * 1e6 },
        // Nothing of the file is run as a program, and its fonts are drawn as lines.
        ...{ isEvalSupported: false, disableFontFace: true },
      }).promise
      if (!(number >= 1 && number <= document_.numPages))
        throw new Error(`there is no page ${number}; the file has ${document_.numPages}`)
      const page = await document_.getPage(number)
      const whole = page.getViewport({ scale: 1 })
      const canvas = canvasFor(whole.width, whole.height, true)
      const viewport = page.getViewport({ scale: canvas.width / whole.width })
      await page.render({ canvasContext: canvas.getContext('2d')!, viewport }).promise
      return canvas
    })()
    return await Promise.race([drawn, late])
  } catch (error) {
    throw error instanceof Error && /page/.test(error.message)
      ? error
      : new Error(`the PDF cannot be read: ${error instanceof Error ? error.message : 'damaged'}`)
  } finally {
    clearTimeout(timer)
    thread.terminate()
  }
}

/** Line drawings are small as PNG; photographs from above are not. */
async function packed(
  canvas: HTMLCanvasElement,
): Promise<{ file: string; mediaType: PhotographType }> {
  for (const [mediaType, quality] of [
    ['image/png', 1],
    ['image/jpeg', 0.85],
    ['image/jpeg', 0.6],
  ] as const) {
    const blob = await new Promise<Blob | null>((resolve) => {
      canvas.toBlob(resolve, mediaType, quality)
    })
    if (blob && blob.size <= MOST_KEPT_OCTETS)
      return { file: base64(new Uint8Array(await blob.arrayBuffer())), mediaType }
  }
  throw new Error('the picture cannot be made small enough; save it smaller')
}
