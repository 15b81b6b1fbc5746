/** Who serves each point of the grid, how well it is heard over the others, and how fast that is. */
import { overlapOf, type Channel } from '../../radio/bands'
import { noiseDbm } from '../../radio/decibels'
import { bestRateMbps, spokenBy, type Spoken } from '../../radio/rates'

/** A radio of an access point with its levels on the grid. */
export interface OnAir {
  readonly channel: Channel
  readonly spoken: Spoken
  readonly levels: Float32Array
  /** The share of time in which it sends, 0 to 1: so much it disturbs others. */ readonly busy: number
}
/** What somebody has in hand. */
export interface ClientRadio {
  readonly spoken: Spoken
  /** Under this level it does not join, dBm. */ readonly leastDbm: number
}
/** Noise of a usual receiver over that of heat, dB (common practice). */
export const NOISE_FIGURE_DB = 7

/** Of each point, row by row; -1 where nobody serves. */
export interface Service {
  readonly best: Int16Array
  readonly levelDbm: Float32Array
  readonly second: Int16Array
  readonly secondDbm: Float32Array
  /** Over noise and what the others send into its channel, dB. */ readonly clearanceDb: Float32Array
  readonly mbps: Float32Array
}

/**
 * One band: everybody is served by the radio that is heard best.
 * @param radios of one band, with levels on the same grid
 * @param points of that grid
 */
export function serviceOf(radios: readonly OnAir[], client: ClientRadio, points: number): Service {
  const best = new Int16Array(points).fill(-1)
  const second = new Int16Array(points).fill(-1)
  const levelDbm = new Float32Array(points).fill(-Infinity)
  const secondDbm = new Float32Array(points).fill(-Infinity)
  for (const [n, { levels }] of radios.entries())
    for (let i = 0; i < points; i++) {
      const level = levels[i]!
      if (level > levelDbm[i]!) {
        second[i] = best[i]!
        secondDbm[i] = levelDbm[i]!
        best[i] = n
        levelDbm[i] = level
      } else if (level > secondDbm[i]!) {
        second[i] = n
        secondDbm[i] = level
      }
    }
  const clearanceDb = clearancesOf(radios, best, levelDbm, client)
  const mbps = ratesOf(radios, best, clearanceDb, client)
  for (let i = 0; i < points; i++)
    if (levelDbm[i]! < client.leastDbm) {
      best[i] = -1
      mbps[i] = 0
    }
  return { best, levelDbm, second, secondDbm, clearanceDb, mbps }
}

function clearancesOf(
  radios: readonly OnAir[],
  best: Int16Array,
  levelDbm: Float32Array,
  client: ClientRadio,
): Float32Array {
  const points = best.length
  const noises = radios.map(
    (r) => 10 ** (noiseDbm(spokenBy(r.spoken, client.spoken).widthMhz, NOISE_FIGURE_DB) / 10),
  )
  // What each sends into the channel of each, of its own part that lies there and while it sends.
  const shares = radios.map((mine, m) =>
    radios.map((other, o) => (m === o ? 0 : overlapOf(other.channel, mine.channel) * other.busy)),
  )
  const disturbed = shares.map((row) => row.flatMap((share, o) => (share > 0 ? [o] : [])))
  const out = new Float32Array(points)
  const perNeper = Math.LN10 / 10
  for (let i = 0; i < points; i++) {
    const mine = best[i]!
    if (mine < 0) continue
    let power = noises[mine]!
    for (const o of disturbed[mine]!)
      power += shares[mine]![o]! * Math.exp(radios[o]!.levels[i]! * perNeper)
    out[i] = levelDbm[i]! - 10 * Math.log10(power)
  }
  return out
}

/** So fine rates are looked up, dB. */
const STEP_DB = 0.25
const MOST_DB = 100
function ratesOf(
  radios: readonly OnAir[],
  best: Int16Array,
  clearanceDb: Float32Array,
  client: ClientRadio,
): Float32Array {
  // The levels that rates need are told over a quiet room: what disturbs counts as so much less.
  const tables = radios.map((r) => {
    const spoken = spokenBy(r.spoken, client.spoken)
    const noise = noiseDbm(spoken.widthMhz, NOISE_FIGURE_DB)
    return Float32Array.from({ length: MOST_DB / STEP_DB + 1 }, (_, k) =>
      bestRateMbps(spoken, noise + k * STEP_DB),
    )
  })
  const out = new Float32Array(best.length)
  for (let i = 0; i < best.length; i++) {
    const n = best[i]!
    if (n < 0) continue
    const k = Math.floor(clearanceDb[i]! / STEP_DB)
    if (k >= 0) out[i] = tables[n]![Math.min(k, MOST_DB / STEP_DB)]!
  }
  return out
}
