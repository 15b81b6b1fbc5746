/** The ground along a path out of text: a table of distances and heights, a path of KML or GeoJSON. */
import { XMLParser } from 'fast-xml-parser'
import { z } from 'zod'
import { MOST_GROUND } from '../../plan'
import { headingKeys, readCsv, unguardCell } from '../../formats/csv'
import { between, type Place } from '../geodesy/between'
import { tidyGround, type GroundPoint } from './ground'
import type { Problem } from './tile'

/** What is read of a path farther than that beside it is of another path, as a share of its length. */
const BESIDE_SHARE = 0.05
const BESIDE_M = 50

export interface GroundRead {
  readonly ground: readonly GroundPoint[]
  /** Lines that were not used, with why. */
  readonly problems: readonly string[]
}

const heightOk = (n: number): boolean => n >= -500 && n <= 9000

/** Columns distance and height, m; km where the heading says so. */
export function groundFromCsv(text: string, metres: number): GroundRead | Problem {
  const keys = headingKeys(text)
  const find = (...names: string[]): number =>
    keys.findIndex((k) => names.some((n) => k.startsWith(n)))
  const at = find('distance', 'dist', 'd ', 'at', 'km', 'm from')
  const height = find('height', 'elevation', 'ground', 'altitude', 'z')
  if (at < 0 || height < 0)
    return { problem: 'a table of the ground has the columns distance and height, in metres' }
  const scale = /km/.test(keys[at]!) ? 1000 : 1
  const problems: string[] = []
  const points: GroundPoint[] = []
  const { records, problems: broken } = readCsv(text)
  for (const p of broken) problems.push(`line ${p.line}, column ${p.column}: ${p.reason}`)
  for (const { line, cells } of records.slice(1)) {
    const number = (n: number): number => {
      const cell = unguardCell(cells[n] ?? '').trim()
      return cell === '' ? NaN : Number(cell.replace(',', '.'))
    }
    const [d, h] = [number(at) * scale, number(height)]
    if (!Number.isFinite(d)) problems.push(`line ${line}, column ${at + 1}: no distance`)
    else if (!Number.isFinite(h)) problems.push(`line ${line}, column ${height + 1}: no height`)
    else if (d < 0 || d > metres + 1)
      problems.push(
        `line ${line}, column ${at + 1}: ${d} m is not on the path, which is ${Math.round(metres)} m long`,
      )
    else if (!heightOk(h))
      problems.push(`line ${line}, column ${height + 1}: ${h} m is no height of ground`)
    else points.push({ atM: d, heightM: h })
  }
  if (points.length === 0) return { problem: problems[0] ?? 'there is no line with numbers in it' }
  return { ground: tidyGround(points, MOST_GROUND), problems }
}

type Position = readonly [longitude: number, latitude: number, height: number]

/** Points with heights, laid onto the path by how far they are from its ends. */
function onThePath(positions: readonly Position[], a: Place, b: Place): GroundRead | Problem {
  const { metres } = between(a, b)
  const far = Math.max(BESIDE_M, BESIDE_SHARE * metres)
  const problems: string[] = []
  const points = positions.flatMap(([longitude, latitude, heightM], n): GroundPoint[] => {
    if (!(Math.abs(latitude) <= 90) || !(Math.abs(longitude) <= 360) || !heightOk(heightM)) {
      problems.push(`point ${n + 1}: ${longitude}, ${latitude}, ${heightM} is no place`)
      return []
    }
    const here = { latitude, longitude }
    const [s, t] = [between(a, here).metres, between(b, here).metres]
    // By the three sides of the triangle: along the path, and beside it.
    const atM = (s * s - t * t + metres * metres) / (2 * metres)
    const beside = Math.sqrt(Math.max(0, s * s - atM * atM))
    if (beside > far || atM < -far || atM > metres + far) {
      problems.push(
        `point ${n + 1} lies ${Math.round(Math.max(beside, -atM, atM - metres))} m beside the path`,
      )
      return []
    }
    return [{ atM: Math.min(metres, Math.max(0, Math.round(atM * 10) / 10)), heightM }]
  })
  if (points.length === 0) return { problem: problems[0] ?? 'there is no line with heights in it' }
  return { ground: tidyGround(points, MOST_GROUND), problems }
}

/** Coordinates of all line strings of a KML document (OGC 07-147r2). */
export function groundFromKml(text: string, a: Place, b: Place): GroundRead | Problem {
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    return { problem: 'it defines names of its own (DOCTYPE), which is not read' }
  let document: unknown
  try {
    document = new XMLParser({
      processEntities: false,
      parseTagValue: false,
      ignoreAttributes: true,
      removeNSPrefix: true,
    }).parse(text, true)
  } catch (error) {
    return { problem: `it is not well-formed: ${error instanceof Error ? error.message : ''}` }
  }
  const found: string[] = []
  const walk = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(walk)
    else if (typeof node === 'object' && node !== null)
      for (const [key, value] of Object.entries(node))
        if (key === 'LineString') [value].flat().forEach((line: unknown) => take(line))
        else walk(value)
  }
  const take = (line: unknown): void => {
    if (typeof line !== 'object' || line === null || !('coordinates' in line)) return
    if (typeof line.coordinates === 'string') found.push(line.coordinates)
  }
  walk(document)
  const positions = found
    .flatMap((t) => t.trim().split(/\s+/))
    .map((t) => t.split(',').map(Number) as unknown as Position)
  return withHeights(positions, a, b)
}

const lineSchema = z.object({
  type: z.literal('LineString'),
  coordinates: z.array(z.array(z.number()).min(2)).max(1_000_000),
})
/** Line strings of GeoJSON (RFC 7946): alone, in a feature or in a collection. */
export function groundFromGeoJson(text: string, a: Place, b: Place): GroundRead | Problem {
  let document: unknown
  try {
    document = JSON.parse(text)
  } catch (error) {
    return { problem: `it is no JSON: ${error instanceof Error ? error.message : ''}` }
  }
  const lines: number[][] = []
  const walk = (node: unknown, depth: number): void => {
    if (typeof node !== 'object' || node === null || depth > 6) return
    const read = lineSchema.safeParse(node)
    if (read.success) lines.push(...read.data.coordinates)
    else
      for (const part of ['features', 'geometry', 'geometries'])
        if (part in node)
          [(node as Record<string, unknown>)[part]].flat().forEach((n) => walk(n, depth + 1))
  }
  walk(document, 0)
  return withHeights(lines as unknown as Position[], a, b)
}
function withHeights(positions: readonly Position[], a: Place, b: Place): GroundRead | Problem {
  if (positions.length === 0) return { problem: 'there is no path (LineString) in it' }
  if (positions.every((p) => p[2] === undefined))
    return {
      problem: 'its path has no heights, only a course; read the heights from a tile',
    }
  return onThePath(positions, a, b)
}
