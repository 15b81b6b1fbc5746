/** What edges in the way take of a signal (ITU-R P.526). */
import { bulgeM, wavelengthM } from './shape'

/**
 * Over one knife edge, dB: J(v) = 6.9 + 20 log(sqrt((v - 0.1)^2 + 1) + v - 0.1) for v > -0.78, else 0
 * (ITU-R P.526 4.1).
 */
export const edgeLossDb = (v: number): number =>
  v <= -0.78 ? 0 : Math.max(0, 6.9 + 20 * Math.log10(Math.sqrt((v - 0.1) ** 2 + 1) + v - 0.1))

/** Something that stands on the path: how far from A and how high above the sea, m. */
export interface Edge {
  readonly atM: number
  readonly topM: number
}
/** An antenna, as the ends of a stretch. */
export type Stand = Edge

/** v = h sqrt(2 / lambda (1 / d1 + 1 / d2)): h above the line between two stands over a bent Earth. */
export function edgeNumber(edge: Edge, from: Stand, to: Stand, mhz: number, k: number): number {
  const d1 = edge.atM - from.atM
  const d2 = to.atM - edge.atM
  if (d1 <= 0 || d2 <= 0) return -Infinity
  const line = from.topM + ((to.topM - from.topM) * d1) / (d1 + d2)
  const above = edge.topM + bulgeM(d1, d2, k) - line
  return above * Math.sqrt((2 / wavelengthM(mhz)) * (1 / d1 + 1 / d2))
}

export interface Crossed {
  /** Of the edges given. */
  readonly index: number
  readonly v: number
  readonly lossDb: number
}
export interface EdgesLoss {
  readonly totalDb: number
  /** The main one first, then the worst before and behind it. */
  readonly crossed: readonly Crossed[]
  /** Added where ground is among several, dB. */
  readonly correctionDb: number
}
/** What is one thing to the wave: an obstacle by its number; null is the ground. */
export interface Owned extends Edge {
  readonly obstacle: number | null
}

/** Ground within that of an edge is the same hill (ITU-R P.526 4.4.1), m. */
const SAME_HILL_M = 250

const isOneThing = (a: Owned, b: Owned): boolean =>
  a.obstacle !== null && b.obstacle !== null
    ? a.obstacle === b.obstacle
    : Math.abs(a.atM - b.atM) <= SAME_HILL_M

function worst(
  edges: readonly Owned[],
  from: Stand,
  to: Stand,
  mhz: number,
  k: number,
  main?: Owned,
): Crossed | undefined {
  let best: Crossed | undefined
  for (let n = 0; n < edges.length; n++) {
    const edge = edges[n]!
    if (edge.atM <= from.atM || edge.atM >= to.atM || (main && isOneThing(edge, main))) continue
    const v = edgeNumber(edge, from, to, mhz, k)
    if (!best || v > best.v) best = { index: n, v, lossDb: edgeLossDb(v) }
  }
  return best
}

/**
 * Over several: the main edge, with the worst before and behind it as seen from it: L = J(vp) + T
 * (J(vt) + J(vr) + C), T = 1 - exp(-J(vp) / 6), where vp > -0.78; else 0 (ITU-R P.526 4.4.2, cascaded
 * knife edges). C = 10 + 0.04 D km is for the roundness of hills: it comes in as the others do, by 1
 * - exp(-(J(vt) + J(vr)) / 6), and not at all among edges that somebody typed, which are thin.
 */
export function edgesLoss(
  edges: readonly Owned[],
  from: Stand,
  to: Stand,
  mhz: number,
  k: number,
): EdgesLoss {
  const main = worst(edges, from, to, mhz, k)
  if (!main || main.v <= -0.78) return { totalDb: 0, crossed: [], correctionDb: 0 }
  const top = edges[main.index]!
  const share = 1 - Math.exp(-main.lossDb / 6)
  const others = [worst(edges, from, top, mhz, k, top), worst(edges, top, to, mhz, k, top)].flatMap(
    (c) => (c && c.lossDb > 0 ? [{ ...c, lossDb: share * c.lossDb }] : []),
  )
  const beside = others.reduce((sum, c) => sum + c.lossDb, 0)
  const isGround = [main, ...others].some((c) => edges[c.index]!.obstacle === null)
  const correctionDb = isGround
    ? share * (10 + (0.04 * (to.atM - from.atM)) / 1000) * (1 - Math.exp(-beside / 6))
    : 0
  return {
    totalDb: main.lossDb + beside + correctionDb,
    crossed: [main, ...others],
    correctionDb,
  }
}
