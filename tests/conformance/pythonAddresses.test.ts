/** Python's `ipaddress` as reference, on random input: parsing, containment, overlap, collapsing, special ranges. */
import { spawnSync } from 'node:child_process'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { address, classify, collapse, containsAddress, formatAddress, formatPrefix, overlaps, parseAddress, parsePrefix, prefixAround, usableHosts, type Prefix } from '@mast/core/addressing'

const program = `
import ipaddress, json, sys
def parse(text):
    try: return str(ipaddress.ip_address(text))
    except ValueError: return None
def network(text):
    try: return str(ipaddress.ip_network(text))
    except ValueError: return None
given = json.load(sys.stdin)
nets = [ipaddress.ip_network(n) for n in given["prefixes"]]
pairs = list(zip(nets, nets[1:]))
addresses = [ipaddress.ip_address(a) for a in given["addresses"]]
json.dump({
  "parsed": [parse(t) for t in given["texts"]],
  "networks": [network(t) for t in given["networkTexts"]],
  "overlaps": [a.overlaps(b) for a, b in pairs],
  "contains": [a in n for n, a in zip(nets, addresses)],
  "collapsed": [str(n) for n in ipaddress.collapse_addresses(nets)],
  "usable": [len(list(n.hosts())) for n in nets if n.prefixlen >= 22],
  "multicast": [a.is_multicast for a in addresses], "loopback": [a.is_loopback for a in addresses], "linkLocal": [a.is_link_local for a in addresses],
}, sys.stdout)
`
interface Answer { parsed: (string | null)[]; networks: (string | null)[]; overlaps: boolean[]; contains: boolean[]; collapsed: string[]; usable: number[]; multicast: boolean[]; loopback: boolean[]; linkLocal: boolean[] }

function ask(given: object): Answer {
  const done = spawnSync('python3', ['-c', program], { input: JSON.stringify(given), encoding: 'utf8', maxBuffer: 1 << 26 })
  if (done.status !== 0) throw new Error(`python3 failed: ${done.stderr}`)
  return JSON.parse(done.stdout) as Answer
}

const SEED = 20_261_123
const sample = <T>(arbitrary: fc.Arbitrary<T>, n: number): T[] => fc.sample(arbitrary, { numRuns: n, seed: SEED })
const octet = fc.oneof(fc.nat(300).map(String), fc.constantFrom('0', '00', '01', '255', '256', '', '0x1', '-1', ' 1'))
const dotted = fc.oneof({ weight: 4, arbitrary: fc.tuple(octet, octet, octet, octet).map((o) => o.join('.')) }, { weight: 4, arbitrary: fc.ipV4() }, { weight: 1, arbitrary: fc.array(octet, { maxLength: 6 }).map((o) => o.join('.')) })
const colons = fc.oneof(fc.ipV6().filter((t) => !/%/.test(t)), fc.array(fc.constantFrom('0', '1', 'ffff', '10000', '', 'g', 'db8'), { maxLength: 9 }).map((g) => g.join(':')))
const clustered = fc.tuple(fc.bigInt({ min: 0n, max: 0x3fffn }), fc.integer({ min: 16, max: 32 })).map(([v, l]): Prefix => prefixAround({ family: 4, value: 0x0a000000n + v }, l))
const special = fc.tuple(fc.constantFrom(127n, 169n, 224n, 239n, 10n, 8n), fc.bigInt({ min: 0n, max: 0xffffffn })).map(([top, rest]) => formatAddress({ family: 4, value: (top << 24n) | rest }))

it('agrees with ipaddress on 6000 random texts, networks and sets', () => {
  const texts = [...sample(dotted, 2000), ...sample(colons, 2000)]
  const networkTexts = sample(fc.tuple(dotted, fc.oneof(fc.nat(34).map(String), fc.constantFrom('', '08', '-1'))).map(([a, l]) => `${a}/${l}`), 2000).filter((t) => /\/\d+$/.test(t))
  const prefixes = sample(clustered, 600)
  const addresses = [...sample(fc.tuple(clustered, fc.nat(5000)).map(([p, n]) => formatAddress({ family: 4, value: p.network + BigInt(n) })), 400), ...sample(special, 200)]
  const answer = ask({ texts, networkTexts, prefixes: prefixes.map(formatPrefix), addresses })

  expect(texts.map((t) => { const a = parseAddress(t); return a ? formatAddress(a) : null })).toEqual(answer.parsed)
  // A length with a leading zero is refused here and read there; the rest must agree.
  const comparable = networkTexts.map((t, i) => [t, i] as const).filter(([t]) => !/\/0\d/.test(t))
  expect(comparable.map(([t]) => { const p = parsePrefix(t); return p ? formatPrefix(p) : null })).toEqual(comparable.map(([, i]) => answer.networks[i]))
  expect(prefixes.slice(0, -1).map((p, i) => overlaps(p, prefixes[i + 1]!))).toEqual(answer.overlaps)
  expect(prefixes.map((p, i) => containsAddress(p, address(addresses[i]!)))).toEqual(answer.contains)
  expect(collapse(prefixes).map(formatPrefix)).toEqual(answer.collapsed)
  expect(prefixes.filter((p) => p.length >= 22).map((p) => Number(usableHosts(p)))).toEqual(answer.usable)
  const kinds = addresses.map((a) => classify(address(a)).kind)
  expect(kinds.map((k) => k === 'multicast')).toEqual(answer.multicast)
  expect(kinds.map((k) => k === 'loopback')).toEqual(answer.loopback)
  expect(kinds.map((k) => k === 'link-local')).toEqual(answer.linkLocal)
})
