/** Grids of heights: the open .hgt grid, and what is read from pictures with heights. */

/** Heights of the ground on a grid, with the geographic frame of the middles of its outer cells. */
export interface HeightGrid {
  /** From the north-west corner, row by row towards the south; NaN where nothing is known. */
  readonly heights: Int16Array | Float32Array
  readonly columns: number
  readonly rows: number
  readonly west: number
  readonly north: number
  /** Between two columns and two rows, degrees. */
  readonly stepLongitude: number
  readonly stepLatitude: number
  /** What stands for nothing, besides NaN. */
  readonly voidHeight: number
}
export interface Problem {
  readonly problem: string
}
export const isProblem = (x: object): x is Problem => 'problem' in x

/** Cells on a side: one arc second and three. */
const SIDES = [3601, 1201] as const
const VOID = -32_768

/**
 * A tile of the open grid of shuttle heights: signed 16 bit, big end first, from the north-west corner
 * row by row, whole degrees with both edges in it; its name says its south-west corner: N57W007.hgt.
 */
export function readHgt(fileName: string, octets: Uint8Array): HeightGrid | Problem {
  const named = /^([NS])(\d{1,2})([EW])(\d{1,3})/i.exec(fileName.split(/[/\\]/).at(-1)!)
  if (!named)
    return {
      problem:
        'the name of a tile says its south-west corner, for example N57W007.hgt; give it back its name',
    }
  const side = SIDES.find((s) => s * s * 2 === octets.length)
  if (side === undefined)
    return {
      problem:
        `a tile has ${SIDES.map((s) => `${(s * s * 2).toLocaleString('en')} octets (${s} x ${s})`).join(' or ')}; ` +
        `this one has ${octets.length.toLocaleString('en')}: it was cut off, or is packed; unpack it first`,
    }
  const south = Number(named[2]) * (named[1]!.toUpperCase() === 'S' ? -1 : 1)
  const west = Number(named[4]) * (named[3]!.toUpperCase() === 'W' ? -1 : 1)
  if (south < -90 || south > 89 || west < -180 || west > 179)
    return { problem: `there is no place with the corner ${named[0]}` }
  const view = new DataView(octets.buffer, octets.byteOffset, octets.byteLength)
  const heights = new Int16Array(side * side)
  for (let n = 0; n < heights.length; n++) heights[n] = view.getInt16(2 * n)
  return {
    heights,
    columns: side,
    rows: side,
    west,
    north: south + 1,
    stepLongitude: 1 / (side - 1),
    stepLatitude: 1 / (side - 1),
    voidHeight: VOID,
  }
}

/** Within a grid a rounding is no step outside it, cells. */
const ROUNDING = 1e-9

/** The height of a place between four cells (bilinear), m; null outside the grid and in a void. */
export function heightAt(grid: HeightGrid, latitude: number, longitude: number): number | null {
  const x = (longitude - grid.west) / grid.stepLongitude
  const y = (grid.north - latitude) / grid.stepLatitude
  if (!(
    x >= -ROUNDING &&
    y >= -ROUNDING &&
    x <= grid.columns - 1 + ROUNDING &&
    y <= grid.rows - 1 + ROUNDING
  ))
    return null
  const column = Math.min(grid.columns - 2, Math.max(0, Math.floor(x)))
  const row = Math.min(grid.rows - 2, Math.max(0, Math.floor(y)))
  const [u, v] = [x - column, y - row]
  let sum = 0
  for (const [dx, dy, weight] of [
    [0, 0, (1 - u) * (1 - v)],
    [1, 0, u * (1 - v)],
    [0, 1, (1 - u) * v],
    [1, 1, u * v],
  ] as const) {
    // A cell that counts for nothing may be a void.
    if (weight <= 1e-12) continue
    const height = grid.heights[(row + dy) * grid.columns + column + dx]!
    if (height === grid.voidHeight || Number.isNaN(height)) return null
    sum += weight * height
  }
  return sum
}
