/** How fast a link of IEEE 802.11 is: rates from the formula, and the level that each needs. */
import type { Width } from './bands'

/**
 * Generations: direct sequence (1, b), OFDM (2, a/g), high throughput (4, n), very high (5, ac),
 * high efficiency (6, ax), extremely high (7, be).
 */
export const generations = [1, 2, 4, 5, 6, 7] as const
export type Generation = (typeof generations)[number]
/** The letters of its amendment. */
export const letterOf = { 1: 'b', 2: 'g', 4: 'n', 5: 'ac', 6: 'ax', 7: 'be' } as const

/** A step of modulation: bits of a point, and the share of them that is no redundancy. */
interface Step {
  readonly name: string
  readonly bits: number
  readonly coding: number
  /** The least level in 20 MHz, dBm (IEEE 802.11 receiver minimum input sensitivity, from memory). */
  readonly leastDbm: number
}
/** By their number (MCS). */
export const steps: readonly Step[] = [
  { name: 'BPSK 1/2', bits: 1, coding: 1 / 2, leastDbm: -82 },
  { name: 'QPSK 1/2', bits: 2, coding: 1 / 2, leastDbm: -79 },
  { name: 'QPSK 3/4', bits: 2, coding: 3 / 4, leastDbm: -77 },
  { name: '16-QAM 1/2', bits: 4, coding: 1 / 2, leastDbm: -74 },
  { name: '16-QAM 3/4', bits: 4, coding: 3 / 4, leastDbm: -70 },
  { name: '64-QAM 2/3', bits: 6, coding: 2 / 3, leastDbm: -66 },
  { name: '64-QAM 3/4', bits: 6, coding: 3 / 4, leastDbm: -65 },
  { name: '64-QAM 5/6', bits: 6, coding: 5 / 6, leastDbm: -64 },
  { name: '256-QAM 3/4', bits: 8, coding: 3 / 4, leastDbm: -59 },
  { name: '256-QAM 5/6', bits: 8, coding: 5 / 6, leastDbm: -57 },
  { name: '1024-QAM 3/4', bits: 10, coding: 3 / 4, leastDbm: -54 },
  { name: '1024-QAM 5/6', bits: 10, coding: 5 / 6, leastDbm: -52 },
  { name: '4096-QAM 3/4', bits: 12, coding: 3 / 4, leastDbm: -49 },
  { name: '4096-QAM 5/6', bits: 12, coding: 5 / 6, leastDbm: -46 },
]
/** The highest step that a generation knows. */
const highest: Readonly<Record<Generation, number>> = { 1: -1, 2: 6, 4: 7, 5: 9, 6: 11, 7: 13 }
/** The widest that it takes, MHz. */
export const widestOf: Readonly<Record<Generation, Width>> = {
  1: 20,
  2: 20,
  4: 40,
  5: 160,
  6: 160,
  7: 320,
}

/** Carriers that bear data (IEEE 802.11: OFDM 17, HT 19, VHT 21, HE 27, EHT 36). */
const carriers: Readonly<Record<2 | 4 | 5 | 6 | 7, Partial<Record<Width, number>>>> = {
  2: { 20: 48 },
  4: { 20: 52, 40: 108 },
  5: { 20: 52, 40: 108, 80: 234, 160: 468 },
  6: { 20: 234, 40: 468, 80: 980, 160: 1960 },
  7: { 20: 234, 40: 468, 80: 980, 160: 1960, 320: 3920 },
}
/** Length of a symbol without its guard, us. */
const symbolUs = (g: Generation): number => (g >= 6 ? 12.8 : 3.2)
/** The guards that each knows, us; the first is the usual one. */
const guardsUs: Readonly<Record<Generation, readonly number[]>> = {
  1: [],
  2: [0.8],
  4: [0.8, 0.4],
  5: [0.8, 0.4],
  6: [0.8, 1.6, 3.2],
  7: [0.8, 1.6, 3.2],
}

/**
 * carriers x bits x coding x streams / (symbol + guard), Mbit/s; undefined of a step or width that
 * the generation does not know, and of the few that the standard leaves out because their bits do
 * not come out even.
 */
export function rateMbps(
  generation: Exclude<Generation, 1>,
  step: number,
  widthMhz: Width,
  streams: number,
  guardUs = 0.8,
): number | undefined {
  const data = carriers[generation][widthMhz]
  const modulation = steps[step]
  if (data === undefined || !modulation || step > highest[generation] || streams < 1)
    return undefined
  if (!guardsUs[generation].includes(guardUs)) return undefined
  // One stream is all that it knows.
  if (generation === 2 && streams !== 1) return undefined
  if (generation === 5 && isLeftOut(step, widthMhz, streams)) return undefined
  const bits = data * modulation.bits * modulation.coding * streams
  return bits / (symbolUs(generation) + guardUs)
}
/** Of 802.11ac, one to four streams (IEEE 802.11 21.5). */
const isLeftOut = (step: number, widthMhz: Width, streams: number): boolean =>
  (step === 9 && widthMhz === 20 && streams % 3 !== 0) ||
  (step === 6 && widthMhz === 80 && streams === 3) ||
  (step === 9 && widthMhz === 160 && streams === 3)

/** The level that a step needs, dBm: 3 dB more for each doubling of the width. */
export const leastDbm = (step: number, widthMhz: Width): number =>
  steps[step]!.leastDbm + 3 * Math.log2(widthMhz / 20)

/** Direct sequence: rate in Mbit/s and the level it needs, dBm (IEEE 802.11 15 and 16, from memory). */
const directSequence = [
  { mbps: 1, leastDbm: -90 },
  { mbps: 2, leastDbm: -87 },
  { mbps: 5.5, leastDbm: -85 },
  { mbps: 11, leastDbm: -82 },
] as const

export interface Spoken {
  readonly generation: Generation
  readonly widthMhz: Width
  readonly streams: number
}
/** What two that talk have in common. */
export const spokenBy = (a: Spoken, b: Spoken): Spoken => {
  const generation = a.generation < b.generation ? a.generation : b.generation
  const narrowest = Math.min(a.widthMhz, b.widthMhz, widestOf[generation])
  return {
    generation,
    widthMhz: narrowest as Width,
    streams: generation <= 2 ? 1 : Math.min(a.streams, b.streams),
  }
}

/** The fastest rate at a level, Mbit/s, with the usual guard; 0 where it does not reach. */
export function bestRateMbps({ generation, widthMhz, streams }: Spoken, dbm: number): number {
  if (generation === 1) return directSequence.findLast((d) => dbm >= d.leastDbm)?.mbps ?? 0
  let best = 0
  for (let step = 0; step <= highest[generation]; step++) {
    if (dbm < leastDbm(step, widthMhz)) break
    best = Math.max(best, rateMbps(generation, step, widthMhz, streams) ?? 0)
  }
  return best
}
