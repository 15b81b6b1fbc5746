import fc from 'fast-check'
import { expect, it } from 'vitest'
import { isPlainText, logLine } from './text'

it.each<[string, boolean]>([
  ['harbour', true],
  ['caf\u00e9 \ud83d\udea2', true],
  ['', true],
  ['a\u0000', false],
  ['\ud800', false],
  ['\udea2\ud83d', false],
  ['\\u0000 as typed', true],
])('%j can be kept: %s', (text, can) => expect(isPlainText(text)).toBe(can))
it('a line of the log is one line, and says what was there', () => {
  expect(logLine('/api/sites/x\r\n2026-11-26 root signed in')).toBe(
    '/api/sites/x\\u000d\\u000a2026-11-26 root signed in',
  )
  expect(logLine('\u001b[31mred\u2028\u202egnp')).toBe('\\u001b[31mred\\u2028\\u202egnp')
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
      expect(logLine(text)).not.toMatch(
        // eslint-disable-next-line no-control-regex -- these are what it looks for
        /[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/,
      )
    }),
  )
})
