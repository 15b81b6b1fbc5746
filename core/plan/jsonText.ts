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
  // What is open, by what closes it. Whoever reads on after an error closes by the right sign alone,
  // and takes comments for nothing, so both are seen here as there.
  const open: number[] = []
  let inString = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (inString) {
      if (c === BACKSLASH) i++
      else if (c === QUOTE || c === LINE_FEED || c === RETURN) inString = false
    } else if (c === QUOTE) inString = true
    else if (c === SLASH) i = afterComment(text, i)
    else if (c === OPEN_BRACE || c === OPEN_BRACKET) {
      if (open.push(c === OPEN_BRACE ? CLOSE_BRACE : CLOSE_BRACKET) > MOST_DEPTH)
        return { offset: i, reason: `nested deeper than ${MOST_DEPTH} levels` }
    } else if (c === open.at(-1)) open.pop()
  }
  return undefined
}
const [QUOTE, BACKSLASH, LINE_FEED, RETURN, SLASH, STAR] = [34, 92, 10, 13, 47, 42]
const [OPEN_BRACKET, CLOSE_BRACKET, OPEN_BRACE, CLOSE_BRACE] = [91, 93, 123, 125]

/** The last character of a comment that begins here; where it is none, this one. */
function afterComment(text: string, at: number): number {
  const next = text.charCodeAt(at + 1)
  if (next === SLASH) {
    const end = text.slice(at).search(/[\r\n]/)
    return end < 0 ? text.length : at + end
  }
  if (next !== STAR) return at
  const end = text.indexOf('*/', at + 2)
  return end < 0 ? text.length : end + 1
}

/** Editors of one system put a mark before the text that is no part of it (RFC 8259 8.1). */
export const withoutMark = (text: string): string =>
  text.startsWith('\ufeff') ? text.slice(1) : text
