/**
 * The text of a tunnel's file: sections of `Name = value` lines, as its own tools read them. What is
 * not known here is kept word for word, with its comments, so that nothing is lost by reading and
 * writing.
 */
export interface FileLine {
  /** From 1. */
  readonly line: number
  /** Where the value begins, from 1. */
  readonly column: number
  readonly name: string
  readonly value: string
}
export interface FileSection {
  readonly kind: 'interface' | 'peer'
  readonly line: number
  readonly lines: readonly FileLine[]
  /** Comments that stand before it or in it, without the sign. */
  readonly comments: readonly string[]
}
export interface FileProblem {
  readonly line: number
  readonly column: number
  readonly reason: string
}

/** Files of tunnels are a few kilobytes; a hundred peers with comments are not more than this. */
export const MOST_OCTETS = 1_000_000

export function readSections(text: string): {
  readonly sections: readonly FileSection[]
  readonly problems: readonly FileProblem[]
} {
  const sections: { -readonly [K in keyof FileSection]: FileSection[K] }[] = []
  const problems: FileProblem[] = []
  let before: string[] = []
  let now: { lines: FileLine[]; comments: string[] } | null = null
  if (text.length > MOST_OCTETS)
    return {
      sections,
      problems: [{ line: 1, column: 1, reason: 'this is too large for the file of a tunnel' }],
    }
  for (const [i, raw] of text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .entries()) {
    const line = i + 1
    const hash = raw.indexOf('#')
    const code = hash < 0 ? raw : raw.slice(0, hash)
    const comment = hash < 0 ? '' : raw.slice(hash + 1).trim()
    const trimmed = code.trim()
    const column = code.length - code.trimStart().length + 1
    if (comment) (trimmed === '' || !now ? before : now.comments).push(comment)
    if (trimmed === '') continue
    if (trimmed.startsWith('[')) {
      const kind = /^\[\s*(interface|peer)\s*\]$/i.exec(trimmed)?.[1]?.toLowerCase()
      if (!kind) {
        problems.push({
          line,
          column,
          reason: `'${trimmed.slice(0, 40)}' is no section; expected [Interface] or [Peer]`,
        })
        now = null
        continue
      }
      now = { lines: [], comments: before }
      before = []
      sections.push({ kind: kind as FileSection['kind'], line, ...now })
      continue
    }
    const at = code.indexOf('=')
    if (at < 0) {
      problems.push({ line, column, reason: `'${trimmed.slice(0, 40)}' is no 'name = value'` })
      continue
    }
    const name = code.slice(0, at).trim()
    const rest = code.slice(at + 1)
    if (!now) {
      problems.push({ line, column, reason: `'${name.slice(0, 40)}' stands before any section` })
      continue
    }
    if (before.length > 0) now.comments.push(...before.splice(0))
    now.lines.push({
      line,
      column: at + 2 + (rest.length - rest.trimStart().length),
      name,
      value: rest.trim(),
    })
  }
  return { sections, problems }
}

/** Of a section the values under a name, which is the same in capitals; several lines add up. */
export const valuesOf = (s: FileSection, name: string): FileLine[] =>
  s.lines.filter((l) => l.name.toLowerCase() === name.toLowerCase())
