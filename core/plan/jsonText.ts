/** What is asked of a JSON text before anybody reads it, and where things stand in it. */

/** The largest plan that limits allow, several times over. */
export const MOST_CHARACTERS = 64_000_000
/** Plans are six deep; other programs' files hardly deeper. */
const MOST_DEPTH = 64
/** A file that is something else has one wrong line after the other; nobody reads them all. */
export const MOST_PROBLEMS = 100

export interface Spot {
  /** From 1. */
  readonly line: number
  /** From 1. */
  readonly column: number
}

/** From offset to line and column. */
export function positions(text: string): (offset: number) => Spot {
  const starts = [0]
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) starts.push(i + 1)
  return (offset) => {
    let [low, high] = [0, starts.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= offset) low = middle
      else high = middle - 1
    }
    return { line: low + 1, column: offset - starts[low]! + 1 }
  }
}

/** What makes a text none that is read at all; undefined where it may be. */
export function unreadable(text: string): { offset: number; reason: string } | undefined {
  if (text.length > MOST_CHARACTERS)
    return {
      offset: 0,
      reason: `the file has more than ${MOST_CHARACTERS / 1e6} million characters; that is no plan`,
    }
  let depth = 0
  let inString = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (inString) {
      if (c === BACKSLASH) i++
      else if (c === QUOTE || c === LINE_FEED) inString = false
    } else if (c === QUOTE) inString = true
    else if (c === OPEN_BRACE || c === OPEN_BRACKET) {
      if (++depth > MOST_DEPTH)
        return { offset: i, reason: `nested deeper than ${MOST_DEPTH} levels` }
    } else if (c === CLOSE_BRACE || c === CLOSE_BRACKET) depth--
  }
  return undefined
}
const [QUOTE, BACKSLASH, LINE_FEED] = [34, 92, 10]
const [OPEN_BRACKET, CLOSE_BRACKET, OPEN_BRACE, CLOSE_BRACE] = [91, 93, 123, 125]

/** Editors of one system put a mark before the text that is no part of it (RFC 8259 8.1). */
export const withoutMark = (text: string): string =>
  text.startsWith('\ufeff') ? text.slice(1) : text
