import { writeArrayBuffer } from 'geotiff'
import { describe, expect, it } from 'vitest'
import { readGround } from './read'
import { readGeoTiff } from './geoTiff'
import { heightAt, isProblem } from './tile'

const COLUMNS = 40
const ROWS = 30
/** Rising to the east by a metre a cell, and by ten to the south. */
const heights = Array.from(
  { length: COLUMNS * ROWS },
  (_, n) => (n % COLUMNS) + 10 * Math.floor(n / COLUMNS),
)
const written = (more: object = {}): Uint8Array =>
  new Uint8Array(
    writeArrayBuffer(Float32Array.from(heights), {
      width: COLUMNS,
      height: ROWS,
      ModelPixelScale: [0.001, 0.001, 0],
      ModelTiepoint: [0, 0, 0, -6.7, 57.9, 0],
      GTModelTypeGeoKey: 2,
      GTRasterTypeGeoKey: 1,
      GeographicTypeGeoKey: 4326,
      ...more,
    } as never) as ArrayBuffer,
  )

describe('heights out of a GeoTIFF, written by its library', () => {
  it('lie in the middles of cells, between which they are interpolated', async () => {
    const grid = await readGeoTiff(written())
    if (isProblem(grid)) throw new Error(grid.problem)
    expect(grid).toMatchObject({ columns: COLUMNS, rows: ROWS })
    expect(heightAt(grid, 57.9 - 0.0005, -6.7 + 0.0005)).toBeCloseTo(0, 4)
    expect(heightAt(grid, 57.9 - 0.0025, -6.7 + 0.0035)).toBeCloseTo(23, 4)
    expect(heightAt(grid, 57.9 - 0.003, -6.7 + 0.0045)).toBeCloseTo(29, 4)
    expect(heightAt(grid, 58, -6.7)).toBeNull()
  })
  it('give the ground along a path', async () => {
    const read = await readGround(
      'ground.tif',
      written(),
      { latitude: 57.895, longitude: -6.695 },
      { latitude: 57.88, longitude: -6.67 },
    )
    if ('problem' in read) throw new Error(read.problem)
    expect(read.problems).toEqual([])
    expect(read.ground[0]!.heightM).toBeCloseTo(49.5, 1)
  })
  it('is refused where its cells are not in degrees', async () => {
    expect(await readGeoTiff(written({ GTModelTypeGeoKey: 1 }))).toMatchObject({
      problem: expect.stringMatching(/not in degrees/),
    })
  })
})
