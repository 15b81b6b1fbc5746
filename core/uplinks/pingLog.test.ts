import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readPingLog } from './pingLog'

const answer = (seq: number, more = ''): string =>
  `${more}64 bytes from 198.51.100.53: icmp_seq=${seq} ttl=57 time=14.2 ms`
const span = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i)

describe('a log of ping', () => {
  it('by its numbers', () => {
    const log = readPingLog(
      ['PING x (198.51.100.53)', ...[...span(1, 10), ...span(74, 80)].map((n) => answer(n))].join(
        '\n',
      ),
    )
    expect(log).toEqual({ answers: 17, gaps: [{ line: 12, lost: 63, seconds: 63 }], remarks: [] })
  })
  it('by its times, also over midnight and with days', () => {
    const at = (stamp: string, n: number): string => answer(n, `${stamp} `)
    const gap = (lines: string[]): number => readPingLog(lines.join('\n')).gaps[0]!.seconds
    expect(gap([at('[1764230400.5]', 1), at('[1764230461.75]', 60)])).toBeCloseTo(60.25)
    expect(gap([at('23:59:50', 1), at('00:00:30,5', 42)])).toBeCloseTo(39.5)
    expect(gap([at('2026-11-27T23:59:50', 1), at('2026-11-28T00:00:30', 42)])).toBeCloseTo(39)
  })
  it('in another language, without numbers and times, line by line', () => {
    const text = [
      'Ping wird ausgef\u00fchrt f\u00fcr 198.51.100.53 mit 32 Bytes Daten:',
      'Antwort von 198.51.100.53: Bytes=32 Zeit=14ms TTL=57',
      'Zeit\u00fcberschreitung der Anforderung.',
      'Zeit\u00fcberschreitung der Anforderung.',
      'R\u00e9ponse de 198.51.100.53 : octets=32 temps=14 ms TTL=57',
      '',
    ].join('\r\n')
    expect(readPingLog(text).gaps).toEqual([{ line: 5, lost: 2, seconds: 2 }])
    expect(readPingLog(text, 5).gaps[0]!.seconds).toBe(10)
  })
  it('cut in the middle of a line, and with its statistics', () => {
    expect(readPingLog(`${answer(1)}\n${answer(2)}\n64 byt`).gaps).toEqual([])
    expect(
      readPingLog(`${answer(1)}\nno answer yet for icmp_seq=2\n\n--- x ---\n9 packets`).gaps,
    ).toEqual([{ line: null, lost: 1, seconds: 1 }])
  })
  it('with a clock that jumps back is counted by numbers, and says so', () => {
    const log = readPingLog([answer(1, '[1764230400] '), answer(12, '[1764226800] ')].join('\n'))
    expect(log.gaps).toEqual([{ line: 2, lost: 10, seconds: 10 }])
    expect(log.remarks.join()).toMatch(/clock jumps/)
  })
  it('numbers that begin again, late answers and doubles are no gap', () => {
    const log = readPingLog([65_534, 65_535, 0, 1, 1, 0, 2].map((n) => answer(n)).join('\n'))
    expect(log.gaps.filter((g) => g.lost > 1)).toEqual([])
  })
  it('of anything else nothing is read, and nothing is thrown', () => {
    expect(readPingLog('').remarks.join()).toMatch(/no answer in it/)
    fc.assert(
      fc.property(fc.string({ maxLength: 400 }), (text) => {
        for (const g of readPingLog(text).gaps) expect(g.seconds).toBeGreaterThanOrEqual(0)
      }),
    )
  })
})
