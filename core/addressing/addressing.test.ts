import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  address,
  allocate,
  classifyText,
  collapse,
  containsAddress,
  containsPrefix,
  divide,
  firstFree,
  formatAddress,
  formatPrefix,
  gaps,
  grownHosts,
  lastOf,
  lengthFor,
  looksLikeMask,
  maskOf,
  modifiedEui64,
  overlaps,
  parseAddress,
  pickSpace,
  prefix,
  prefixAround,
  prefixSize,
  readPrefix,
  spanSize,
  usableHosts,
  type Prefix,
  type SegmentNeed,
} from '.'

const anyPrefix = fc
  .tuple(fc.bigInt({ min: 0n, max: 0xffffffffn }), fc.integer({ min: 0, max: 32 }))
  .map(([value, length]): Prefix => prefixAround({ family: 4, value }, length))
const smallPrefix = fc
  .tuple(fc.bigInt({ min: 0n, max: 0xfffn }), fc.integer({ min: 20, max: 32 }))
  .map(([value, length]): Prefix => prefixAround({ family: 4, value }, length))

describe('addresses', () => {
  it.each(['0.0.0.0', '255.255.255.255', '10.20.30.1', '2001:db8::2:1', '::', 'fe80::1'])(
    'reads and writes %s',
    (text) => expect(formatAddress(address(text))).toBe(text),
  )
  it.each([
    '10.1',
    '010.1.1.1',
    '1.2.3.4.5',
    '256.1.1.1',
    '1.2.3',
    '1.2.3.4 ',
    '',
    '::1%eth0',
    ':::',
    '1.2.3.4/24',
    '::ffff:1.2.3.04',
    '0x10.1.1.1',
  ])('refuses %j', (text) => expect(parseAddress(text)).toBeUndefined())
  it('round-trips every number', () => {
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: 0xffffffffn }), (value) => {
        expect(address(formatAddress({ family: 4, value })).value).toBe(value)
      }),
    )
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }), (value) => {
        expect(address(formatAddress({ family: 6, value })).value).toBe(value)
      }),
    )
  })
  it('tells a mask from an address', () => {
    for (let length = 8; length <= 32; length++)
      expect(looksLikeMask(address(maskOf(length)))).toBe(true)
    for (const text of ['10.20.30.1', '192.168.1.1', '255.255.1.0', '254.255.255.0'])
      expect(looksLikeMask(address(text))).toBe(false)
  })
  it('says what it was given when it cannot read it', () => {
    expect(() => address('ten')).toThrow("'ten' is not an address; expected for example 10.20.30.1")
    expect(() => modifiedEui64('34-56')).toThrow('is not a hardware address')
  })
})

describe('prefixes', () => {
  it('names what is wrong with a text', () => {
    expect(readPrefix('10.0.0.0')).toEqual({ problem: 'no length' })
    expect(readPrefix('ten/8')).toEqual({ problem: 'not an address' })
    expect(readPrefix('10.0.0.0/33')).toEqual({ problem: 'length out of range' })
    expect(readPrefix('10.0.0.5/24')).toMatchObject({
      problem: 'host bits set',
      network: prefix('10.0.0.0/24'),
    })
  })
  it('overlap is symmetric, and means that one contains the other', () => {
    fc.assert(
      fc.property(anyPrefix, anyPrefix, (a, b) => {
        expect(overlaps(a, b)).toBe(overlaps(b, a))
        expect(overlaps(a, b)).toBe(containsPrefix(a, b) || containsPrefix(b, a))
        expect(overlaps(a, b)).toBe(a.network <= lastOf(b) && b.network <= lastOf(a))
      }),
    )
  })
  it('collapsing keeps exactly the addresses, with nothing left to join', () => {
    fc.assert(
      fc.property(fc.array(smallPrefix, { maxLength: 12 }), (list) => {
        const out = collapse(list)
        for (let v = 0n; v <= 0xfffn; v += 7n)
          expect(out.some((p) => containsAddress(p, { family: 4, value: v }))).toBe(
            list.some((p) => containsAddress(p, { family: 4, value: v })),
          )
        for (const [i, a] of out.entries())
          for (const b of out.slice(i + 1)) expect(overlaps(a, b)).toBe(false)
        expect(collapse(out)).toEqual(out)
      }),
    )
  })
  it('gaps and what is taken make up the space', () => {
    fc.assert(
      fc.property(fc.array(smallPrefix, { maxLength: 10 }), (taken) => {
        const space = prefix('0.0.0.0/20')
        const free = gaps(space, taken).reduce((n, g) => n + (g.last - g.first + 1n), 0n)
        const used = collapse(taken)
          .filter((t) => overlaps(space, t))
          .reduce((n, t) => n + (containsPrefix(t, space) ? prefixSize(space) : prefixSize(t)), 0n)
        expect(free + used).toBe(prefixSize(space))
      }),
    )
  })
})

const need = fc.record({
  expectedHosts: fc.integer({ min: 1, max: 400 }),
  growthPercent: fc.integer({ min: 0, max: 200 }),
  fixedAddresses: fc.integer({ min: 0, max: 20 }),
  vlanId: fc.integer({ min: 1, max: 300 }),
})
const needs = fc
  .uniqueArray(need, { selector: (n) => n.vlanId, maxLength: 14 })
  .map((list) => list.map((n, i): SegmentNeed => ({ ...n, id: `s${i}` })))

describe('allocation', () => {
  it('places segments that never overlap, lie in the space, avoid what is avoided, and hold their hosts', () => {
    fc.assert(
      fc.property(
        needs,
        fc.constantFrom('third-octet' as const, 'free' as const),
        fc.constantFrom('first' as const, 'last' as const),
        (list, vlanNumbering, gatewayPosition) => {
          const space = [prefix('10.20.0.0/16')]
          const avoid = [prefix('10.20.0.0/22'), prefix('10.20.40.0/24')]
          const { allocations, unplaced } = allocate({
            space,
            avoid,
            needs: list,
            gatewayPosition,
            vlanNumbering,
          })
          expect(allocations.length + unplaced.length).toBe(list.length)
          const placed = allocations.map((a) => prefix(a.subnet))
          for (const [i, a] of placed.entries()) {
            expect(containsPrefix(space[0]!, a)).toBe(true)
            for (const b of [...placed.slice(i + 1), ...avoid]) expect(overlaps(a, b)).toBe(false)
          }
          for (const a of allocations) {
            const n = list.find((x) => x.id === a.id)!
            expect(spanSize(a.pool)).toBeGreaterThanOrEqual(grownHosts(n))
            const values = [
              a.gateway,
              a.fixedBlock.first,
              a.fixedBlock.last,
              a.pool.first,
              a.pool.last,
            ].map((t) => address(t))
            for (const v of values) expect(containsAddress(prefix(a.subnet), v)).toBe(true)
            expect(values[2]!.value + 1n).toBe(values[3]!.value)
            const gateway = values[0]!.value
            expect(gateway < values[1]!.value || gateway > values[4]!.value).toBe(true)
          }
        },
      ),
    )
  })
  it('puts VLAN 20 on the third octet where that is the habit, and packs by size where it is not', () => {
    const list = [
      { id: 'a', vlanId: 20, expectedHosts: 20, growthPercent: 50, fixedAddresses: 0 },
      { id: 'b', vlanId: 90, expectedHosts: 240, growthPercent: 60, fixedAddresses: 0 },
    ]
    const request = {
      space: [prefix('10.20.0.0/16')],
      avoid: [],
      needs: list,
      gatewayPosition: 'first' as const,
    }
    expect(
      allocate({ ...request, vlanNumbering: 'third-octet' }).allocations.map((a) => a.subnet),
    ).toEqual(['10.20.20.0/24', '10.20.90.0/23'])
    expect(
      allocate({ ...request, vlanNumbering: 'free' }).allocations.map((a) => a.subnet),
    ).toEqual(['10.20.2.0/26', '10.20.0.0/23'])
  })
  it('says which segment found no room, and how much it needs', () => {
    const list = [
      { id: 'big', vlanId: 10, expectedHosts: 300, growthPercent: 0, fixedAddresses: 0 },
    ]
    expect(
      allocate({
        space: [prefix('10.0.0.0/24')],
        avoid: [],
        needs: list,
        gatewayPosition: 'first',
        vlanNumbering: 'free',
      }),
    ).toEqual({ allocations: [], unplaced: [{ id: 'big', length: 23 }], moves: [] })
  })
  it('counts hosts, growth, fixed block, gateway and both ends into the length', () => {
    // 240 hosts grown by 60 % are 384; 8 fixed, a gateway, network and broadcast make 395, so 512
    // addresses.
    expect(
      lengthFor({ id: 'x', vlanId: 1, expectedHosts: 240, growthPercent: 60, fixedAddresses: 0 }),
    ).toBe(23)
    expect(usableHosts(prefix('10.0.0.0/23'))).toBe(510n)
  })
  it('finds the lowest aligned hole', () => {
    expect(
      formatPrefix(
        firstFree([prefix('10.0.0.0/22')], 24, [prefix('10.0.0.0/25'), prefix('10.0.1.0/24')])!,
      ),
    ).toBe('10.0.2.0/24')
    expect(
      firstFree([prefix('10.0.0.0/24')], 25, [prefix('10.0.0.0/26'), prefix('10.0.0.128/25')]),
    ).toBeUndefined()
  })
  it('picks a space that collides with nothing', () => {
    const picked = pickSpace([prefix('10.2.0.0/16'), prefix('10.0.0.0/12')])!
    expect(formatPrefix(picked)).toBe('10.16.0.0/16')
  })
  it('refuses to divide what is too small', () =>
    expect(() => divide(prefix('10.0.0.0/30'), 0, 'first')).toThrow('too small'))
})

it('classifies by the most specific entry', () => {
  expect(classifyText('192.0.0.8')?.kind).toBe('reserved')
  expect(classifyText('2001:db8::1')?.kind).toBe('documentation')
  expect(classifyText('nonsense')).toBeUndefined()
})
