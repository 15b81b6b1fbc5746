import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { soundSite, type SoundGiven } from '../../tests/sites/sound'
import { applyEdits, editCall, parsePlan, type SitePlan } from '../plan'
import { dishFive } from '../plan/bridgeUnits'
import { siteModel } from '../topology'
import { findingsOf } from '../findings'
import { isReckoned, reckon } from './reckoned'
import { groundFromCsv, groundFromGeoJson, groundFromKml } from './terrain/tables'
import { readGround } from './terrain/read'
import { heightAt, isProblem, readHgt } from './terrain/tile'
import { groundAt, tidyGround } from './terrain/ground'

const usual: SoundGiven = {
  profileId: 'bridge-5ghz-dish',
  channel: 112,
  widthMhz: 40,
  metres: 3000,
  degrees: 40,
  heightAM: 20,
  heightBM: 20,
  ground: [],
  obstacles: [],
}
const at = (plan: SitePlan, a: object | null, b: object | null): SitePlan =>
  applyEdits(plan, [
    editCall('changeBridge', {
      id: 'sound',
      changes: {
        ...(a && { a: { ...plan.bridges.sound!.a, ...a } }),
        ...(b && { b: { ...plan.bridges.sound!.b, ...b } }),
      },
    }),
  ])
const asked = (plan: SitePlan) =>
  reckon(siteModel(plan), plan.bridges.sound!, new Date('2026-11-28'))
const missing = (plan: SitePlan): string => {
  const r = asked(plan)
  return isReckoned(r) ? 'nothing' : r.missing.join('; ')
}
const place = (latitude: number, longitude: number) => ({ at: { latitude, longitude } })

describe('bad input of bridges', () => {
  it('both ends in one place, antipodes, and half of the Earth away', () => {
    const plan = soundSite(usual)
    expect(missing(at(plan, place(57, -6), place(57, -6)))).toMatch(/both ends are in one/)
    expect(missing(at(plan, place(10, 20), place(-10, -160)))).toMatch(/20\d\d\d km lie between/)
    expect(missing(at(plan, place(57, -6), place(50, 1)))).toMatch(
      /no bridge goes farther than 300/,
    )
  })
  it('over the date line and beside the pole it is as anywhere', () => {
    const plan = soundSite(usual)
    for (const [a, b] of [
      [place(0, 179.99), place(0, -179.99)],
      [place(89.99, 0), place(89.99, 180)],
      [place(-90, 0), place(-89.99, 77)],
    ] as const) {
      const r = asked(at(plan, a, b))
      if (!isReckoned(r)) throw new Error(r.missing.join())
      expect(r.budget.facts.way.metres).toBeGreaterThan(1000)
      expect(r.budget.facts.way.metres).toBeLessThan(2300)
      expect(Number.isFinite(r.budget.toB.levelDbm)).toBe(true)
    }
  })
  it('a place under the ground, no coordinates, no such channel, no table of sensitivities', () => {
    const plan = soundSite(usual)
    const low = applyEdits(plan, [
      editCall('changeLocation', { id: 'shore', changes: { heightM: -3 } }),
      editCall('changeBridge', {
        id: 'sound',
        changes: { a: { ...plan.bridges.sound!.a, heightM: null } },
      }),
    ])
    expect(missing(low)).toMatch(/above the ground, not below it/)
    const lost = applyEdits(plan, [
      editCall('changeLocation', { id: 'shore', changes: { latitude: null } }),
    ])
    expect(missing(lost)).toMatch(/where shore radio is/)
    expect(missing(at(plan, { channel: 7 }, null))).toMatch(/since 7 of shore radio is none/)
    const mute = applyEdits(plan, [
      editCall('changeProfile', {
        id: 'bridge-5ghz-dish',
        changes: { bridge: { ...dishFive, steps: [] } },
      }),
    ])
    const r = asked(mute)
    if (!isReckoned(r)) throw new Error(r.missing.join())
    expect(r.budget.toB.marginDb).toBeNull()
    expect(
      findingsOf(mute)
        .map((f) => f.text)
        .join(),
    ).toMatch(/no level is known that its units need/)
  })
  it('gains of 0 and of 60 dBi', () => {
    const plan = soundSite(usual)
    const nought = at(plan, { antenna: { gainDbi: 0, widthDegrees: 180, diameterM: null } }, null)
    expect(findingsOf(nought).map((f) => f.title)).toContain(
      'The gain of an antenna is not entered',
    )
    const huge = at(plan, { antenna: { gainDbi: 60, widthDegrees: 0.2, diameterM: 8 } }, null)
    expect(
      findingsOf(huge)
        .map((f) => f.text)
        .join(),
    ).toMatch(/cannot be turned down far enough/)
  })
  it('frequencies outside the range of a formula are said', () => {
    const plan = applyEdits(soundSite(usual), [
      editCall('changeProfile', {
        id: 'bridge-5ghz-dish',
        changes: { bridge: { ...dishFive, channels: [{ number: 112, mhz: 900 }] } },
      }),
    ])
    const r = asked(plan)
    if (!isReckoned(r)) throw new Error(r.missing.join())
    expect(r.budget.losses.leftOut.join()).toMatch(/rain outside 1 to 1,000 GHz/)
  })
  it('any numbers that a plan takes give numbers, or words', () => {
    const plan = soundSite(usual)
    fc.assert(
      fc.property(
        fc.double({ min: 57, max: 59, noNaN: true }),
        fc.double({ min: -8, max: -5, noNaN: true }),
        fc.double({ min: 0, max: 1000, noNaN: true }),
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.array(
          fc.record({
            atM: fc.double({ min: 0, max: 4000, noNaN: true }),
            heightM: fc.double({ min: -500, max: 9000, noNaN: true }),
          }),
          { maxLength: 20 },
        ),
        (latitude, longitude, heightM, gainDbi, ground) => {
          const moved = applyEdits(
            at(
              plan,
              { heightM, antenna: { gainDbi, widthDegrees: 5, diameterM: null } },
              place(latitude, longitude),
            ),
            [editCall('changeBridge', { id: 'sound', changes: { ground } })],
          )
          const r = asked(moved)
          if (!isReckoned(r)) {
            expect(r.missing.join().length).toBeGreaterThan(5)
            return
          }
          for (const s of [...r.budget.toB.stairs, ...r.budget.toA.stairs])
            expect(Number.isFinite(s.levelDbm), s.label).toBe(true)
          for (const t of r.timesToB) expect(t.belowMinutes).toBeGreaterThanOrEqual(0)
          expect(
            findingsOf(moved)
              .map((f) => f.text)
              .join(),
          ).not.toMatch(/NaN|Infinity|undefined/)
        },
      ),
      { numRuns: 150 },
    )
  })
  it('is refused where a plan cannot hold it', () => {
    const plan = soundSite(usual)
    const wrong = structuredClone(plan) as unknown as {
      bridges: { sound: { a: { cableDb: number } } }
    }
    wrong.bridges.sound.a.cableDb = -4
    expect(parsePlan(wrong).ok).toBe(false)
  })
})

describe('files with the ground', () => {
  const a = { latitude: 57.9, longitude: -6.7 }
  const b = { latitude: 57.92, longitude: -6.7 }
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)

  it('tiles of the wrong size, without their name, and with voids', async () => {
    expect(readHgt('N57W007.hgt', new Uint8Array(1000))).toMatchObject({
      problem: expect.stringMatching(/25,934,402 octets \(3601 x 3601\) or 2,884,802/),
    })
    expect(readHgt('tile.hgt', new Uint8Array(1201 * 1201 * 2))).toMatchObject({
      problem: expect.stringMatching(/south-west corner/),
    })
    expect(readHgt('N99W007.hgt', new Uint8Array(1201 * 1201 * 2))).toMatchObject({
      problem: expect.stringMatching(/no place/),
    })
    const empty = new Uint8Array(1201 * 1201 * 2)
    for (let n = 0; n < empty.length; n += 2) empty[n] = 0x80
    const grid = readHgt('N57W007.hgt', empty)
    if (isProblem(grid)) throw new Error(grid.problem)
    expect(heightAt(grid, 57.5, -6.5)).toBeNull()
    expect(await readGround('N57W007.hgt', empty, a, b)).toHaveProperty('problem')
    expect(heightAt(grid, 59, -6.5)).toBeNull()
  })
  it('the edges of a tile belong to it', () => {
    const grid = readHgt('N57W007.hgt', new Uint8Array(1201 * 1201 * 2))
    if (isProblem(grid)) throw new Error(grid.problem)
    for (const [latitude, longitude] of [
      [57, -7],
      [58, -7],
      [57, -6],
      [58, -6],
    ] as const)
      expect(heightAt(grid, latitude, longitude)).toBe(0)
  })
  it('tables, with the lines that are wrong', () => {
    const read = groundFromCsv('distance (m),height (m)\n0,5\n100,x\n,3\n9999,1\n200,7.5\n', 2226)
    expect(read).toMatchObject({
      ground: [
        { atM: 0, heightM: 5 },
        { atM: 200, heightM: 7.5 },
      ],
      problems: [
        'line 3, column 2: no height',
        'line 4, column 1: no distance',
        'line 5, column 1: 9999 m is not on the path, which is 2226 m long',
      ],
    })
    expect(groundFromCsv('km;elevation\n1,5;12\n', 2226)).toMatchObject({
      ground: [{ atM: 1500, heightM: 12 }],
    })
    expect(groundFromCsv('a,b\n1,2\n', 10)).toHaveProperty('problem')
  })
  it('paths of KML and GeoJSON, laid onto the line by how far they are from its ends', () => {
    const kml =
      '<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document><Placemark><LineString>' +
      '<coordinates>-6.7,57.9,4 -6.7,57.91,12\n-6.7,57.92,6 ' +
      '-6.2,57.91,80</coordinates></LineString></Placemark></Document></kml>'
    const read = groundFromKml(kml, a, b)
    if (isProblem(read)) throw new Error(read.problem)
    expect(read.ground.map((g) => g.heightM)).toEqual([4, 12, 6])
    expect(read.ground[1]!.atM).toBeCloseTo(1113.8, 0)
    expect(read.problems).toEqual([expect.stringMatching(/^point 4 lies \d+ m beside the path/)])
    const json = JSON.stringify({
      type: 'Feature',
      properties: {},
      geometry: {
        type: 'LineString',
        coordinates: [
          [-6.7, 57.9, 4],
          [-6.7, 57.91, 12],
          [-6.7, 57.92, 6],
        ],
      },
    })
    expect(groundFromGeoJson(json, a, b)).toMatchObject({ ground: read.ground })
    expect(
      groundFromKml(
        '<kml><LineString><coordinates>-6.7,57.9 ' + '-6.7,57.91</coordinates></LineString></kml>',
        a,
        b,
      ),
    ).toMatchObject({
      problem: expect.stringMatching(/no heights/),
    })
    expect(groundFromKml('<!DOCTYPE k [<!ENTITY x "y">]><kml/>', a, b)).toHaveProperty('problem')
  })
  it('anything else is refused in words', async () => {
    for (const [name, octets] of [
      ['x.bin', new Uint8Array([0xff, 0xfe, 0x00, 0xd8])],
      ['x.tif', new Uint8Array([0x49, 0x49, 42, 0, 8, 0, 0, 0])],
      ['x.json', bytes('{"type":')],
      ['x.kml', bytes('<kml><LineString>')],
      ['empty', new Uint8Array()],
    ] as const)
      expect(await readGround(name, octets, a, b)).toMatchObject({
        problem: expect.stringMatching(/\w{3}/),
      })
  })
  it('long lists keep their ends and their peaks', () => {
    const points = Array.from({ length: 20_000 }, (_, n) => ({
      atM: n,
      heightM: n === 7777 ? 90 : 3,
    }))
    const tidy = tidyGround(points, 500)
    expect(tidy).toHaveLength(500)
    expect([tidy[0], tidy.at(-1)]).toEqual([points[0], points.at(-1)])
    expect(tidy).toContainEqual({ atM: 7777, heightM: 90 })
    expect(groundAt(tidy, 7777)).toBe(90)
  })
})
