/** Published worked values for addresses, each with its source. */
import { expect, it } from 'vitest'
import {
  address,
  classifyPrefix,
  classifyText,
  formatAddress,
  modifiedEui64,
  prefix,
  usableHosts,
} from '@mast/core/addressing'

it.each([
  ['10.0.0.0/30', 2n],
  ['10.0.0.0/29', 6n],
  ['10.0.0.0/26', 62n],
  ['10.0.0.0/24', 254n],
  ['10.0.0.0/22', 1022n], // RFC 1878 table
  ['10.0.0.0/31', 2n], // RFC 3021: both addresses of a point-to-point link are hosts
  ['2001:db8::/127', 2n], // RFC 6164
])('%s has %d usable hosts', (text, hosts) => expect(usableHosts(prefix(text))).toBe(hosts))

it('172.0.0.1 is public space; 172.16.0.0 to 172.31.255.255 is private (RFC 1918 3)', () => {
  expect(classifyText('172.0.0.1')).toMatchObject({ kind: 'public', global: true })
  expect(classifyText('172.15.255.255')?.kind).toBe('public')
  expect(classifyText('172.16.0.0')).toMatchObject({ kind: 'private', source: 'RFC 1918' })
  expect(classifyText('172.31.255.255')?.kind).toBe('private')
  expect(classifyText('172.32.0.0')?.kind).toBe('public')
})

it.each([
  ['10.255.255.255', 'private', 'RFC 1918'],
  ['192.168.0.1', 'private', 'RFC 1918'],
  ['100.64.0.1', 'shared', 'RFC 6598'],
  ['100.127.255.255', 'shared', 'RFC 6598'],
  ['100.128.0.0', 'public', 'no entry in the registry'],
  ['169.254.1.1', 'link-local', 'RFC 3927'],
  ['192.0.2.1', 'documentation', 'RFC 5737'],
  ['198.51.100.1', 'documentation', 'RFC 5737'],
  ['203.0.113.255', 'documentation', 'RFC 5737'],
  ['198.19.255.255', 'benchmarking', 'RFC 2544'],
  ['fc00::1', 'private', 'RFC 4193'],
  ['fdff::1', 'private', 'RFC 4193'],
  ['2001:db8::1', 'documentation', 'RFC 3849'],
])('%s is %s (%s)', (text, kind, source) =>
  expect(classifyText(text)).toMatchObject({ kind, source }),
)

it('a prefix that only partly lies in private space is not private', () => {
  expect(classifyPrefix(prefix('172.0.0.0/11')).kind).toBe('public')
  expect(classifyPrefix(prefix('192.168.4.0/22')).kind).toBe('private')
})

it('modified EUI-64 (RFC 4291 appendix A, worked example)', () =>
  expect(modifiedEui64('34-56-78-9A-BC-DE')).toBe('3656:78ff:fe9a:bcde'))

it.each([
  ['2001:0db8:0:0:0:0:2:1', '2001:db8::2:1'],
  ['2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'],
  ['2001:db8:0:0:1:0:0:1', '2001:db8::1:0:0:1'],
  ['2001:DB8::AA', '2001:db8::aa'],
])('RFC 5952 4.2 writes %s as %s', (given, written) =>
  expect(formatAddress(address(given))).toBe(written),
)
