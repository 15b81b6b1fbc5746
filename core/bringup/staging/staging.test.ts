import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import {
  containsAddress,
  formatPrefix,
  parseAddress,
  parsePrefix,
  prefixAround,
} from '../../addressing'
import { applyEdits, editCall as edit, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { runSheetOf } from '../runSheet'
import { laptopAddressFor } from './laptop'
import { stagingOf } from './table'

describe('the address of the laptop', () => {
  it.each([
    ['192.168.1.1/24', [], '192.168.1.10/24'],
    ['192.168.1.10/24', [], '192.168.1.11/24'],
    ['192.168.1.1/24', ['192.168.1.10', '192.168.1.11'], '192.168.1.12/24'],
    // Neither network nor broadcast, however small it is.
    ['10.0.0.1/30', [], '10.0.0.2/30'],
    ['10.0.0.2/30', [], '10.0.0.1/30'],
    // Both ends of a point-to-point link are hosts (RFC 3021).
    ['10.0.0.0/31', [], '10.0.0.1/31'],
    ['10.0.0.1/30', ['10.0.0.2'], null],
    ['10.0.0.1/32', [], null],
  ])('beside %s with %j there is %s', (factory, taken, address) =>
    expect(laptopAddressFor(factory, taken)).toBe(address),
  )
  it("is a host of the device's own subnet, and nobody's, wherever one is free", () =>
    fc.assert(
      fc.property(
        fc.nat(0xffff_ffff),
        fc.integer({ min: 8, max: 30 }),
        fc.array(fc.nat(40), { maxLength: 12 }),
        (value, length, near) => {
          const text = (v: bigint): string =>
            [24n, 16n, 8n, 0n].map((s) => (v >> s) & 255n).join('.')
          const subnet = prefixAround({ family: 4, value: BigInt(value) }, length)
          const size = 1n << BigInt(32 - length)
          const host = (n: bigint): string => text(subnet.network + 1n + (n % (size - 2n)))
          const own = host(BigInt(value))
          const taken = near.map((n) => host(BigInt(n)))
          const found = laptopAddressFor(`${own}/${length}`, taken)
          const busy = new Set([own, ...taken])
          if (found === null) {
            expect(BigInt(busy.size)).toBe(size - 2n)
            return
          }
          const [address] = found.split('/') as [string]
          expect(busy.has(address)).toBe(false)
          const v = parseAddress(address)!.value
          expect(v > subnet.network && v < subnet.network + size - 1n).toBe(true)
        },
      ),
    ))
})

const staged = (plan: SitePlan) => stagingOf(siteModel(plan))
const factory = (plan: SitePlan, kind: string, address: string | null, dhcp = 'client') =>
  Object.values(plan.profiles)
    .filter((p) => p.kind === kind)
    .map((p) =>
      edit('changeProfile', {
        id: p.id,
        changes: { factory: { ...p.factory, address, dhcp: dhcp as 'client' } },
      }),
    )

describe('the staging table', () => {
  it('has a row for each factory subnet, with what to type on a Linux laptop and elsewhere', () => {
    const rows = staged(quayside())
    const [first] = rows
    expect(first!.subnet).toBe('192.168.1.0/24')
    expect(first!.laptop).toEqual({ address: '192.168.1.10', length: 24, mask: '255.255.255.0' })
    expect(first!.commands.at(-1)).toBe('ip address add 192.168.1.10/24 dev IF')
    expect(first!.inWords[0]).toContain('192.168.1.10, mask 255.255.255.0')
    expect(new Set(rows.map((r) => r.subnet)).size).toBe(rows.length)
  })
  it('keeps the laptop away from every device of the subnet, and the steps say the same', () => {
    const plan = applyEdits(quayside(), [
      ...factory(quayside(), 'gateway', '192.168.1.1/24'),
      ...factory(quayside(), 'switch', '192.168.1.10/24'),
      ...factory(quayside(), 'access-point', '192.168.1.11/24'),
    ])
    const model = siteModel(plan)
    for (const row of stagingOf(model)) {
      const subnet = parsePrefix(row.subnet)!
      expect(row.pages.map((d) => d.address)).not.toContain(row.laptop!.address)
      expect(containsAddress(subnet, parseAddress(row.laptop!.address)!)).toBe(true)
      expect(formatPrefix(subnet)).toBe(row.subnet)
      for (const { deviceId } of row.pages.flatMap((g) => g.devices)) {
        const step = runSheetOf(model).find((s) => s.id === `${deviceId}.laptop`)
        if (step) expect(step.words[0]!.text).toBe(`${row.laptop!.address}/${row.laptop!.length}`)
      }
    }
  })
  it('tells who answers alike, who hands out leases, and whose numbers the site has itself', () => {
    const plan = applyEdits(quayside(), [
      ...factory(quayside(), 'gateway', '10.20.20.1/24', 'server'),
      ...factory(quayside(), 'switch', '10.20.20.1/24'),
      edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.20.0/23' } }),
    ])
    const row = staged(plan).find((r) => r.subnet === '10.20.20.0/24')!
    expect(row.clashes.join('\n')).toMatch(/all answer at 10\.20\.20\.1/)
    expect(row.clashes.join('\n')).toMatch(/hands out leases when new/)
    expect(row.clashes.join('\n')).toMatch(/Office of this site has the same numbers/)
    expect(row.clashes.join('\n')).toMatch(/own router on .* has the same numbers/)
  })
  it('gives each laptop of several people an address of its own, and says where there is no room', () => {
    const model = siteModel(quayside())
    for (const row of stagingOf(model, 4)) {
      const all = [row.laptop!.address, ...row.others]
      expect(new Set(all).size).toBe(4)
      expect(all.filter((a) => row.pages.some((g) => g.address === a))).toEqual([])
    }
    expect(stagingOf(model).every((row) => row.others.length === 0)).toBe(true)
    const narrow = siteModel(
      applyEdits(quayside(), factory(quayside(), 'gateway', '192.168.9.1/29')),
    )
    const row = stagingOf(narrow, 6).find((r) => r.subnet === '192.168.9.0/29')!
    expect(row.others).toHaveLength(4)
    expect(row.clashes.at(-1)).toBe(
      'There is room for 5 of 6 laptops: one after the other, and back to an automatic address in between.',
    )
  })
  it('says so where nobody fits beside a device', () => {
    const rows = staged(applyEdits(quayside(), factory(quayside(), 'gateway', '192.168.9.1/32')))
    const row = rows.find((r) => r.subnet === '192.168.9.1/32')!
    expect([row.laptop, row.commands]).toEqual([null, []])
    expect(row.inWords[0]).toContain('room for nobody')
  })
})
