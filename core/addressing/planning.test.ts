import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  address,
  allocate,
  allocateSixtyFours,
  collapse,
  containsPrefix,
  explainAddress,
  explainSpan,
  explainSubnet,
  formatPrefix,
  FreeSpace,
  freeBlocks,
  freeCount,
  gatewayOf6,
  lengthFor,
  overlappingPairs,
  overlaps,
  prefix,
  prefixAround,
  prefixSize,
  subnetText,
  usualCollisions,
  yearlyGrowth,
  yearsUntilFull,
  pickSpace,
  type AllocationRequest,
  type Prefix,
  type SegmentNeed,
} from '.'

const inside = fc
  .tuple(fc.bigInt({ min: 0n, max: 0xffffn }), fc.integer({ min: 18, max: 30 }))
  .map(([v, l]): Prefix => prefixAround({ family: 4, value: 0x0a140000n + v }, l))

describe('free space', () => {
  it('is the space without what is taken, in the largest blocks there are', () => {
    fc.assert(
      fc.property(fc.array(inside, { maxLength: 14 }), (taken) => {
        const blocks = freeBlocks([prefix('10.20.0.0/16')], taken)
        for (const b of blocks) for (const t of taken) expect(overlaps(b, t)).toBe(false)
        expect(collapse(blocks)).toEqual(blocks)
        expect(freeCount(blocks) + collapse(taken).reduce((n, t) => n + prefixSize(t), 0n)).toBe(
          prefixSize(prefix('10.20.0.0/16')),
        )
      }),
    )
  })
  it('is whole again when everything is given back, in whatever order', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 20, max: 30 }), { maxLength: 20 }),
        fc.nat(),
        (lengths, seed) => {
          const free = new FreeSpace(4, [prefix('10.20.0.0/16')])
          const taken = lengths.flatMap((l) => free.take(l) ?? [])
          for (const [i, t] of taken.entries())
            for (const o of taken.slice(i + 1)) expect(overlaps(t, o)).toBe(false)
          for (const t of taken.sort(
            (a, b) =>
              Number((a.network * BigInt(seed + 7)) % 101n) -
              Number((b.network * BigInt(seed + 7)) % 101n),
          ))
            free.release(t)
          expect(free.list().map(formatPrefix)).toEqual(['10.20.0.0/16'])
        },
      ),
    )
  })
  it('takes from the smallest block that holds it, and keeps to an alignment', () => {
    const free = new FreeSpace(4, [prefix('10.0.0.0/24')], [prefix('10.0.0.0/27')])
    expect(formatPrefix(free.take(28)!)).toBe('10.0.0.32/28')
    expect(formatPrefix(free.take(28, 26)!)).toBe('10.0.0.64/28')
    expect(free.takeExact(prefix('10.0.0.64/27'))).toBe(false)
    expect(() => new FreeSpace(4, [prefix('2001:db8::/32')])).toThrow('2001:db8::/32 is not IPv4')
  })
})

const need = fc.record({
  expectedHosts: fc.integer({ min: 1, max: 300 }),
  growthPercent: fc.integer({ min: 0, max: 100 }),
  fixedAddresses: fc.integer({ min: 0, max: 12 }),
  vlanId: fc.integer({ min: 1, max: 250 }),
})
const needs = fc
  .uniqueArray(need, { selector: (n) => n.vlanId, minLength: 1, maxLength: 12 })
  .map((list) => list.map((n, i): SegmentNeed => ({ ...n, id: `s${i}` })))
const habits = fc.record({
  gatewayPosition: fc.constantFrom('first' as const, 'last' as const),
  vlanNumbering: fc.constantFrom('third-octet' as const, 'free' as const),
})
const placedAt = (r: ReturnType<typeof allocate>, list: readonly SegmentNeed[]): SegmentNeed[] =>
  list.map((n) => ({ ...n, current: r.allocations.find((a) => a.id === n.id)?.subnet ?? null }))

describe('planning again', () => {
  const space = [prefix('10.20.0.0/18')]
  it('moves nothing where nothing changed', () => {
    fc.assert(
      fc.property(needs, habits, (list, habit) => {
        const request: AllocationRequest = { space, avoid: [], needs: list, ...habit }
        const first = allocate(request)
        const second = allocate({ ...request, needs: placedAt(first, list) })
        expect(second.moves).toEqual([])
        expect(second.allocations.map((a) => a.subnet)).toEqual(
          first.allocations.map((a) => a.subnet),
        )
      }),
    )
  })
  it('finds room for one more where any packing has it, and moves only what it must', () => {
    fc.assert(
      fc.property(needs, habits, need, (list, habit, more) => {
        const tight = [prefix('10.20.0.0/21')]
        const first = allocate({ space: tight, avoid: [], needs: list, ...habit })
        const there = placedAt(first, list).filter((n) => n.current)
        const all = [...there, { ...more, id: 'more', vlanId: 251 }]
        const fresh = allocate({
          space: tight,
          avoid: [],
          needs: all.map((n) => ({ ...n, current: null })),
          gatewayPosition: habit.gatewayPosition,
          vlanNumbering: 'free',
        })
        const again = allocate({ space: tight, avoid: [], needs: all, ...habit })
        if (fresh.unplaced.length === 0) expect(again.unplaced).toEqual([])
        const nets = again.allocations.map((a) => prefix(a.subnet))
        for (const [i, a] of nets.entries()) {
          expect(containsPrefix(tight[0]!, a)).toBe(true)
          for (const b of nets.slice(i + 1)) expect(overlaps(a, b)).toBe(false)
        }
        for (const n of all) {
          const a = again.allocations.find((x) => x.id === n.id)
          if (a) expect(prefix(a.subnet).length).toBeLessThanOrEqual(lengthFor(n))
        }
        for (const m of again.moves) expect(m.from).not.toBe(m.to)
      }),
    )
  })
  it('leaves a locked segment where it is, whatever comes', () => {
    fc.assert(
      fc.property(needs, habits, (list, habit) => {
        const locked: SegmentNeed = {
          id: 'locked',
          vlanId: 252,
          expectedHosts: 400,
          growthPercent: 0,
          fixedAddresses: 0,
          current: '10.20.3.64/26',
          locked: true,
        }
        const r = allocate({ space, avoid: [], needs: [...list, locked], ...habit })
        expect(r.allocations.find((a) => a.id === 'locked')!.subnet).toBe('10.20.3.64/26')
        for (const a of r.allocations)
          if (a.id !== 'locked')
            expect(overlaps(prefix(a.subnet), prefix('10.20.3.64/26'))).toBe(false)
      }),
    )
  })
  it('grows around what has outgrown its place, so that its hosts keep their addresses', () => {
    const list: SegmentNeed[] = [
      {
        id: 'a',
        vlanId: 20,
        expectedHosts: 300,
        growthPercent: 0,
        fixedAddresses: 0,
        current: '10.20.20.0/24',
      },
    ]
    const { allocations, moves } = allocate({
      space,
      avoid: [],
      needs: list,
      gatewayPosition: 'first',
      vlanNumbering: 'free',
    })
    expect(allocations[0]!.subnet).toBe('10.20.20.0/23')
    expect(moves).toEqual([
      { id: 'a', from: '10.20.20.0/24', to: '10.20.20.0/23', why: 'too small' },
    ])
  })
  it(
    'leaves alone what everybody has while there is other room, moves nothing out of it, and ' +
      'uses it before it refuses',
    () => {
      const home = [prefix('10.0.0.0/24'), prefix('10.0.1.0/24')]
      const base = { vlanId: 1, expectedHosts: 20, growthPercent: 0, fixedAddresses: 0 }
      const habit = { avoid: [], rather: home, gatewayPosition: 'first' as const }
      const wide = [prefix('10.0.0.0/16')]
      expect(
        allocate({ ...habit, space: wide, vlanNumbering: 'free', needs: [{ ...base, id: 'a' }] })
          .allocations[0]!.subnet,
      ).toBe('10.0.2.0/27')
      expect(
        allocate({
          ...habit,
          space: wide,
          vlanNumbering: 'third-octet',
          needs: [{ ...base, id: 'a' }],
        }).allocations[0]!.subnet,
      ).toBe('10.0.2.0/27')
      expect(
        allocate({
          ...habit,
          space: wide,
          vlanNumbering: 'free',
          needs: [{ ...base, id: 'a', current: '10.0.0.64/26' }],
        }).moves,
      ).toEqual([])
      expect(
        allocate({
          ...habit,
          space: [prefix('10.0.0.0/23')],
          vlanNumbering: 'third-octet',
          needs: [{ ...base, id: 'a' }],
        }).allocations[0]!.subnet,
      ).toBe('10.0.1.0/24')
      fc.assert(
        fc.property(
          fc.array(
            fc.record({
              expectedHosts: fc.integer({ min: 1, max: 300 }),
              vlanId: fc.integer({ min: 1, max: 255 }),
            }),
            { maxLength: 20 },
          ),
          fc.constantFrom('third-octet' as const, 'free' as const),
          (list, vlanNumbering) => {
            const needs = list.map((n, i) => ({ ...base, ...n, id: `n${i}` }))
            const { allocations, unplaced } = allocate({
              ...habit,
              space: wide,
              vlanNumbering,
              needs,
            })
            expect(unplaced).toEqual([])
            expect(
              allocations.filter((a) => home.some((h) => overlaps(h, prefix(a.subnet)))),
            ).toEqual([])
            // What is spared is room all the same.
            const tight = {
              ...habit,
              space: [prefix('10.0.0.0/21')],
              vlanNumbering: 'free' as const,
              needs,
            }
            expect(allocate(tight).unplaced.length).toBeLessThanOrEqual(
              allocate({ ...tight, rather: [] }).unplaced.length,
            )
          },
        ),
      )
    },
  )
  it('says why something moves', () => {
    const base = { vlanId: 20, expectedHosts: 20, growthPercent: 0, fixedAddresses: 0 }
    const why = (n: Partial<SegmentNeed>, avoid: Prefix[] = []) =>
      allocate({
        space,
        avoid,
        needs: [{ ...base, id: 'a', ...n }],
        gatewayPosition: 'first',
        vlanNumbering: 'free',
      }).moves.map((m) => m.why)
    expect(why({ current: '192.168.7.0/26' })).toEqual(['not in the space'])
    expect(why({ current: '10.20.9.0/26' }, [prefix('10.20.9.0/28')])).toEqual(['overlaps'])
    expect(why({ current: '10.20.9.64/26', alignLength: 24 })).toEqual(['not aligned'])
    // Two small ones in the middle of the halves leave no half free; one of them makes room.
    const two = ['10.0.0.0/26', '10.0.0.128/26'].map((current, i): SegmentNeed => ({
      ...base,
      expectedHosts: 40,
      id: `small${i}`,
      vlanId: i + 1,
      current,
    }))
    const r = allocate({
      space: [prefix('10.0.0.0/24')],
      avoid: [],
      needs: [...two, { ...base, id: 'large', vlanId: 9, expectedHosts: 100 }],
      gatewayPosition: 'first',
      vlanNumbering: 'free',
    })
    expect(r.unplaced).toEqual([])
    expect(r.moves).toMatchObject([{ why: 'makes room' }])
  })
})

describe('/64s', () => {
  const space = [prefix('2001:db8:20::/56')]
  it('read as the VLAN does, stay where they are, and never meet', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 4094 }), { maxLength: 30 }),
        fc.constantFrom('third-octet' as const, 'free' as const),
        (vlans, numbering) => {
          const list = vlans.map((vlanId) => ({ id: `v${vlanId}`, vlanId }))
          const { placed, unplaced } = allocateSixtyFours(space, list, numbering)
          expect(unplaced).toEqual([])
          expect(new Set(placed.map((p) => p.subnet6)).size).toBe(placed.length)
          for (const p of placed) expect(containsPrefix(space[0]!, prefix(p.subnet6))).toBe(true)
          if (numbering === 'third-octet')
            for (const p of placed) {
              const vlan = Number(p.id.slice(1))
              if (vlan < 100)
                expect(p.subnet6).toBe(
                  formatPrefix(prefixAround(address(`2001:db8:20:${vlan}::`), 64)),
                )
            }
          const again = allocateSixtyFours(
            space,
            list.map((n) => ({ ...n, current: placed.find((p) => p.id === n.id)!.subnet6 })),
            numbering,
          )
          expect(again.placed).toEqual(placed)
        },
      ),
    )
  })
  it('says who gets none where there are too few', () => {
    expect(
      allocateSixtyFours(
        [prefix('2001:db8::/63')],
        [1, 2, 3].map((vlanId) => ({ id: `v${vlanId}`, vlanId })),
        'free',
      ),
    ).toEqual({
      placed: [
        { id: 'v1', subnet6: '2001:db8::/64' },
        { id: 'v2', subnet6: '2001:db8:0:1::/64' },
      ],
      unplaced: ['v3'],
    })
    expect(gatewayOf6('2001:db8:0:1::/64')).toBe('2001:db8:0:1::1')
    expect(() => gatewayOf6('10.0.0.0/24')).toThrow("'10.0.0.0/24' is not an IPv6 prefix")
  })
})

describe('overlaps', () => {
  it('are found pair by pair, of both families', () => {
    const six = fc
      .tuple(fc.bigInt({ min: 0n, max: 0xffn }), fc.integer({ min: 56, max: 66 }))
      .map(([v, l]): Prefix =>
        prefixAround({ family: 6, value: (0x20010db8n << 96n) | (v << 62n) }, l),
      )
    fc.assert(
      fc.property(fc.array(fc.oneof(inside, six), { maxLength: 24 }), (list) => {
        const slow = list
          .flatMap((a, i) =>
            list.slice(i + 1).flatMap((b, k) => (overlaps(a, b) ? [`${i}-${i + 1 + k}`] : [])),
          )
          .sort()
        expect(
          [...overlappingPairs(list)].map((p) => [...p].sort((a, b) => a - b).join('-')).sort(),
        ).toEqual(slow)
      }),
    )
  })
})

describe('addresses as people type them', () => {
  it.each([
    ['255.255.255.0', /is a mask, not an address; did mask and gateway change places/],
    ['::ffff:10.0.0.1', /IPv4 address written as IPv6 .*write 10\.0\.0\.1/],
    ['010.1.2.3', /leading zero of 010, which some programs read as octal; write 10\.1\.2\.3/],
    ['10.1.2', /has 3 parts; an IPv4 address has four/],
    ['10.1.2.256', /has 256; the parts of an IPv4 address end at 255/],
    ['10.1.2.3/24', /is a subnet; write the address alone, 10\.1\.2\.3/],
    ['fe80::1%eth0', /has a zone index/],
    ['', /missing/],
    ['gateway', /is not an address/],
  ])('%j', (text, reason) => {
    const e = explainAddress(text)
    expect(e.ok ? '' : e.reason).toMatch(reason)
  })
  it.each([
    ['10.20.30.5/24', /host bits are set in '10\.20\.30\.5\/24'; the subnet is 10\.20\.30\.0\/24/],
    ['0.0.0.0/0', /is every address there is/],
    ['::/0', /is every address there is/],
    ['10.0.0.0', /has no length/],
    ['10.0.0.0/33', /no length that fits/],
    ['255.255.255.0/10.0.0.0', /is a mask where the network should stand; did they change places/],
    ['10.0.0.0 255.0.255.0', /is not a mask: its ones are not in one run/],
    ['', /missing/],
  ])('%j', (text, reason) => {
    const e = explainSubnet(text)
    expect(e.ok ? '' : e.reason).toMatch(reason)
  })
  it('takes a dotted mask, a space, and puts everything into one spelling', () => {
    expect(subnetText('10.20.30.0 255.255.255.0')).toEqual({ ok: true, value: '10.20.30.0/24' })
    expect(subnetText('10.20.0.0/255.255.0.0')).toEqual({ ok: true, value: '10.20.0.0/16' })
    expect(subnetText('2001:0DB8:0::/48')).toEqual({ ok: true, value: '2001:db8::/48' })
    expect(explainSpan('10.0.0.5 - 10.0.0.9')).toEqual({
      ok: true,
      value: { first: '10.0.0.5', last: '10.0.0.9' },
    })
    expect(explainSpan('10.0.0.9-10.0.0.5')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('ends before it starts'),
    })
    expect(explainSpan('10.0.0.9')).toMatchObject({ ok: false })
    expect(explainSpan('10.0.0.9-::1')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('mixes'),
    })
  })
  it('never throws, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (t) => {
        explainAddress(t)
        explainSubnet(t)
        explainSpan(t)
      }),
    )
  })
})

it('a picked space meets none of the usual ranges', () => {
  expect(usualCollisions(pickSpace([])!)).toEqual([])
  expect(usualCollisions(prefix('192.168.1.0/24')).map((u) => u.met)).toEqual([
    'routers at home and from providers',
  ])
})
it('growth: 50 % over 3 years is 14.5 % a year, and 100 hosts fill 200 addresses in five', () => {
  expect(yearlyGrowth(50, 3)).toBeCloseTo(0.1447, 4)
  expect(100 * (1 + yearlyGrowth(50, 3)) ** yearsUntilFull(100, 200, 50, 3)).toBeCloseTo(200, 6)
  expect(yearsUntilFull(100, 200, 50, 3)).toBeCloseTo(5.13, 2)
  expect([yearsUntilFull(10, 5, 50, 3), yearsUntilFull(10, 20, 0, 3)]).toEqual([0, Infinity])
})
