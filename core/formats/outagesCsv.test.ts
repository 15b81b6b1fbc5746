import { describe, expect, it } from 'vitest'
import { applyEdits } from '../plan'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { formatOf } from './all'
import { readOutages } from './outagesCsv'

const plan = kittiwakeHarbour()
const reasons = (text: string): string =>
  readOutages(plan, text)
    .problems.map((p) => `${p.line}:${p.column} ${p.reason}`)
    .join('\n')

describe('outages from a table', () => {
  it('how often a year, and for how long in the mean; doubles are one', () => {
    const text = [
      'Line;Began;Ended;Watched from;Watched to',
      'Harbour fibre;2025-03-01 10:00;2025-03-01 14:00;2024-01-01;2026-01-01',
      'harbour fibre;2025-03-01 12:00;2025-03-01 14:00;;',
      'fibre;2025-09-02T01:30:00Z;2025-09-02T03:30:00+00:00;;',
      'Cellular standby;;;2024-01-01;',
    ].join('\r\n')
    expect(formatOf('outages.csv', text)?.id).toBe('outages-csv')
    const read = readOutages(plan, text)
    expect(read.problems).toEqual([])
    const after = applyEdits(plan, [...read.edits])
    // Two in 731 days of which the year has 365.25.
    expect(after.uplinks.fibre!.failing).toEqual({ timesAYear: 0.999, hours: 3 })
    expect(after.uplinks['cellular-line']!.failing).toEqual({ timesAYear: 0, hours: 0 })
    expect(read.said).toMatch(/Harbour fibre is dead 0\.999 times a year for 3 h.*731 days/)
  })
  it('says what is wrong, and where', () => {
    expect(reasons('')).toMatch(/empty/)
    expect(reasons('line,from\nfibre,2025-01-01')).toMatch(/to/)
    expect(reasons('line,from,to\nfibre,2025-02-30,2025-03-01')).toMatch(
      /2:2 '2025-02-30' is no moment/,
    )
    expect(reasons('line,from,to\nfibre,2025-03-01 10:00,2025-03-01 09:00')).toMatch(
      /2:3 an outage ends after it begins/,
    )
    expect(reasons('line,from,to\nnobody,2025-03-01,2025-03-02')).toMatch(
      /there is no line 'nobody'/,
    )
    expect(reasons('line,from,to\nfibre,2025-03-01 10:00,2025-03-01 12:00')).toMatch(
      /less than four weeks/,
    )
  })
})
