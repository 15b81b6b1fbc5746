import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { applyEdits } from '../plan'
import { formatOf } from '.'
import { readGeoJson } from './geoJson'

const plan = kittiwakeHarbour()
const map = (...features: object[]): string =>
  JSON.stringify({ type: 'FeatureCollection', name: 'North yard', features }, null, 1)
const feature = (type: string, coordinates: unknown, properties: object = {}): object => ({
  ...{ type: 'Feature', geometry: { type, coordinates }, properties },
})
/** A hundredth of a degree of latitude and of longitude at 0, 0 (WGS 84 ellipsoid). */
const square = [
  [0, 0],
  [0.01, 0],
  [0.01, 0.01],
  [0, 0.01],
  [0, 0],
]

describe('a yard from a map', () => {
  it('is to scale, north up', () => {
    expect(formatOf('yard.geojson', map(feature('Polygon', [square])))?.id).toBe('geojson')
    const read = readGeoJson(
      plan,
      map(
        feature('Polygon', [square], { name: 'Apron', heads: 12 }),
        feature('Polygon', [square], { building: 'yes', material: 'metal' }),
        feature('LineString', [square[0], square[2]], { material: 'slate' }),
        feature('Point', [0.005, 0.005], { kind: 'outlet' }),
        feature('Point', [0.01, 0.01], { name: 'ice house ap' }),
        feature('Point', [0.01, 0.01], { name: 'Fountain' }),
      ),
      'yard.geojson',
    )
    expect(read.problems).toEqual([])
    expect(read.leftOut.map((p) => p.reason)).toEqual([
      "'slate' is no material that is known; taken as brick",
      'the point Fountain is no outlet and no device of the plan',
    ])
    const after = applyEdits(plan, [...read.edits])
    const floor = Object.values(after.floors).find((f) => f.name === 'North yard')!
    // One degree at the equator: 111,319.5 m of longitude, 110,574.3 m of latitude (WGS 84;
    // handbook values).
    expect(floor).toMatchObject({ widthM: 1124, depthM: 1116, isOutdoors: true })
    const [area] = Object.values(after.areas).filter((a) => a.floorId === floor.id)
    expect(area).toMatchObject({ name: 'Apron', heads: 12, kind: 'people' })
    const [southWest, southEast, , northWest] = area!.points
    expect(southEast!.x - southWest!.x).toBeCloseTo(1113.19, 1)
    expect(southWest!.y - northWest!.y).toBeCloseTo(1105.74, 1)
    expect(northWest!.y).toBeLessThan(southWest!.y)
    const walls = Object.values(after.walls).filter((w) => w.floorId === floor.id)
    expect(walls.map((w) => [w.material, w.points.length])).toEqual([
      ['metal', 5],
      ['brick', 2],
    ])
    const ap = Object.values(after.devices).find((d) => d.name === 'Ice House AP')
    expect(ap!.place).toMatchObject({ floorId: floor.id })
    expect(floor.outlets).toHaveLength(1)
    expect(read.said).toBe(
      'North yard, 1124 x 1116 m, with 2 walls, 1 area, 1 outlet, 1 access point',
    )
  })
  it('far north lies on the plan too', () => {
    const at = (x: number, y: number): number[] => [18.9 + x, 69.6 + y]
    const read = readGeoJson(
      plan,
      map(feature('LineString', [at(0, 0), at(0, 0.02), at(0.04, 0.02), at(0.04, 0)])),
      'yard.geojson',
    )
    expect(() => applyEdits(plan, [...read.edits])).not.toThrow()
    expect(read.problems).toEqual([])
  })
  it('a long line is several walls that hold together', () => {
    const long = Array.from({ length: 450 }, (_, n) => [n / 1e5, 0])
    const read = readGeoJson(plan, map(feature('LineString', long)), 'a.geojson')
    const after = applyEdits(plan, [...read.edits])
    const walls = Object.values(after.walls).filter((w) => !Object.hasOwn(plan.walls, w.id))
    expect(walls.map((w) => w.points.length)).toEqual([200, 200, 52])
    expect(walls[0]!.points.at(-1)).toEqual(walls[1]!.points[0])
  })
  it('of more positions than a call takes as arguments is read', () => {
    const many = Array.from({ length: 300_000 }, (_, n) => [(n % 1000) / 1e5, 0])
    const read = readGeoJson(plan, map(feature('MultiPoint', many)), 'a.geojson')
    expect(read.leftOut).toHaveLength(300_000)
  })
  it.each<[string, string, RegExp]>([
    ['text', 'ports', /^this is no JSON/],
    ['a part', map(feature('Point', [0, 0])).slice(0, 90), /^this is no JSON/],
    ['another object', '{"type":"Topology"}', /^expected is a FeatureCollection/],
    ['nothing in it', map(), /nothing in it that lies somewhere/],
    ['metres of a grid', map(feature('Point', [431_000, 5_412_000])), /no longitude and latitude/],
    [
      'half the world',
      map(
        feature('LineString', [
          [0, 0],
          [90, 0],
        ]),
      ),
      /km apart.*at most 5 km/,
    ],
    [
      'a ring of two',
      map(
        feature('Polygon', [
          [
            [0, 0],
            [1, 1],
          ],
        ]),
      ),
      /feature 1: geometry/,
    ],
    [
      'another system',
      `{"type":"FeatureCollection","crs":{"name":"EPSG:25832"},"features":[]}`,
      /save it in degrees/,
    ],
    [
      'no end of depth',
      `{"type":"FeatureCollection","features":${'['.repeat(90)}`,
      /nested deeper/,
    ],
  ])('%s is refused in words', (_, text, why) => {
    const read = readGeoJson(plan, text, 'yard.geojson')
    expect([read.edits, read.problems[0]!.reason]).toEqual([[], expect.stringMatching(why)])
  })
})
