/** Coordinates as people type and read them: latitude and longitude, WGS 84, degrees. */
export interface Coordinates {
  readonly latitude: number
  readonly longitude: number
}

/** @returns null where the text is not two numbers */
export function readCoordinates(text: string): Coordinates | null {
  const m = /^(-?[\d.]+)\s*[,;\s]\s*(-?[\d.]+)$/.exec(text.trim())
  const [latitude, longitude] = [Number(m?.[1]), Number(m?.[2])]
  return Number.isFinite(latitude) && Number.isFinite(longitude) ? { latitude, longitude } : null
}
export const COORDINATES_EXPECTED = 'expected latitude and longitude in degrees: 57.9031, -6.6984'
