/** Heights out of a GeoTIFF (OGC 19-008), by its library. */
import { isProblem, type HeightGrid, type Problem } from './tile'

/** A picture of more cells is not opened. */
const MOST_CELLS = 60_000_000
/** Geographic, WGS 84: the model of GeoTIFF's key 1024, and its code. */
const GEOGRAPHIC = 2

export async function readGeoTiff(octets: Uint8Array): Promise<HeightGrid | Problem> {
  const { fromArrayBuffer } = await import('geotiff')
  try {
    const buffer = octets.buffer.slice(
      octets.byteOffset,
      octets.byteOffset + octets.byteLength,
    ) as ArrayBuffer
    const image = await (await fromArrayBuffer(buffer)).getImage()
    const read = frameOf(image)
    if (isProblem(read)) return read
    const columns = image.getWidth()
    const rows = image.getHeight()
    if (columns * rows > MOST_CELLS)
      return { problem: `it has ${columns} x ${rows} cells; cut it to the place first` }
    const [band] = (await image.readRasters({ samples: [0] })) as unknown as [ArrayLike<number>]
    return {
      heights: Float32Array.from(band),
      columns,
      rows,
      ...read,
      voidHeight: image.getGDALNoData() ?? -32_768,
    }
  } catch (error) {
    return {
      problem:
        'it cannot be read as a GeoTIFF: ' +
        `${error instanceof Error ? error.message.split('\n')[0]!.slice(0, 160) : 'it is broken'}`,
    }
  }
}

interface Pictured {
  getGeoKeys(): Partial<Record<string, unknown>> | null
  getOrigin(): number[]
  getResolution(): number[]
}
function frameOf(
  image: Pictured,
): Pick<HeightGrid, 'west' | 'north' | 'stepLongitude' | 'stepLatitude'> | Problem {
  const keys = image.getGeoKeys()
  if (keys?.GTModelTypeGeoKey !== GEOGRAPHIC)
    return {
      problem:
        'its cells are not in degrees of latitude and longitude; bring it to WGS 84 (EPSG:4326) first',
    }
  const [west, north] = image.getOrigin() as [number, number]
  const [stepX, stepY] = image.getResolution() as [number, number]
  if (!(stepX > 0) || !(stepY < 0))
    return { problem: 'its rows do not run from north to south; turn it first' }
  // A cell is an area unless it says that it is a point; its height is that of its middle.
  const half = keys.GTRasterTypeGeoKey === 2 ? 0 : 0.5
  return {
    west: west + half * stepX,
    north: north + half * stepY,
    stepLongitude: stepX,
    stepLatitude: -stepY,
  }
}
