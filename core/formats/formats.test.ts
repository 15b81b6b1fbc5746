import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { editCall, applyEdits, createPlan, idFor } from '../plan'
import { siteModel } from '../topology'
import {
  guardCell,
  unguardCell,
  MAX_CSV_OCTETS,
  normalHardwareAddress,
  readEquipmentCsv,
  writeAddressCsv,
  writeCsv,
  writeEquipmentCsv,
  writeRunSheet,
} from '.'

const read = (text: string, plan = createPlan('x')) => readEquipmentCsv(text, plan)
const reasons = (text: string): string[] =>
  read(text).problems.map((p) => `${p.line}:${p.column} ${p.reason}`)

describe('equipment as CSV', () => {
  it('reads rows whatever the line ends, quotes and order of columns', () => {
    const { rows, problems } = read(
      '\uFEFFProfile,Name,MAC\r\nSwitch 5 plain,"Kiosk, upper",02-00-5E-10-00-01\r\n\r\nap-indoor-2x2,Deck,\n',
    )
    expect(problems).toEqual([])
    expect(rows.map((r) => r.device)).toMatchObject([
      {
        id: 'kiosk-upper',
        name: 'Kiosk, upper',
        profileId: 'switch-5-plain',
        hardwareAddress: '02:00:5e:10:00:01',
      },
      { name: 'Deck', profileId: 'ap-indoor-2x2', hardwareAddress: null },
    ])
  })
  it.each([
    ['', '1:1 the file is empty'],
    ['name,price\nA,3', "1:2 'price' is not a column"],
    ['name\nA', "1:1 the column 'profile' is missing"],
    ['name,profile\n,Switch 5 plain', '2:1 a name is needed'],
    ['name,profile\nA,Kettle', "2:2 there is no profile 'Kettle'"],
    ['name,profile,serial\nA,Switch 5 plain,!!', "2:3 '!!' is not a serial"],
    [
      'name,profile,serial\nA,Switch 5 plain,AM-1\nB,Switch 5 plain,am-1',
      '3:3 the serial AM-1 stands twice',
    ],
    ['name,profile\nA,Switch 5 plain\na,Switch 5 plain', "3:1 there is a device 'a' already"],
    ['name,profile,location\nA,Switch 5 plain,Attic', "2:3 there is no location 'Attic'"],
    ['name,profile\n"A\nB",Switch 5 plain\nC,Kettle', "4:2 there is no profile 'Kettle'"],
    ['name,profile\nA,Switch 5 plain,x', '2:3 3 cells where the header has 2'],
  ])('says where %j is wrong', (text, reason) => expect(reasons(text).join('\n')).toContain(reason))
  it('keeps rows that are wrong as they stood, beside the good ones', () => {
    const { rows } = read('name,profile\nGood,Switch 5 plain\nBad,Kettle')
    expect(rows.map((r) => [r.device?.name ?? null, r.cells])).toEqual([
      ['Good', ['Good', 'Switch 5 plain']],
      [null, ['Bad', 'Kettle']],
    ])
  })
  it('reads back what it writes', () => {
    const harbour = quayside()
    const places = Object.values(harbour.locations).map((l) => editCall('addLocation', l))
    const { rows, problems } = read(writeEquipmentCsv(harbour), applyEdits(createPlan('x'), places))
    expect(problems).toEqual([])
    for (const r of rows) {
      const original = Object.values(harbour.devices).find((d) => d.name === r.device!.name)!
      expect(r.device).toMatchObject({
        profileId: original.profileId,
        serial: original.serial,
        hardwareAddress: original.hardwareAddress,
        locationId: original.locationId,
      })
    }
    expect(rows).toHaveLength(Object.keys(harbour.devices).length)
  })
  it('a cell never starts a formula, and comes back as it was', () => {
    const texts = fc.oneof(
      fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }),
      fc
        .array(
          fc.constantFrom('=', '+', '-', '@', ';', '|', '\t', '\r', '\n', "'", ' ', 'a', '\uff1d'),
          { minLength: 1, maxLength: 12 },
        )
        .map((list) => list.join('')),
    )
    // However a program parts the file, by semicolons or bars too, or where it knows no quoted line
    // breaks: no part of it is a formula.
    fc.assert(
      fc.property(texts, (text) => {
        for (const part of guardCell(text).split(/[;|\t\r\n]/))
          expect(part.trimStart(), JSON.stringify(text)).not.toMatch(/^[=+\-@\uff1d]/)
      }),
    )
    fc.assert(
      fc.property(texts, (text) => {
        expect(unguardCell(guardCell(text)).trim()).toBe(text.trim())
      }),
    )
    expect(guardCell('cable;=HYPERLINK("x")\n@SUM(1)')).toBe(`cable;'=HYPERLINK("x")\n'@SUM(1)`)
    const { rows } = read(writeCsv(['name', 'profile'], [['=cmd()', 'Switch 5 plain']]))
    expect(rows[0]!.cells[0]).toBe("'=cmd()")
    expect(rows[0]!.device!.name).toBe('=cmd()')
  })
  it('survives any text without an exception', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (text) => {
        read(text)
        read(`name,profile\n${text}`)
      }),
    )
  })
  it('refuses a file that is too large', () =>
    expect(read('x'.repeat(MAX_CSV_OCTETS + 1)).problems[0]!.reason).toMatch(/larger than 16 MB/))
})

it.each([
  ['02:00:5e:10:00:01', '02:00:5e:10:00:01'],
  ['0200.5e10.0001', '02:00:5e:10:00:01'],
  ['02005E100001', '02:00:5e:10:00:01'],
  ['', null],
  ['02:00', undefined],
  ['zz:00:5e:10:00:01', undefined],
])('hardware address %j', (given, expected) => expect(normalHardwareAddress(given)).toBe(expected))
it('ids from names are valid and free', () => {
  expect(idFor('Quay AP 1', new Set(['quay-ap-1']))).toBe('quay-ap-1-2')
  expect(idFor('Constructor', new Set())).toBe('constructor-2')
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (name) => {
      expect(idFor(name, new Set())).toMatch(/^[a-z][a-z0-9]*([-._][a-z0-9]+)*$/)
    }),
  )
})
it('writes the address plan in the order of VLANs', () =>
  expect(writeAddressCsv(quayside()).split('\r\n').slice(1, 3)).toEqual([
    '10,Management,management,20,50,10.20.10.0/24,10.20.10.1,10.20.10.2-10.20.10.9,' +
      '10.20.10.10-10.20.10.254,86400,,server,,,,no',
    '20,Office,staff,40,50,10.20.20.0/24,10.20.20.1,10.20.20.2-10.20.20.9,10.20.20.2-10.20.20.254,86400,,server,,,,no',
  ]))
it('writes the run sheet without secrets', () => {
  const text = writeRunSheet(siteModel(quayside()))
  const hostile = structuredClone(quayside())
  hostile.site.name = 'Quay\n# Not a heading ![p](http://elsewhere.example/p.png)'
  for (const d of Object.values(hostile.devices))
    d.name = `${d.name}\n\n1. [ ] [a link](javascript:x) <img src=x>`.slice(0, 80)
  const marked = writeRunSheet(siteModel(hostile))
  // One line a step and nothing that is more than text: the same lines as without, and no mark that
  // is not made plain.
  expect(marked.split('\n')).toHaveLength(text.split('\n').length)
  expect(marked.replace(/`[^`\n]*`/g, '').replace(/^\d+\. \[ \]/gm, '')).not.toMatch(
    /(?<!\\)[[\]<>!]/,
  )
  expect(text).toContain('New password: from the vault')
  expect(text).toMatch(/^\d+\. \[ \] \*\*Record the hand-off/m)
  expect(text).toMatch(/Cut over at \d+ h \d+ min; until the last host is back it takes \d+ min/)
  // On paper in the order of their times.
  const minutes = [...text.matchAll(/ \(at (?:(\d+) h )?(?:(\d+) min|(\d+) s)/g)].map(
    ([, h, m, s]) => Number(h ?? 0) * 60 + Number(m ?? 0) + Number(s ?? 0) / 60,
  )
  expect(minutes.length).toBeGreaterThan(20)
  expect(minutes).toEqual([...minutes].sort((a, b) => a - b))
})
