import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { readClaimList } from '../../formats'
import { claimsAddUp, sortClaims } from './claims'

const plan = quayside()
const serialOf = (id: string): string => plan.devices[id]!.serial!
const macOf = (id: string): string => plan.devices[id]!.hardwareAddress!
const sorted = (text: string, claimed: string[] = []): ReturnType<typeof sortClaims> =>
  sortClaims(plan, readClaimList(text).rows, new Set(claimed))

describe('a claim list', () => {
  it('is a table, or serials one in a line, in any case, with marks of spreadsheets', () => {
    const [serial, mac] = [serialOf('quay-ap').toLowerCase(), macOf('quay-ap').toUpperCase()]
    const text = `\uFEFFModel;Serial;MAC\nOutdoor AP 2x2;${serial};${mac}\n`
    expect(readClaimList(text).rows).toEqual([
      {
        line: 2,
        serial: serialOf('quay-ap'),
        serialAsAddress: null,
        model: 'Outdoor AP 2x2',
        hardwareAddress: macOf('quay-ap'),
      },
    ])
    expect(sorted(text).claims.map((c) => c.device.id)).toEqual(['quay-ap'])
    expect(sorted(`${serialOf('switch')}\n\n${serialOf('gateway')}\n`).claims).toHaveLength(2)
  })
  it('says by line what cannot be claimed and why', () => {
    const text = [
      'serial,model,mac',
      `${serialOf('switch')},,`,
      `${serialOf('switch')},,`,
      `${serialOf('gateway').slice(0, -1)}X,,`,
      'NOBODYS-1,,',
      `${macOf('quay-ap')},,`,
      `${serialOf('quay-ap')},Switch 5 plain,`,
      `${serialOf('gateway')},,02:00:5e:00:53:01`,
    ].join('\n')
    const { claims, refused, unnamed } = sorted(text)
    expect(claims.map((c) => c.line)).toEqual([2])
    expect(refused.map((r) => [r.line, r.why])).toEqual([
      [3, 'it is on line 2 already'],
      [4, expect.stringMatching(/^no device has it; Harbour gateway has .*, 1 place off$/)],
      [5, 'no device of the plan has it'],
      [
        6,
        expect.stringMatching(/this is the hardware address of Quay AP; its serial is the other/),
      ],
      [7, expect.stringMatching(/Quay AP is Outdoor AP 2x2 in the plan, the list says Switch 5/)],
      [8, expect.stringMatching(/Harbour gateway has the hardware address/)],
    ])
    expect(unnamed.map((d) => d.id).sort()).toEqual(['gateway', 'quay-ap'])
  })
  it('tells apart what is claimed already', () =>
    expect(sorted(serialOf('switch'), ['switch'])).toMatchObject({
      claims: [],
      already: [{ line: 1 }],
    }))
  it('with no column of serials, or nothing, is refused by line', () => {
    expect(readClaimList('a,b\n1,2').problems[0]!.reason).toMatch(/no column 'serial'/)
    expect(readClaimList('').problems[0]!.reason).toBe('the file is empty')
  })
  it('puts every row somewhere, whatever it says', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...['switch', 'gateway'].map(serialOf)), fc.string())),
        (list) => {
          const { rows } = readClaimList(
            ['serial,x', ...list.map((s) => `"${s.replaceAll('"', '')}",`)].join('\n'),
          )
          const s = sortClaims(plan, rows, new Set(['gateway']))
          expect(s.claims.length + s.already.length + s.refused.length).toBe(rows.length)
        },
      ),
    ))
  it('of 50,000 rows is sorted too', () => {
    const rows = Array.from({ length: 50_000 }, (_, i) => `AM-SWI-${10_000 + i},`)
    const s = sorted(`serial,model\n${rows.join('\n')}\n`)
    expect(s.claims.length + s.refused.length).toBe(50_000)
    expect(s.claims.map((c) => c.device.id)).toContain('switch')
  })
})

it('counts before and after have to add up', () => {
  expect(claimsAddUp(3, 5, 8)).toEqual({
    isRight: true,
    says: '3 were claimed, 5 came in, 8 are claimed now: it adds up.',
  })
  expect(claimsAddUp(3, 5, 9).says).toMatch(/1 more than it should be/)
  expect(claimsAddUp(3, 5, 7)).toMatchObject({ isRight: false })
})
