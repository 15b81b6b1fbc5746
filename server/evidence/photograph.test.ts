import { expect, it } from 'vitest'
import { isPhotograph } from './photograph'

const b = (...octets: (number | string)[]): Buffer =>
  Buffer.concat(
    octets.map((o) => (typeof o === 'string' ? Buffer.from(o, 'latin1') : Buffer.from([o]))),
  )
it.each<[string, Buffer, string, boolean]>([
  ['a JPEG', b(0xff, 0xd8, 0xff, 0xe0), 'image/jpeg', true],
  ['a PNG', b(0x89, 'PNG\r\n', 0x1a, '\n', 0), 'image/png', true],
  ['a WebP', b('RIFF', 1, 2, 3, 4, 'WEBPVP8 '), 'image/webp', true],
  ['a PNG that says JPEG', b(0x89, 'PNG\r\n', 0x1a, '\n'), 'image/jpeg', false],
  ['a page', b('<html>'), 'image/png', false],
  ['nothing', b(), 'image/jpeg', false],
  ['a kind that is not taken', b('<svg'), 'image/svg+xml', false],
  ['a kind that is a name of the language', b('<svg'), 'constructor', false],
  ['another', b('<svg'), 'toString', false],
  ['a RIFF of sound', b('RIFF', 1, 2, 3, 4, 'WAVE'), 'image/webp', false],
])('%s', (_, octets, type, is) => expect(isPhotograph(octets, type)).toBe(is))
