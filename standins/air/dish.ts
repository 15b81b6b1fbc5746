/**
 * What a real antenna sends beside its beam: the field over its opening, added up strip by strip, with
 * the edge lit less than the middle as real feeds do; its beam is as wide as its label says.
 */
const STRIPS = 160

/** How much weaker the edge of the opening is lit than its middle, as a field. */
const EDGE = 0.9

/** The field in a direction, against that straight ahead, of an opening so many radians deep in phase. */
function field(u: number): number {
  let [sum, all] = [0, 0]
  for (let n = 0; n < STRIPS; n++) {
    const x = -1 + (2 * n + 1) / STRIPS
    const chord = Math.sqrt(1 - x * x) * (1 - (1 - EDGE) * x * x)
    sum += chord * Math.cos(u * x)
    all += chord
  }
  return sum / all
}
/** Where the field of the opening has half of its power. */
const halfPower = ((): number => {
  let [low, high] = [0.5, 3]
  for (let n = 0; n < 50; n++) {
    const middle = (low + high) / 2
    if (field(middle) ** 2 > 0.5) low = middle
    else high = middle
  }
  return low
})()

/** dB, 0 or less. Beside the beam surroundings send something everywhere. */
export function dishDb(offDegrees: number, widthDegrees: number, backDb: number): number {
  const off = Math.min(90, Math.abs(offDegrees)) * (Math.PI / 180)
  const half = Math.min(180, widthDegrees) * (Math.PI / 360)
  const e = Math.abs(field((halfPower * Math.sin(off)) / Math.sin(half)))
  return Math.max(-backDb, -40, 20 * Math.log10(Math.max(1e-6, e)))
}
