import { expect, it } from 'vitest'
import { clientAddress } from './clientAddress'

it.each<[string, string | undefined, boolean, string]>([
  ['is that of the connection', undefined, false, '192.0.2.1'],
  ['is not what a browser says it is', '198.51.100.9', false, '192.0.2.1'],
  ['is what our proxy saw', '198.51.100.9', true, '198.51.100.9'],
  [
    'is not what stood there before our proxy added to it',
    '203.0.113.66, 198.51.100.9',
    true,
    '198.51.100.9',
  ],
  ['is that of the proxy where it says nothing', undefined, true, '192.0.2.1'],
  ['is that of the proxy where it says nothing, in words', ' , ', true, '192.0.2.1'],
])('%s', (_, forwarded, isBehindProxy, address) =>
  expect(clientAddress('192.0.2.1', forwarded, isBehindProxy)).toBe(address),
)
