/** What is typed of the tests of a line and of what it lies on, read and written. */
import { parseAddress } from '../addressing'
import { uplinkSchema, watchSchema, type LineWatch, type Uplink } from '../plan'

type Test = LineWatch['tests'][number]
type Part = Uplink['parts'][number]
type Read<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: string }

/** Tests as they are usually set (common practice); what is asked is the site's own. */
export const usualWatch: LineWatch = {
  tests: [],
  need: 'any',
  intervalSeconds: 5,
  answerSeconds: 2,
  failures: 12,
  successes: 4,
  linkLoss: 'at-once',
}

const pieces = (text: string): string[] =>
  text
    .split(/[;\n]+/)
    .map((t) => t.trim())
    .filter(Boolean)

const kinds = watchSchema.shape.tests.element.shape.kind.options
/** A name of hosts (RFC 1123 2.1), or an address. */
const isTarget = (text: string): boolean =>
  parseAddress(text) !== undefined ||
  (text.length <= 253 &&
    /^(?=.*[a-z])[a-z\d]([a-z\d-]*[a-z\d])?(\.[a-z\d]([a-z\d-]*[a-z\d])?)*$/i.test(text))

export const testWords = ({ kind, target, port }: Test): string =>
  `${kind} ${target}${port === null ? '' : ` port ${port}`}`
export const testsInWords = (tests: readonly Test[]): string => tests.map(testWords).join('; ')

/** Reads `ping 198.51.100.53; tcp www.example port 443`. */
export function readTests(text: string): Read<Test[]> {
  const tests: Test[] = []
  for (const piece of pieces(text)) {
    const m = /^(\S+)\s+(\S+?)(?:\s+port\s+(\d{1,5}))?$/i.exec(piece)
    const kind = kinds.find((k) => k === m?.[1]?.toLowerCase())
    const [target, port] = [m?.[2] ?? '', m?.[3] === undefined ? null : Number(m[3])]
    if (!kind || !isTarget(target))
      return {
        ok: false,
        reason: `'${piece}' is no test; expected for example ping 198.51.100.53; tcp www.example port 443`,
      }
    if (port !== null && (port < 1 || port > 65_535))
      return { ok: false, reason: `'${piece}': ports run from 1 to 65535` }
    if (kind === 'tcp' && port === null)
      return {
        ok: false,
        reason: `'${piece}': a TCP test needs a port, for example ${piece} port 443`,
      }
    tests.push({ kind, target, port: kind === 'tcp' ? port : null })
  }
  return tests.length > 16
    ? { ok: false, reason: 'more than 16 tests are not sent' }
    : { ok: true, value: tests }
}

const partKinds = uplinkSchema.shape.parts.element.shape.kind.options

export const partsInWords = (parts: readonly Part[]): string =>
  parts
    .map(
      ({ kind, name, failing: f }) =>
        `${kind} ${name}${f ? ` (${f.timesAYear} a year, ${f.hours} h)` : ''}`,
    )
    .join('; ')

/** Reads `duct Quay road (0.2 a year, 20 h); power strip Cupboard`. */
export function readParts(text: string): Read<Part[]> {
  const parts: Part[] = []
  for (const piece of pieces(text)) {
    const kind = partKinds.find((k) => piece.toLowerCase().startsWith(`${k} `))
    if (!kind)
      return {
        ok: false,
        reason: `'${piece}' begins with no kind of part; kinds are ${partKinds.join(', ')}`,
      }
    const m = /^(.+?)(?:\s*\(\s*(\d+(?:\.\d+)?) a year, (\d+(?:\.\d+)?) h\s*\))?$/.exec(
      piece.slice(kind.length).trim(),
    )
    const name = m?.[1]?.trim() ?? ''
    if (name === '' || name.length > 80 || /[()]/.test(name))
      return {
        ok: false,
        reason: `'${piece}': expected for example ${kind} Quay road (0.2 a year, 20 h)`,
      }
    const failing = m?.[2] === undefined ? null : { timesAYear: Number(m[2]), hours: Number(m[3]) }
    parts.push({ kind, name, failing })
  }
  return parts.length > 8
    ? { ok: false, reason: 'more than 8 parts of a line are not kept' }
    : { ok: true, value: parts }
}

type Antenna = NonNullable<Uplink['cellular']>['antennas'][number]
export const antennasInWords = (list: readonly Antenna[]): string =>
  list.map(({ name, socket }) => `${name}: ${socket}`).join('; ')

/** Reads `Mast, main: A; Mast, second: B`; a socket takes one antenna. */
export function readAntennas(text: string): Read<Antenna[]> {
  const antennas: Antenna[] = []
  for (const piece of pieces(text)) {
    const m = /^(.{1,80}?)\s*:\s*(\S.{0,23})$/.exec(piece)
    if (!m)
      return { ok: false, reason: `'${piece}' names no socket; expected for example Mast, main: A` }
    const [, name, socket] = m as unknown as [string, string, string]
    if (antennas.some((a) => a.socket.toLowerCase() === socket.toLowerCase()))
      return { ok: false, reason: `socket ${socket} takes one antenna` }
    antennas.push({ name, socket })
  }
  return antennas.length > 8
    ? { ok: false, reason: 'more than 8 antennas of a line are not kept' }
    : { ok: true, value: antennas }
}
