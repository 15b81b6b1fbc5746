/**
 * What nobody drew: furniture, cars, people. A level wanders around its mean from place to place,
 * smoothly over some metres; the same seed gives the same place.
 */
const EVERY_M = 5

/** A number from whole numbers, uniform in [0, 1) (an integer hash). */
function hashed(seed: number, x: number, y: number, salt: number): number {
  let h =
    (seed ^ Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1) ^ Math.imul(salt, 0x9e3779b1)) | 0
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32
}
/** Normal with deviation 1, out of two uniform ones (Box and Muller 1958). */
function normalAt(seed: number, x: number, y: number): number {
  const u = Math.max(1e-12, hashed(seed, x, y, 1))
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * hashed(seed, x, y, 2))
}

/** How far a level is off its mean at a place, in deviations. */
export function shadowAt(seed: number, x: number, y: number): number {
  const [cx, cy] = [Math.floor(x / EVERY_M), Math.floor(y / EVERY_M)]
  const [fx, fy] = [x / EVERY_M - cx, y / EVERY_M - cy]
  const corners = [
    [cx, cy, (1 - fx) * (1 - fy)],
    [cx + 1, cy, fx * (1 - fy)],
    [cx, cy + 1, (1 - fx) * fy],
    [cx + 1, cy + 1, fx * fy],
  ] as const
  const sum = corners.reduce((s, [px, py, w]) => s + w * normalAt(seed, px, py), 0)
  // Weights make it calmer between the corners; it is as restless everywhere.
  return sum / Math.hypot(...corners.map(([, , w]) => w))
}
