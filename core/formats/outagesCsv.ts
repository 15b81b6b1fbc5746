/**
 * When lines were dead, from a table that somebody or some program kept: how often a year, and for
 * how long in the mean.
 */
import { editCall, type SitePlan, type Uplink } from '../plan'
import { headingKeys, mapColumns, readCsv, unguardCell, type Columns } from './csv'
import { defineFormat, type LineProblem, type Reading } from './format'

const columns: Columns<'line' | 'from' | 'to' | 'watched from' | 'watched to'> = {
  names: ['line', 'from', 'to', 'watched from', 'watched to'],
  aliases: { uplink: 'line', began: 'from', begin: 'from', start: 'from', end: 'to', ended: 'to' },
  must: ['line', 'from', 'to'],
  of: 'outages',
}
const YEAR_MS = 8766 * 3_600_000
/** Out of less than this nobody can say anything of a year, ms. */
const LEAST_MS = 28 * 86_400_000

/** A moment as ISO 8601 writes it, with or without seconds; without a zone it is taken as UTC. */
function momentOf(text: string): number | null {
  const m =
    /^(\d{4})-(\d\d)-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d(?:\.\d+)?))?)?\s*(Z|[+-]\d\d:?\d\d)?$/.exec(
      text,
    )
  if (!m) return null
  const [, y, mo, d, h = '00', mi = '00', s = '00', zone = 'Z'] = m
  const iso = `${y}-${mo}-${d}T${h}:${mi}:${s.slice(0, 2)}${zone.replace(/^([+-]\d\d)(\d\d)$/, '$1:$2')}`
  const at = Date.parse(iso)
  // Days that no month has are taken on into the next; they were misread.
  return Number.isNaN(at) || Number(d) > new Date(Date.UTC(Number(y), Number(mo), 0)).getUTCDate()
    ? null
    : at
}

interface Outage {
  readonly from: number
  readonly to: number
}
/** Those that overlap, or were written down twice, are one. */
function joined(list: readonly Outage[]): Outage[] {
  const out: Outage[] = []
  for (const o of [...list].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1)
    if (last && o.from <= last.to) out[out.length - 1] = { ...last, to: Math.max(last.to, o.to) }
    else out.push(o)
  }
  return out
}
const round = (n: number): number => Number(n.toPrecision(3))

export function readOutages(plan: SitePlan, text: string): Reading {
  const { records, problems } = readCsv(text)
  const nothing = (more: readonly LineProblem[]): Reading => ({
    edits: [],
    said: 'nothing',
    problems: [...problems, ...more],
    leftOut: [],
    newcomers: [],
  })
  const [header, ...rows] = records
  if (!header) return nothing([{ line: 1, column: 1, reason: 'the file is empty' }])
  const { mapping, problems: missing, unknown } = mapColumns(header, columns)
  if (missing.length > 0) return nothing(missing)
  const wrong: LineProblem[] = [...problems]
  const byLine = new Map<Uplink, Outage[]>()
  let [began, ended] = [Infinity, -Infinity]
  const lineOf = (name: string): Uplink | undefined =>
    Object.values(plan.uplinks).find(
      (u) => u.id === name || u.name.toLowerCase() === name.toLowerCase(),
    )
  for (const { line, cells } of rows) {
    const cell = (c: (typeof columns.names)[number]): string =>
      mapping[c] < 0 ? '' : unguardCell(cells[mapping[c]] ?? '')
    const moment = (c: (typeof columns.names)[number]): number | null | undefined => {
      if (cell(c) === '') return undefined
      const at = momentOf(cell(c))
      if (at === null)
        wrong.push({
          line,
          column: mapping[c] + 1,
          reason: `'${cell(c)}' is no moment; expected for example 2026-03-14 09:30`,
        })
      return at
    }
    const [from, to] = [moment('from'), moment('to')]
    for (const c of ['watched from', 'watched to'] as const) {
      const at = moment(c)
      if (typeof at === 'number') [began, ended] = [Math.min(began, at), Math.max(ended, at)]
    }
    if (from === null || to === null) continue
    const uplink = lineOf(cell('line'))
    if (!uplink) {
      wrong.push({
        line,
        column: mapping.line + 1,
        reason: `there is no line '${cell('line')}'; known are ${
          Object.values(plan.uplinks)
            .map((u) => u.name)
            .join(', ') || 'none'
        }`,
      })
      continue
    }
    // A row that says only how long a line was watched.
    if (from === undefined && to === undefined) {
      byLine.set(uplink, byLine.get(uplink) ?? [])
      continue
    }
    if (from === undefined || to === undefined || to <= from) {
      wrong.push({
        line,
        column: mapping.to + 1,
        reason: 'an outage ends after it begins; both moments are needed',
      })
      continue
    }
    byLine.set(uplink, [...(byLine.get(uplink) ?? []), { from, to }])
    ;[began, ended] = [Math.min(began, from), Math.max(ended, to)]
  }
  const watched = ended - began
  if (byLine.size === 0) return { ...nothing([]), problems: wrong, leftOut: unknown }
  if (!(watched >= LEAST_MS))
    return {
      ...nothing([]),
      problems: [
        ...wrong,
        {
          line: 1,
          column: 1,
          reason:
            'it covers less than four weeks, out of which nothing can be said of a year; add ' +
            'columns watched from and watched to where it was watched for longer',
        },
      ],
    }
  const said: string[] = []
  const edits = [...byLine].map(([u, list]) => {
    const outages = joined(list)
    const down = outages.reduce((sum, o) => sum + o.to - o.from, 0)
    const failing = {
      timesAYear: round((outages.length * YEAR_MS) / watched),
      hours: outages.length === 0 ? 0 : round(down / outages.length / 3_600_000),
    }
    said.push(`${u.name} is dead ${failing.timesAYear} times a year for ${failing.hours} h`)
    return editCall('changeUplink', { id: u.id, changes: { failing } })
  })
  return {
    edits,
    said: `${said.join('; ')}, out of ${Math.round(watched / 86_400_000)} days`,
    problems: wrong,
    leftOut: unknown,
    newcomers: [],
  }
}

export const outagesCsv = defineFormat({
  id: 'outages-csv',
  title: 'outages (CSV)',
  sheet: 'uplinks',
  files: 'a table with the columns line, from, to; also watched from, watched to',
  mediaType: 'text/csv',
  looksLike: (_, text) => {
    const keys = headingKeys(text)
    return (
      keys.some((k) => k === 'line' || k === 'uplink') &&
      keys.some((k) => k === 'from' || k.startsWith('beg') || k === 'start')
    )
  },
  read: (plan, text) => readOutages(plan, text),
})
