/**
 * Levels of a sender on a grid: what distance takes, and every wall on the straight way.
 *
 * Walls are not asked for point by point. What lies in the shadow of a straight wall is convex, so
 * that each row of the grid has it in one stretch; its ends are noted, and one pass along the row
 * adds them up. The work is walls x rows and not walls x points.
 */
import { indoorLossDb } from '../../radio/distance'
import type { Grid, Law, Sender, Wall } from './place'

/** Losses of walls are added in thousandths of a decibel, whole ones: what goes in comes out. */
const PER_DB = 1000

/**
 * What walls take on the way from a point to each point of the grid, in thousandths of a dB.
 * @returns row by row
 */
export function wallLosses(
  grid: Grid,
  from: { readonly x: number; readonly y: number },
  walls: readonly Wall[],
): Int32Array {
  const { x0, y0, stepM, columns, rows } = grid
  const width = columns + 1
  const out = new Int32Array(width * rows)
  const { x: sx, y: sy } = from
  for (const { a, b, lossDb } of walls) {
    const loss = Math.round(lossDb * PER_DB)
    if (loss === 0) continue
    // Seen from the sender, first the end on the right hand and then the one on the left.
    let [px, py, qx, qy] = [a.x - sx, a.y - sy, b.x - sx, b.y - sy]
    const turn = px * qy - py * qx
    // A wall that is looked along takes nothing.
    if (turn === 0) continue
    if (turn < 0) [px, py, qx, qy] = [qx, qy, px, py]
    const [ex, ey] = [qx - px, qy - py]
    const size = Math.abs(turn)
    for (let row = 0; row < rows; row++) {
      const y = y0 + row * stepM - sy
      let lo = -Infinity
      let hi = Infinity
      // Left of the ray through the first end: px y - py x >= 0.
      if (py > 0) hi = Math.min(hi, (px * y) / py)
      else if (py < 0) lo = Math.max(lo, (px * y) / py)
      else if (px * y < 0) continue
      // Right of the ray through the other: x qy - y qx >= 0.
      if (qy > 0) lo = Math.max(lo, (qx * y) / qy)
      else if (qy < 0) hi = Math.min(hi, (qx * y) / qy)
      else if (qx * y > 0) continue
      // Beyond the wall: x ey - y ex >= size.
      if (ey > 0) lo = Math.max(lo, (size + y * ex) / ey)
      else if (ey < 0) hi = Math.min(hi, (size + y * ex) / ey)
      else if (-y * ex < size) continue
      if (lo > hi) continue
      const first = Math.max(0, Math.ceil((lo + sx - x0) / stepM))
      const last = Math.min(columns - 1, Math.floor((hi + sx - x0) / stepM))
      if (first > last) continue
      const at = row * width
      out[at + first]! += loss
      out[at + last + 1]! -= loss
    }
  }
  const losses = new Int32Array(columns * rows)
  for (let row = 0; row < rows; row++) {
    let sum = 0
    for (let column = 0; column < columns; column++)
      losses[row * columns + column] = sum += out[row * width + column]!
  }
  return losses
}

/**
 * What is missing of the best direction of an antenna: 12 (angle / half-power width)^2 dB, no more
 * than to its back (ITU-R F.1336 and others, from memory).
 */
export function offBeamDb(beam: NonNullable<Sender['beam']>, dx: number, dy: number): number {
  if (dx === 0 && dy === 0) return 0
  const degrees = (Math.atan2(dx, -dy) * 180) / Math.PI
  const turned = (((degrees - beam.degrees + 180) % 360) + 360) % 360
  const off = Math.abs(turned - 180)
  return Math.min(beam.frontToBackDb, 12 * (off / beam.widthDegrees) ** 2)
}

/** Levels of one sender, dBm, row by row. */
export function levelsOf(
  grid: Grid,
  sender: Sender,
  walls: readonly Wall[],
  { coefficient }: Law,
): Float32Array {
  const { x0, y0, stepM, columns, rows } = grid
  const losses = wallLosses(grid, sender.at, walls)
  const out = new Float32Array(columns * rows)
  const { at, aboveM, beam } = sender
  const atOne = sender.eirpDbm - indoorLossDb(sender.mhz, 1, coefficient)
  // Half of it, for distances come as squares.
  const slope = coefficient / 2 / Math.LN10
  for (let row = 0, i = 0; row < rows; row++) {
    const dy = y0 + row * stepM - at.y
    const across = dy * dy + aboveM * aboveM
    for (let column = 0; column < columns; column++, i++) {
      const dx = x0 + column * stepM - at.x
      const squared = dx * dx + across
      let level = atOne - losses[i]! / PER_DB
      if (squared > 1) level -= slope * Math.log(squared)
      if (beam) level -= offBeamDb(beam, dx, dy)
      out[i] = level
    }
  }
  return out
}
