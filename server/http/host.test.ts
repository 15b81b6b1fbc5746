import { expect, it } from 'vitest'
import { isOurHost, knownHosts } from './host'

it.each<[string | undefined, boolean]>([
  ['127.0.0.1:7350', true],
  ['[::1]:7350', true],
  ['localhost:7350', true],
  ['LOCALHOST', true],
  ['10.44.10.2:8043', true],
  ['mast.example', true],
  ['mast.example.:443', true],
  ['a.inner.example', true],
  ['rebound.example:7350', false],
  ['inner.example', false],
  ['notmast.example', false],
  ['127.0.0.1.rebound.example', false],
  ['localhost.rebound.example', false],
  ['', false],
  [undefined, false],
  ['a b', false],
  ['mast.example:99999999', false],
])('%s', (host, ours) => expect(isOurHost(host, ['mast.example', '.inner.example'])).toBe(ours))
it('names are set parted by commas', () =>
  expect(knownHosts(' Mast.example, .inner.example ,')).toEqual(['mast.example', '.inner.example']))
