/**
 * Python's `ipaddress` as reference, on random input: parsing, containment, overlap, collapsing,
 * special ranges.
 */
import { spawnSync } from 'node:child_process'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import {
  address,
  allocate,
  classify,
  collapse,
  containsAddress,
  formatAddress,
  formatPrefix,
  freeBlocks,
  grownHosts,
  overlappingPairs,
  overlaps,
  parseAddress,
  parsePrefix,
  prefix,
  prefixAround,
  usableHosts,
  type Prefix,
} from '@mast/core/addressing'

const program = `
import ipaddress, json, sys
def parse(text):
    try: return str(ipaddress.ip_address(text))
    except ValueError: return None
def network(text):
    try: return str(ipaddress.ip_network(text))
    except ValueError: return None
def gaps(space, taken):
    at = int(space.network_address)
    for n in ipaddress.collapse_addresses(taken):
        if int(n.network_address) > at: yield ipaddress.ip_address(at), ipaddress.ip_address(int(n.network_address) - 1)
        at = max(at, int(n.broadcast_address) + 1)
    if at <= int(space.broadcast_address): yield ipaddress.ip_address(at), space.broadcast_address
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
  "pairs": sorted(sorted([i, j]) for i in range(len(nets)) for j in range(i) if nets[i].overlaps(nets[j])),
  "six": [str(n) for n in ipaddress.collapse_addresses([ipaddress.ip_network(n) for n in given["six"]])],
  "free": [str(n) for s in [ipaddress.ip_network(given["space"])]
    for n in ipaddress.collapse_addresses([m for first, last in gaps(s, [n for n in nets if n.overlaps(s)])
    for m in ipaddress.summarize_address_range(first, last)])],
  "multicast": [a.is_multicast for a in addresses],
  "loopback": [a.is_loopback for a in addresses], "linkLocal": [a.is_link_local for a in addresses],
}, sys.stdout)
`
interface Answer {
  parsed: (string | null)[]
  networks: (string | null)[]
  overlaps: boolean[]
  contains: boolean[]
  collapsed: string[]
  usable: number[]
  pairs: [number, number][]
  six: string[]
  free: string[]
  multicast: boolean[]
  loopback: boolean[]
  linkLocal: boolean[]
}

function ask(given: object): Answer {
  const done = spawnSync('python3', ['-c', program], {
    input: JSON.stringify(given),
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  })
  if (done.status !== 0) throw new Error(`python3 failed: ${done.stderr}`)
  return JSON.parse(done.stdout) as Answer
}

const SEED = 20_261_123
const sample = <T>(arbitrary: fc.Arbitrary<T>, n: number): T[] =>
  fc.sample(arbitrary, { numRuns: n, seed: SEED })
const octet = fc.oneof(
  fc.nat(300).map(String),
  fc.constantFrom('0', '00', '01', '255', '256', '', '0x1', '-1', ' 1'),
)
const dotted = fc.oneof(
  { weight: 4, arbitrary: fc.tuple(octet, octet, octet, octet).map((o) => o.join('.')) },
  { weight: 4, arbitrary: fc.ipV4() },
  { weight: 1, arbitrary: fc.array(octet, { maxLength: 6 }).map((o) => o.join('.')) },
)
const colons = fc.oneof(
  fc.ipV6().filter((t) => !/%/.test(t)),
  fc
    .array(fc.constantFrom('0', '1', 'ffff', '10000', '', 'g', 'db8'), { maxLength: 9 })
    .map((g) => g.join(':')),
)
const clustered = fc
  .tuple(fc.bigInt({ min: 0n, max: 0x3fffn }), fc.integer({ min: 16, max: 32 }))
  .map(([v, l]): Prefix => prefixAround({ family: 4, value: 0x0a000000n + v }, l))
const special = fc
  .tuple(fc.constantFrom(127n, 169n, 224n, 239n, 10n, 8n), fc.bigInt({ min: 0n, max: 0xffffffn }))
  .map(([top, rest]) => formatAddress({ family: 4, value: (top << 24n) | rest }))

it('agrees with ipaddress on 10,000 random texts, networks and sets', () => {
  const texts = [...sample(dotted, 3500), ...sample(colons, 3500)]
  const networkTexts = sample(
    fc
      .tuple(dotted, fc.oneof(fc.nat(34).map(String), fc.constantFrom('', '08', '-1')))
      .map(([a, l]) => `${a}/${l}`),
    2400,
  ).filter((t) => /\/\d+$/.test(t))
  const prefixes = sample(clustered, 600)
  const addresses = [
    ...sample(
      fc
        .tuple(clustered, fc.nat(5000))
        .map(([p, n]) => formatAddress({ family: 4, value: p.network + BigInt(n) })),
      400,
    ),
    ...sample(special, 200),
  ]
  const six = sample(
    fc
      .tuple(fc.bigInt({ min: 0n, max: 0xffffn }), fc.integer({ min: 48, max: 64 }))
      .map(([v, l]) => prefixAround({ family: 6, value: (0x20010db8n << 96n) + (v << 64n) }, l)),
    400,
  )
  const space = prefixAround({ family: 4, value: 0x0a000000n }, 18)
  const answer = ask({
    texts,
    networkTexts,
    prefixes: prefixes.map(formatPrefix),
    addresses,
    six: six.map(formatPrefix),
    space: formatPrefix(space),
  })

  expect(
    texts.map((t) => {
      const a = parseAddress(t)
      return a ? formatAddress(a) : null
    }),
  ).toEqual(answer.parsed)
  // A length with a leading zero is refused here and read there; the rest must agree.
  const comparable = networkTexts.map((t, i) => [t, i] as const).filter(([t]) => !/\/0\d/.test(t))
  expect(
    comparable.map(([t]) => {
      const p = parsePrefix(t)
      return p ? formatPrefix(p) : null
    }),
  ).toEqual(comparable.map(([, i]) => answer.networks[i]))
  expect(prefixes.slice(0, -1).map((p, i) => overlaps(p, prefixes[i + 1]!))).toEqual(
    answer.overlaps,
  )
  expect(prefixes.map((p, i) => containsAddress(p, address(addresses[i]!)))).toEqual(
    answer.contains,
  )
  expect(collapse(prefixes).map(formatPrefix)).toEqual(answer.collapsed)
  expect(prefixes.filter((p) => p.length >= 22).map((p) => Number(usableHosts(p)))).toEqual(
    answer.usable,
  )
  expect(
    [...overlappingPairs(prefixes)]
      .map(([a, b]) => [a, b].sort((x, y) => x - y))
      .sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]!),
  ).toEqual(answer.pairs)
  expect(collapse(six).map(formatPrefix)).toEqual(answer.six)
  expect(freeBlocks([space], prefixes).map(formatPrefix)).toEqual(answer.free)
  const kinds = addresses.map((a) => classify(address(a)).kind)
  expect(kinds.map((k) => k === 'multicast')).toEqual(answer.multicast)
  expect(kinds.map((k) => k === 'loopback')).toEqual(answer.loopback)
  expect(kinds.map((k) => k === 'link-local')).toEqual(answer.linkLocal)
})

/**
 * What an allocation has to be, told by the other library: inside the space, apart from each other
 * and from what is avoided, on its boundary.
 */
const judge = `
import ipaddress, json, sys
out = []
for case in json.load(sys.stdin):
    spaces = [ipaddress.ip_network(s) for s in case["space"]]; avoid = [ipaddress.ip_network(a) for a in case["avoid"]]
    nets = [ipaddress.ip_network(a["subnet"]) for a in case["allocations"]]
    ok = all(any(n.subnet_of(s) for s in spaces) for n in nets) and not any(n.overlaps(a) for n in nets for a in avoid)
    ordered = sorted(nets, key=lambda n: int(n.network_address))
    ok = ok and not any(a.overlaps(b) for a, b in zip(ordered, ordered[1:]))
    for a, n in zip(case["allocations"], nets):
        hosts = range(int(n.network_address) + 1, int(n.broadcast_address))
        inside = lambda t: int(ipaddress.ip_address(t)) in hosts
        ok = ok and inside(a["gateway"]) and inside(a["first"]) and inside(a["last"]) and \\
            int(ipaddress.ip_address(a["last"])) - int(ipaddress.ip_address(a["first"])) + 1 >= a["hosts"]
    out.append(ok)
json.dump(out, sys.stdout)
`
it('2,000 random allocations are what ipaddress says they must be', () => {
  const need = fc.record({
    expectedHosts: fc.integer({ min: 1, max: 300 }),
    growthPercent: fc.integer({ min: 0, max: 200 }),
    fixedAddresses: fc.integer({ min: 0, max: 20 }),
    vlanId: fc.integer({ min: 1, max: 4094 }),
  })
  const request = fc.record({
    needs: fc.uniqueArray(need, { selector: (n) => n.vlanId, minLength: 1, maxLength: 12 }),
    avoid: fc.array(
      fc
        .tuple(fc.bigInt({ min: 0n, max: 0xffffn }), fc.integer({ min: 20, max: 28 }))
        .map(([v, l]) => prefixAround({ family: 4, value: 0x0a140000n + v }, l)),
      { maxLength: 6 },
    ),
    gatewayPosition: fc.constantFrom('first' as const, 'last' as const),
    vlanNumbering: fc.constantFrom('third-octet' as const, 'free' as const),
  })
  const space = ['10.20.0.0/18', '10.20.128.0/20'].map(prefix)
  const cases = sample(request, 2000).map((r) => {
    const needs = r.needs.map((n, i) => ({ ...n, id: `s${i}` }))
    const { allocations } = allocate({ ...r, needs, space })
    return {
      space: space.map(formatPrefix),
      avoid: r.avoid.map(formatPrefix),
      allocations: allocations.map((a) => ({
        subnet: a.subnet,
        gateway: a.gateway,
        first: a.pool.first,
        last: a.pool.last,
        hosts: grownHosts(needs.find((n) => n.id === a.id)!),
      })),
    }
  })
  const done = spawnSync('python3', ['-c', judge], {
    input: JSON.stringify(cases),
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  })
  expect(done.stderr).toBe('')
  expect((JSON.parse(done.stdout) as boolean[]).flatMap((ok, i) => (ok ? [] : [i]))).toEqual([])
  expect(cases.reduce((n, c) => n + c.allocations.length, 0)).toBeGreaterThan(8000)
})
