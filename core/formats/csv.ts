/**
 * CSV (RFC 4180) in and out. Reading keeps the line that each record starts on and tolerates what
 * spreadsheets do: a byte order mark, semicolons or
 * tabs between, quoted line breaks. Writing guards cells that a spreadsheet would take for a
 * formula.
 */
import Papa from 'papaparse'

export interface CsvProblem {
  readonly line: number
  readonly column: number
  readonly reason: string
}
export interface CsvRecord {
  readonly line: number
  readonly cells: readonly string[]
}
export interface CsvText {
  readonly records: readonly CsvRecord[]
  readonly problems: readonly CsvProblem[]
}

export const MAX_CSV_OCTETS = 16_000_000
export const MAX_CSV_ROWS = 100_000

const tooLarge = (mostOctets = MAX_CSV_OCTETS): CsvText => ({
  records: [],
  problems: [
    { line: 1, column: 1, reason: `the file is larger than ${mostOctets / 1e6} MB; split it` },
  ],
})

/**
 * The octets of a file as text. What is not UTF-8 is named with the line it starts on; UTF-16 is
 * read by its byte order mark.
 */
export function decodeText(
  octets: Uint8Array,
  mostOctets = MAX_CSV_OCTETS,
): { text: string } | { problem: CsvProblem } {
  if (octets.length > mostOctets) return { problem: tooLarge(mostOctets).problems[0]! }
  const encoding =
    octets[0] === 0xff && octets[1] === 0xfe
      ? 'utf-16le'
      : octets[0] === 0xfe && octets[1] === 0xff
        ? 'utf-16be'
        : 'utf-8'
  try {
    return { text: new TextDecoder(encoding, { fatal: true }).decode(octets) }
  } catch {
    const before = new TextDecoder('latin1').decode(octets)
    const bad = firstBroken(octets)
    return {
      problem: {
        line: before.slice(0, bad).split('\n').length,
        column: bad - before.lastIndexOf('\n', bad - 1),
        reason:
          `octet ${octets[bad]!.toString(16).padStart(2, '0')} is not UTF-8; save the file as ` +
          'UTF-8 and read it again',
      },
    }
  }
}

/** Offset of the first octet that breaks UTF-8 (RFC 3629), by halving. */
function firstBroken(octets: Uint8Array): number {
  let good = 0
  let bad = octets.length
  const reads = (length: number): boolean => {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(octets.subarray(0, length), { stream: true })
      return true
    } catch {
      return false
    }
  }
  while (bad - good > 1) {
    const middle = (good + bad) >>> 1
    if (reads(middle)) good = middle
    else bad = middle
  }
  return Math.max(0, bad - 1)
}

/** What parts the cells: told from the heading, which has no lists in its cells. */
function delimiterOf(text: string): string {
  const heading = (text.split(/\r?\n/, 50).find((l) => l.trim() !== '') ?? '').replace(
    /"[^"]*"/g,
    '',
  )
  const count = (d: string): number => heading.split(d).length
  return [',', ';', '\t'].sort((a, b) => count(b) - count(a))[0]!
}

/**
 * Records that have anything in them. A quotation mark that is never closed is named by the line
 * where it opens.
 */
export function readCsv(text: string): CsvText {
  if (text.length > MAX_CSV_OCTETS) return tooLarge()
  const plain = text.replace(/^\uFEFF/, '')
  const records: CsvRecord[] = []
  const problems: CsvProblem[] = []
  let start = 0
  let line = 1
  Papa.parse<string[]>(plain, {
    skipEmptyLines: false,
    delimiter: delimiterOf(plain),
    step({ data, meta, errors }, parser) {
      const quote = errors.find((e) => e.type === 'Quotes')
      if (quote)
        problems.push({
          line,
          column: Math.max(1, data.length),
          reason:
            quote.code === 'MissingQuotes'
              ? 'a quotation mark opens here and is never closed'
              : 'a quotation mark stands inside a cell; double it',
        })
      if (data.some((c) => c.trim() !== '')) records.push({ line, cells: data })
      for (let i = start; i < meta.cursor; i++) if (plain.charCodeAt(i) === 10) line++
      start = meta.cursor
      if (records.length > MAX_CSV_ROWS + 1) {
        problems.push({
          line,
          column: 1,
          reason: `more than ${MAX_CSV_ROWS.toLocaleString('en-GB')} rows; split the file`,
        })
        parser.abort()
      }
    },
  })
  return { records, problems }
}

/** What begins a formula, also in the full width of East Asian keyboards. */
const FORMULA = '[=+\\-@\uff1d\uff0b\uff0d\uff20]'
/**
 * Where a cell may begin for whoever reads the file: at its start, and, in programs that part by
 * something else than commas or know no quoted line breaks, within it.
 */
const STARTS = new RegExp(`(^|[;|\\t\\r\\n])(?=[ ']*${FORMULA})`, 'g')
const GUARDED = new RegExp(`(^|[;|\\t\\r\\n])'(?=[ ']*${FORMULA})`, 'g')
/** What starts like a formula gets an apostrophe, which reading takes off again. */
export const guardCell = (cell: string): string => cell.replace(STARTS, `$1'`)
export const unguardCell = (cell: string): string => cell.trim().replace(GUARDED, '$1')

export function writeCsv(
  header: readonly string[],
  rows: readonly (readonly (string | number | null)[])[],
): string {
  const cells = [header, ...rows].map((row) =>
    row.map((c) => (c === null ? '' : typeof c === 'number' ? String(c) : guardCell(c))),
  )
  return Papa.unparse(cells as string[][], { newline: '\r\n' }) + '\r\n'
}

export interface Columns<C extends string> {
  readonly names: readonly C[]
  readonly aliases: Readonly<Record<string, C>>
  readonly must: readonly C[]
  /** What the table is called. */ readonly of: string
}
/**
 * Which column of a file each name stands for: by its heading, or as chosen by a person. -1 where
 * it is not there.
 */
export type Mapping<C extends string> = Readonly<Record<C, number>>

export const columnKey = (cell: string): string =>
  unguardCell(cell)
    .toLowerCase()
    .replace(/[_\s]+/g, ' ')

/**
 * Guesses the mapping from a heading. Headings that say nothing known are named; they are left out.
 */
export function mapColumns<C extends string>(
  header: CsvRecord,
  { names, aliases, must, of }: Columns<C>,
  chosen?: Mapping<C>,
): { mapping: Mapping<C>; problems: CsvProblem[]; unknown: CsvProblem[] } {
  const mapping = Object.fromEntries(names.map((n) => [n, -1])) as Record<C, number>
  const unknown: CsvProblem[] = []
  header.cells.forEach((cell, i) => {
    const key = columnKey(cell)
    const name = (names as readonly string[]).includes(key) ? (key as C) : aliases[key]
    if (name && mapping[name] < 0) mapping[name] = i
    else if (key && !name)
      unknown.push({
        line: header.line,
        column: i + 1,
        reason: `'${cell.trim()}' is not a column of ${of}; known are ${names.join(', ')}`,
      })
  })
  const final = chosen ?? mapping
  return {
    mapping: final,
    unknown,
    problems: must
      .filter((m) => final[m] < 0)
      .map((m) => ({ line: header.line, column: 1, reason: `the column '${m}' is missing` })),
  }
}

/** What the first line names its columns, whatever parts them. */
export const headingKeys = (text: string): string[] =>
  text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/, 1)[0]!
    .split(/[,;\t]/)
    .map(columnKey)
