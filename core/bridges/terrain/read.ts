/** The ground along a path out of a file of any kind that is known. */
import type { Place } from '../geodesy/between'
import { between } from '../geodesy/between'
import { groundFromGrid } from './fromGrid'
import { groundFromCsv, groundFromGeoJson, groundFromKml, type GroundRead } from './tables'
import { isProblem, readHgt, type HeightGrid, type Problem } from './tile'
import { rankPairs, type Candidate, type Ranked } from '../candidates/rank'
import { readGeoTiff } from './geoTiff'

/** A tile of one arc second has 26 MB; larger files are not opened. */
export const MOST_GROUND_OCTETS = 200_000_000
const MOST_TEXT_OCTETS = 16_000_000

export interface Ground extends GroundRead {
  /** What was read, in words. */
  readonly said: string
}

const isTiff = (o: Uint8Array): boolean =>
  (o[0] === 0x49 && o[1] === 0x49 && (o[2] === 42 || o[2] === 43)) ||
  (o[0] === 0x4d && o[1] === 0x4d && (o[3] === 42 || o[3] === 43))

/** A grid, where the file is one. */
const gridOf = async (
  fileName: string,
  octets: Uint8Array,
): Promise<HeightGrid | Problem | null> =>
  /\.hgt$/i.test(fileName) ? readHgt(fileName, octets) : isTiff(octets) ? readGeoTiff(octets) : null

/** Pairs of masts over a grid out of a file, the least loss first; of many the best. */
export async function rankOver(
  fileName: string,
  octets: Uint8Array,
  masts: readonly Candidate[],
  mhz: number,
  mostM: number,
): Promise<readonly Ranked[] | Problem> {
  if (octets.length > MOST_GROUND_OCTETS)
    return { problem: `it has more than ${MOST_GROUND_OCTETS / 1e6} MB; cut it to the place first` }
  const grid = await gridOf(fileName, octets)
  if (!grid) return { problem: 'it is neither a tile (.hgt) nor a GeoTIFF' }
  if (isProblem(grid)) return grid
  const ranked = rankPairs(grid, masts, mhz, mostM)
  return ranked.length === 0
    ? { problem: 'no two of the masts are in it and near enough to each other' }
    : ranked.slice(0, MOST_RANKED)
}
/** More pairs than that nobody reads. */
const MOST_RANKED = 200

/** By its first octets and its name; heights between the ends, whatever the file covers besides. */
export async function readGround(
  fileName: string,
  octets: Uint8Array,
  a: Place,
  b: Place,
): Promise<Ground | Problem> {
  if (octets.length === 0) return { problem: 'the file is empty' }
  if (octets.length > MOST_GROUND_OCTETS)
    return { problem: `it has more than ${MOST_GROUND_OCTETS / 1e6} MB; cut it to the place first` }
  const ofGrid = await gridOf(fileName, octets)
  if (ofGrid) {
    if (isProblem(ofGrid)) return ofGrid
    const sampled = groundFromGrid(ofGrid, a, b)
    if (isProblem(sampled)) return sampled
    const count = sampled.ground.length
    return {
      ground: sampled.ground,
      problems:
        sampled.unknown === 0
          ? []
          : [
              `${sampled.unknown} of ${count + sampled.unknown} points are not in it, or are voids: read the ` +
                'tile beside it as well, or type them',
            ],
      said: `${count} heights, one each ${Math.round(between(a, b).metres / Math.max(1, count - 1))} m`,
    }
  }
  if (octets.length > MOST_TEXT_OCTETS)
    return { problem: `a table has no more than ${MOST_TEXT_OCTETS / 1e6} MB` }
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(octets)
  } catch {
    return {
      problem:
        'it is none of: a tile (.hgt), a GeoTIFF, a table (CSV), KML, GeoJSON; or a text that is not UTF-8',
    }
  }
  const read = /^\s*(<\?xml|<kml)/i.test(text)
    ? groundFromKml(text, a, b)
    : /^\s*\{/.test(text)
      ? groundFromGeoJson(text, a, b)
      : groundFromCsv(text, between(a, b).metres)
  return isProblem(read) ? read : { ...read, said: `${read.ground.length} heights` }
}
