/**
 * A yard from a map: GeoJSON (RFC 7946) in degrees becomes a plan of the place in metres, north up.
 * Lines are walls, closed where they are buildings; polygons are areas; points are outlets, or
 * where an access point of that name hangs.
 */
import { parseTree, getNodeValue, printParseErrorCode, type ParseError } from 'jsonc-parser'
import geodesic from 'geographiclib-geodesic'
import { z } from 'zod'
import { editCall, idFor, idsOf, type EditCall, type SitePlan } from '../plan'
import { positions, unreadable } from '../plan/jsonText'
import { materialIds, type MaterialId } from '../radio/materials'
import { defineFormat, type LineProblem, type Reading } from './format'

type Position = readonly [longitude: number, latitude: number]
interface Point {
  readonly x: number
  readonly y: number
}
const position = z
  .array(z.number())
  .min(2)
  .transform(([longitude, latitude]) => [longitude!, latitude!] as Position)
  .refine(
    ([longitude, latitude]) => Math.abs(longitude) <= 180 && Math.abs(latitude) <= 90,
    'is no longitude and latitude in degrees, which GeoJSON has in this order (RFC 7946, 3.1.1 and 4)',
  )
const line = z.array(position).min(2)
const rings = z.array(z.array(position).min(4)).min(1)
const geometry = z.discriminatedUnion('type', [
  z.object({ type: z.literal('Point'), coordinates: position }),
  z.object({ type: z.literal('MultiPoint'), coordinates: z.array(position) }),
  z.object({ type: z.literal('LineString'), coordinates: line }),
  z.object({ type: z.literal('MultiLineString'), coordinates: z.array(line) }),
  z.object({ type: z.literal('Polygon'), coordinates: rings }),
  z.object({ type: z.literal('MultiPolygon'), coordinates: z.array(rings) }),
])
const feature = z.object({
  type: z.literal('Feature'),
  geometry: geometry.nullable(),
  properties: z.record(z.string(), z.unknown()).nullish(),
})

/** Around what is drawn, m. */
const MARGIN_M = 5
const MOST_METRES = 5000
const MOST_CORNERS = 200
const MOST_FEATURES = 5000
/** Where nobody measured (common practice for yards). */
const OUTDOORS_N = 23
const centimetre = (n: number): number => Math.round(n * 100) / 100

/** One thing of the map, in degrees. */
interface Drawn {
  readonly as: 'line' | 'ring' | 'point'
  readonly at: readonly Position[]
  readonly properties: Record<string, unknown>
  readonly line: number
}

/** @param fileName names the plan where the file has no name of its own */
export function readGeoJson(plan: SitePlan, text: string, fileName: string): Reading {
  const spot = positions(text)
  const nothing = (reason: string, offset = 0): Reading => ({
    ...{ edits: [], said: 'nothing', leftOut: [], newcomers: [] },
    problems: [{ ...spot(offset), reason }],
  })
  const bad = unreadable(text)
  if (bad) return nothing(bad.reason, bad.offset)
  const errors: ParseError[] = []
  const tree = parseTree(text, errors, { allowTrailingComma: false, disallowComments: true })
  const [wrong] = errors
  if (!tree || wrong)
    return nothing(
      `this is no JSON: ${wrong ? printParseErrorCode(wrong.error) : 'it is empty'}`,
      wrong?.offset,
    )
  const member = (name: string) =>
    tree.children?.find((p) => p.children?.[0]?.value === name)?.children?.[1]
  const features = member('features')
  if (features?.type !== 'array')
    return nothing('expected is a FeatureCollection with its features (RFC 7946, 3.3)')
  const crs = JSON.stringify(member('crs') ? getNodeValue(member('crs')!) : null)
  if (crs !== 'null' && !/CRS84|4326/.test(crs))
    return nothing(
      'its coordinates are of another system; save it in degrees (WGS 84, RFC 7946, 4)',
      member('crs')!.offset,
    )
  const nodes = features.children ?? []
  if (nodes.length > MOST_FEATURES)
    return nothing(
      `it has ${nodes.length} features; the most are ${MOST_FEATURES}: cut the yard out`,
    )

  const problems: LineProblem[] = []
  const leftOut: LineProblem[] = []
  const drawn: Drawn[] = []
  for (const [n, node] of nodes.entries()) {
    const where = spot(node.offset)
    const read = feature.safeParse(getNodeValue(node))
    if (!read.success) {
      const [issue] = read.error.issues
      problems.push({
        ...where,
        reason: `feature ${n + 1}: ${issue!.path.join('.')} ${issue!.message}`,
      })
    } else if (read.data.geometry === null)
      leftOut.push({ ...where, reason: `feature ${n + 1} lies nowhere` })
    else
      for (const [as, at] of partsOf(read.data.geometry))
        drawn.push({ as, at, properties: read.data.properties ?? {}, line: where.line })
  }
  if (drawn.length === 0)
    return {
      ...nothing('there is nothing in it that lies somewhere'),
      ...(problems.length && { problems }),
      leftOut,
    }

  const all = drawn.flatMap((d) => d.at)
  // More than a call takes as arguments.
  const west = all.reduce((least, p) => Math.min(least, p[0]), Infinity)
  const north = all.reduce((most, p) => Math.max(most, p[1]), -Infinity)
  const metres = ([longitude, latitude]: Position): Point => {
    const { s12, azi1 } = geodesic.Geodesic.WGS84.Inverse(north, west, latitude, longitude)
    const bearing = ((azi1 ?? 0) * Math.PI) / 180
    return {
      x: centimetre((s12 ?? 0) * Math.sin(bearing) + MARGIN_M),
      y: centimetre(-(s12 ?? 0) * Math.cos(bearing) + MARGIN_M),
    }
  }
  const placed = drawn.map((d) => ({ ...d, points: d.at.map(metres) }))
  const corners = placed.flatMap((d) => d.points)
  // Meridians come together towards the pole, so the west edge is not quite straight.
  const shift = corners.reduce((most, p) => Math.max(most, MARGIN_M - p.x), 0)
  const widthM = Math.ceil(corners.reduce((most, p) => Math.max(most, p.x), 0) + shift + MARGIN_M)
  const depthM = Math.ceil(corners.reduce((most, p) => Math.max(most, p.y), 0) + MARGIN_M)
  if (Math.max(widthM, depthM) > MOST_METRES)
    return nothing(
      `what is in it lies ${(Math.max(widthM, depthM) / 1000).toFixed(1)} km apart; ` +
        `a plan of the place has at most ${MOST_METRES / 1000} km: cut the yard out`,
    )

  const taken = idsOf(plan)
  const id = (name: string): string => {
    const made = idFor(name, taken)
    taken.add(made)
    return made
  }
  const own = member('name')?.value as unknown
  const name =
    (typeof own === 'string' && own.trim()) || fileName.replace(/\.[^.]*$/, '').trim() || 'Yard'
  const floorId = id(name)
  const outlets: Point[] = []
  const edits: EditCall[] = []
  const counts = { walls: 0, areas: 0, outlets: 0, 'access points': 0 }
  for (const { as, points, properties, line: at } of placed) {
    const moved = points.map((p) => ({ x: centimetre(p.x + shift), y: p.y }))
    const word = (key: string): string => {
      const value = properties[key]
      return typeof value === 'string' ? value.trim() : ''
    }
    const kind = word('kind').toLowerCase()
    const no = (reason: string): void => void leftOut.push({ line: at, column: 1, reason })
    if (as === 'point') {
      const device = Object.values(plan.devices).find(
        (d) => d.name.toLowerCase() === word('name').toLowerCase(),
      )
      if (device) {
        counts['access points']++
        edits.push(
          editCall('changeDevice', {
            id: device.id,
            changes: {
              place: { floorId, ...moved[0]!, heightM: 2.5, degrees: 0, stays: false },
            },
          }),
        )
      } else if (kind === 'outlet' && outlets.length < 500) {
        counts.outlets++
        outlets.push(moved[0]!)
      } else
        no(`the point ${word('name') || 'without a name'} is no outlet and no device of the plan`)
      continue
    }
    const isWall =
      as === 'line' || kind === 'building' || kind === 'wall' || Boolean(properties.building)
    if (isWall) {
      const material = materialOf(word('material'))
      if (word('material') && !material)
        no(`'${word('material')}' is no material that is known; taken as brick`)
      for (let from = 0; from < moved.length - 1; from += MOST_CORNERS - 1) {
        counts.walls++
        edits.push(
          editCall('addWall', {
            ...{ id: id('wall'), floorId, material: material ?? 'brick' },
            points: moved.slice(from, from + MOST_CORNERS),
          }),
        )
      }
    } else {
      // A ring ends where it begins; an area closes by itself.
      const ring = moved.slice(0, -1)
      if (ring.length > MOST_CORNERS) {
        no(`an area has at most ${MOST_CORNERS} corners, this one ${ring.length}`)
        continue
      }
      const areaKind = kind === 'keep-out' || kind === 'boundary' ? kind : 'people'
      const heads = Number(properties.heads ?? 0)
      counts.areas++
      edits.push(
        editCall('addArea', {
          id: id(word('name') || areaKind),
          ...{ name: (word('name') || areaKind).slice(0, 80), floorId, kind: areaKind },
          points: ring,
          heads: Number.isInteger(heads) && heads >= 0 && heads <= 100_000 ? heads : 0,
        }),
      )
    }
  }
  return {
    edits: [
      editCall('addFloor', {
        ...{ id: floorId, name: name.slice(0, 80), widthM, depthM, isOutdoors: true },
        ...{ coefficient: OUTDOORS_N, outlets },
      }),
      ...edits,
    ],
    said:
      `${name.slice(0, 80)}, ${widthM} x ${depthM} m, with ` +
      Object.entries(counts)
        .filter(([, n]) => n > 0)
        .map(([what, n]) => `${n} ${n === 1 ? what.slice(0, -1) : what}`)
        .join(', '),
    ...{ problems, leftOut, newcomers: [] },
  }
}

const materialOf = (word: string): MaterialId | undefined =>
  materialIds.find((id) => id === word.toLowerCase())

function partsOf(g: z.output<typeof geometry>): [Drawn['as'], readonly Position[]][] {
  if (g.type === 'Point') return [['point', [g.coordinates]]]
  if (g.type === 'MultiPoint') return g.coordinates.map((p) => ['point', [p]])
  if (g.type === 'LineString') return [['line', g.coordinates]]
  if (g.type === 'MultiLineString') return g.coordinates.map((l) => ['line', l])
  // Holes are walls of the same building, or say nothing about an area.
  const of = g.type === 'Polygon' ? [g.coordinates] : g.coordinates
  return of.map((p) => ['ring', p[0]!])
}

export const geoJson = defineFormat({
  id: 'geojson',
  title: 'yard from a map (GeoJSON)',
  sheet: 'wifi',
  files:
    'a FeatureCollection in degrees: lines and buildings as walls (with `material`), polygons as ' +
    'areas (`kind`: people, keep-out, boundary; `heads`), points as outlets (`kind`: outlet) or ' +
    'access points (`name`)',
  mediaType: 'application/geo+json',
  looksLike: (_, text) => /"FeatureCollection"/.test(text.slice(0, 100_000)),
  read: readGeoJson,
})
