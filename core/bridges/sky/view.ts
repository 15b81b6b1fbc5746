/** What a dish that follows satellites sees of the sky. */
import type { Uplink } from '../../plan'

export type Sky = NonNullable<Uplink['sky']>

const radians = (degrees: number): number => (degrees * Math.PI) / 180
const turn = (degrees: number): number => ((degrees % 360) + 360) % 360

/** Whether a direction lies between two, clockwise; from 0 to 360 is all around. */
export const isBetween = (degrees: number, from: number, to: number): boolean =>
  to - from >= 360 || turn(degrees - from) <= turn(to - from)

/** How far up it is blocked in a direction, degrees. */
export const blockedUpTo = (sky: Sky, azimuth: number): number =>
  sky.obstacles
    .filter((o) => isBetween(azimuth, o.fromDegrees, o.toDegrees))
    .reduce((most, o) => Math.max(most, o.upDegrees), 0)

const STEPS = 720

/**
 * Of the part of the sky that it needs, what is hidden, 0 to 1: by solid angle, d azimuth x d sin
 * elevation. Satellites pass through all of it, so about so much of the time nothing is heard.
 */
export function hiddenShare(sky: Sky): number {
  const low = Math.sin(radians(sky.fromDegrees))
  const from = sky.azimuthDegrees - sky.widthDegrees / 2
  let hidden = 0
  for (let n = 0; n < STEPS; n++) {
    const azimuth = from + ((n + 0.5) * sky.widthDegrees) / STEPS
    const up = Math.sin(radians(blockedUpTo(sky, azimuth)))
    hidden += Math.max(0, up - low) / (1 - low)
  }
  return hidden / STEPS
}
