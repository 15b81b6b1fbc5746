/** Names on a drawing that lie on none that stands already. */
export interface NameToPut {
  readonly id: string
  readonly text: string
  /** Its middle. */ readonly x: number
  readonly y: number
}
/** A letter and a line of 12 pixels, in pixels. */
export const LETTER_PX = 7
const LINE_PX = 14

/** @param unit a pixel, in what the places are in; the first of two that meet stays */
export function namesWithRoom(names: readonly NameToPut[], unit: number): Set<string> {
  const put: { readonly x: number; readonly y: number; readonly half: number }[] = []
  const ids = new Set<string>()
  for (const { id, text, x, y } of names) {
    const half = (text.length * LETTER_PX * unit) / 2
    if (put.some((p) => Math.abs(p.x - x) <= p.half + half && Math.abs(p.y - y) <= LINE_PX * unit))
      continue
    put.push({ x, y, half })
    ids.add(id)
  }
  return ids
}
