import { expect, it } from 'vitest'
import { partsInWords, readParts, readTests, testsInWords } from './facts'

it('tests are read as they are written', () => {
  const text = 'ping 198.51.100.53; tcp www.example port 443; dns 203.0.113.53'
  const read = readTests(text)
  expect(read).toMatchObject({ ok: true })
  expect(read.ok && testsInWords(read.value)).toBe(text)
  expect(readTests(' ')).toEqual({ ok: true, value: [] })
})
it.each([
  ['198.51.100.53', /is no test/],
  ['knock 198.51.100.53', /is no test/],
  ['ping 198.51.100', /is no test/],
  ['ping a_b', /is no test/],
  ['tcp www.example', /a TCP test needs a port/],
  ['tcp www.example port 70000', /ports run from 1 to 65535/],
  [Array.from({ length: 17 }, (_, i) => `ping 192.0.2.${i + 1}`).join(';'), /more than 16/],
])('%s is no test of a line, and is told why', (text, reason) => {
  expect(readTests(text)).toMatchObject({ ok: false, reason: expect.stringMatching(reason) })
})

it('parts are read as they are written', () => {
  const text = 'duct Quay road (0.2 a year, 20 h); power strip Equipment cupboard'
  const read = readParts(text)
  expect(read).toMatchObject({ ok: true })
  expect(read.ok && partsInWords(read.value)).toBe(text)
})
it.each([
  ['road', /begins with no kind of part/],
  ['duct (0.2 a year, 20 h)', /expected for example duct Quay road/],
  ['duct A (often)', /expected for example/],
  [Array.from({ length: 9 }, (_, i) => `mast ${i}`).join(';'), /more than 8/],
])('%s is no part', (text, reason) => {
  expect(readParts(text)).toMatchObject({ ok: false, reason: expect.stringMatching(reason) })
})
