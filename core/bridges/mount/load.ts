/** Wind on an antenna, and how far people keep away. Cautions, not permissions. */
import { dishDiameterM } from '../antenna/gain'
import type { EndFacts } from '../facts'

/** Density of air, kg/m3, and drag of a dish or panel (handbooks of structures). */
const AIR_KG_M3 = 1.25
const DRAG = 1.4
const GRAVITY = 9.81
/** How well a weighted mount grips a flat roof (common practice: between 0.3 and 0.5). */
const FRICTION = 0.4

/** F = 0.5 rho v^2 Cd A, N. */
export const windN = (gustMs: number, areaM2: number): number =>
  0.5 * AIR_KG_M3 * gustMs ** 2 * DRAG * areaM2
export const areaOf = (diameterM: number): number => (Math.PI * diameterM ** 2) / 4

/** The dish of an end, m: as it is, or as large as its gain asks for. */
const diameterOf = ({ antenna }: EndFacts, mhz: number): number =>
  antenna.diameterM ?? Math.min(3, dishDiameterM(antenna.gainDbi, mhz))

/**
 * The weight that keeps a mount from sliding, and from tipping over an edge half a metre away with
 * the antenna a metre above the roof, kg: the larger of both.
 */
export function ballastKg(forceN: number, armM = 1, halfBaseM = 0.5): number {
  const slide = forceN / FRICTION / GRAVITY
  const tip = (forceN * armM) / halfBaseM / GRAVITY
  return Math.max(slide, tip)
}

export interface Wind {
  /** Of the dish, m. */
  readonly diameterM: number
  /** null while no gust is entered. */
  readonly forceN: number | null
  readonly ballastKg: number | null
  /** The formula with its values. */
  readonly how: string
}
/** What a gust does to an end, and the weight that would hold it. */
export function windOn(end: EndFacts, mhz: number, gustMs: number | null): Wind {
  const diameterM = diameterOf(end, mhz)
  const area = areaOf(diameterM)
  const forceN = gustMs === null ? null : windN(gustMs, area)
  return {
    diameterM,
    forceN,
    ballastKg: forceN === null ? null : ballastKg(forceN),
    how: gustMs === null ? '' : `0.5 x 1.25 kg/m3 x ${gustMs}^2 x 1.4 x ${area.toFixed(2)} m2`,
  }
}

/** Power density for the general public, W/m2: from 2 GHz on (ICNIRP 2020). */
const PUBLIC_W_M2 = 10
/** S = EIRP / (4 pi d^2) solved for d, m. */
export const exposureM = (eirpDbm: number): number =>
  Math.sqrt(10 ** ((eirpDbm - 30) / 10) / (4 * Math.PI * PUBLIC_W_M2))
