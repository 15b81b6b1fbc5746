import { expect, it } from 'vitest'
import { catalogue } from './catalogue'
import { radiosInWords, readRadios } from './radioWords'

it('radios of every profile are read as they are written', () => {
  for (const { air } of Object.values(catalogue))
    expect(readRadios(radiosInWords(air))).toEqual({ ok: true, value: air })
  expect(radiosInWords(catalogue['ap-indoor-2x2']!.air)).toBe(
    '2.4: ax 2x2 20 dBm 3 dBi; 5: ax 2x2 23 dBm 4 dBi',
  )
})
it.each([
  ['5 ax', /is no radio; expected for example/],
  ['7: ax 2x2 23 dBm 4 dBi', /is no radio/],
  ['5: ax 2x2 99 dBm 4 dBi', /^'5: ax 2x2 99 dBm 4 dBi': /],
  [Array(5).fill('5: ax 2x2 20 dBm 4 dBi').join(';'), /four radios at the most/],
])('%s is refused', (text, reason) => {
  expect(readRadios(text)).toMatchObject({ ok: false, reason: expect.stringMatching(reason) })
})
