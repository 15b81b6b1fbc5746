/**
 * What a picture for a plan of the place is, told from its octets before anything opens it: a small
 * file can say that it is enormous, or grow without end while it is opened.
 */
import { XMLParser } from 'fast-xml-parser'
import { imageSize } from 'image-size'

export const MOST_PICTURE_OCTETS = 30 * 1024 ** 2
/** As many points as a browser opens without trouble. */
export const MOST_MEGAPIXELS = 40
const MOST_SVG_OCTETS = 5 * 1024 ** 2
/** With everything counted as often as it is used. */
const MOST_SVG_ELEMENTS = 100_000

export type PictureFile =
  | { readonly kind: 'points' | 'drawing'; readonly widthPx: number; readonly heightPx: number }
  | { readonly kind: 'pages' }
  | { readonly refused: string }

const starts = (octets: Uint8Array, text: string, from = 0): boolean =>
  [...text].every((c, n) => octets[from + n] === c.charCodeAt(0))

/** Points, a drawing or pages; or why it cannot be put under a plan, in words. */
export function pictureFile(octets: Uint8Array): PictureFile {
  if (octets.length === 0) return { refused: 'the file is empty' }
  if (octets.length > MOST_PICTURE_OCTETS)
    return {
      refused: `the file has ${megabytes(octets.length)} MiB; the most are ${megabytes(MOST_PICTURE_OCTETS)}`,
    }
  // ISO 32000-1 7.5.2: the header; readers look for it in the first kilobyte.
  if (Array.from({ length: 1024 }, (_, n) => n).some((n) => starts(octets, '%PDF-', n)))
    return { kind: 'pages' }
  const isPoints =
    starts(octets, '\x89PNG\r\n\x1a\n') ||
    (octets[0] === 0xff && octets[1] === 0xd8) ||
    (starts(octets, 'RIFF') && starts(octets, 'WEBP', 8))
  if (!isPoints) return svg(octets)
  const size = sizeOf(octets)
  if (!size) return { refused: 'the picture is cut or damaged: it does not say how large it is' }
  const megapixels = (size.widthPx * size.heightPx) / 1e6
  if (megapixels > MOST_MEGAPIXELS)
    return {
      refused:
        `the picture is ${size.widthPx} x ${size.heightPx} points, ${Math.round(megapixels)} ` +
        `megapixels; the most are ${MOST_MEGAPIXELS}: save it smaller`,
    }
  return { kind: 'points', ...size }
}
const megabytes = (octets: number): number => Math.ceil(octets / 1024 ** 2)

/** Of a copy: what reads the size would read on behind the end of a part. */
function sizeOf(octets: Uint8Array): { widthPx: number; heightPx: number } | null {
  try {
    const { width, height } = imageSize(new Uint8Array(octets))
    return width > 0 && height > 0 ? { widthPx: width, heightPx: height } : null
  } catch {
    return null
  }
}

type Node = Record<string, unknown>
/** Scalable Vector Graphics (W3C SVG 1.1, 5.1 and 5.6). */
function svg(octets: Uint8Array): PictureFile {
  const unknown = { refused: 'expected is a PNG, JPEG, WebP or SVG, or a page of a PDF' }
  if (octets.length > MOST_SVG_OCTETS)
    return /^\s*</.test(new TextDecoder().decode(octets.subarray(0, 200)))
      ? { refused: `a drawing has at most ${megabytes(MOST_SVG_OCTETS)} MiB; save it as a PNG` }
      : unknown
  const text = new TextDecoder().decode(octets)
  if (!/<svg[\s/>]/.test(text)) return unknown
  if (/<!ENTITY/i.test(text))
    return { refused: 'the drawing declares entities, which may grow without end; save it plain' }
  let nodes: Node[]
  try {
    nodes = new XMLParser({
      ...{ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '' },
      ...{ processEntities: false, parseAttributeValue: false, removeNSPrefix: true },
    }).parse(text, true) as Node[]
  } catch (error) {
    return { refused: `the drawing is no whole XML: ${(error as Error).message}` }
  }
  const root = nodes.find((n) => Object.hasOwn(n, 'svg'))
  if (!root) return unknown
  const elements = drawnElements(root)
  if (elements > MOST_SVG_ELEMENTS)
    return {
      refused:
        `the drawing repeats its parts to ${elements > 1e9 ? 'over a thousand million' : elements} ` +
        `elements; the most are ${MOST_SVG_ELEMENTS}: save it as a PNG`,
    }
  const size = sizeOf(octets)
  return size
    ? { kind: 'drawing', ...size }
    : {
        refused: 'the drawing does not say how large it is: give it a viewBox, or save it as a PNG',
      }
}

/** Elements, those that are used elsewhere (`use`) counted each time. */
function drawnElements(root: Node): number {
  const attributesOf = (n: Node): Record<string, string> =>
    (n[':@'] as Record<string, string> | undefined) ?? {}
  const childrenOf = (n: Node): Node[] =>
    Object.values(n).find((v): v is Node[] => Array.isArray(v)) ?? []
  const byId = new Map<string, Node>()
  const all: Node[] = [root]
  for (const node of all) {
    const { id } = attributesOf(node)
    if (id) byId.set(id, node)
    for (const child of childrenOf(node)) all.push(child)
  }
  const known = new Map<Node, number>()
  const open = new Set<Node>()
  // A stack of its own: drawings can be nested deeper than calls may be.
  const stack: Node[] = [root]
  const partsOf = (n: Node): Node[] => {
    const used = Object.hasOwn(n, 'use')
      ? byId.get((attributesOf(n).href ?? '').slice(1))
      : undefined
    return used ? [...childrenOf(n), used] : childrenOf(n)
  }
  while (stack.length > 0) {
    const node = stack.at(-1)!
    if (known.has(node)) {
      stack.pop()
      continue
    }
    const parts = partsOf(node)
    if (!open.has(node)) {
      open.add(node)
      // What uses itself is drawn nowhere.
      stack.push(...parts.filter((p) => !known.has(p) && !open.has(p)))
      continue
    }
    known.set(node, 1 + parts.reduce((sum, p) => sum + (known.get(p) ?? 0), 0))
    open.delete(node)
    stack.pop()
  }
  return known.get(root)!
}
