/** From the power of one end to the margin at the other: each step a number with its formula. */
import type { SitePlan } from '../../plan'
import { freeSpaceLossDb } from '../../radio/distance'
import type { BridgeFacts, EndFacts, EndName } from '../facts'
import { polarisationLossDb } from '../antenna/pattern'
import { gasDbKm } from '../losses/gas'
import { rainLossDb, usualRainMmH } from '../losses/rain'
import { sendingPower, type SendingPower } from '../lawful/power'
import { pathPoints, type PathPoint } from '../clearance/points'
import { edgesLoss, type EdgesLoss } from '../clearance/edges'
import { unfavourableK, USUAL_K } from '../clearance/shape'
import { stepsOf, stepAt, type Steps } from './rates'

export interface Stair {
  readonly id:
    | 'power'
    | 'cable-out'
    | 'gain-out'
    | 'free-space'
    | 'gas'
    | 'edges'
    | 'polarisation'
    | 'gain-in'
    | 'cable-in'
  readonly label: string
  /** Added, dB; the first is a level, dBm. */
  readonly db: number
  /** After it, dBm. */
  readonly levelDbm: number
  readonly how: string
}

/** The path, whichever way one goes. */
export interface PathLosses {
  readonly points: readonly PathPoint[]
  readonly freeSpaceDb: number
  readonly gasDb: number
  /** Why a loss is left out: its formula does not hold there. */
  readonly leftOut: readonly string[]
  readonly edges: EdgesLoss
  /** With the air bending waves the other way. */
  readonly unfavourable: {
    readonly k: number
    readonly points: readonly PathPoint[]
    readonly edges: EdgesLoss
  }
  /** Rain that falls for 0.01 % of the year, mm/h, and what it takes. */
  readonly rainMmH: number
  readonly rainDb: number
}

/** What is farther from the beam than that is no edge of it, in radii of the first zone. */
const EDGES_WITHIN = 1.5
const near = (points: readonly PathPoint[]): PathPoint[] =>
  points.filter((p) => p.share < EDGES_WITHIN)

export function pathLosses(facts: BridgeFacts, day: Date): PathLosses {
  const { way, mhz, a, b, bridge } = facts
  const from = { atM: 0, topM: a.topM }
  const to = { atM: way.metres, topM: b.topM }
  const k = unfavourableK(way.metres)
  const points = pathPoints(facts, USUAL_K, day)
  const bent = pathPoints(facts, k, day)
  const gas = gasDbKm(mhz)
  const rainMmH = bridge.rainMmH ?? usualRainMmH[bridge.climate]
  const polarisation = a.set.polarisation
  const rain = rainLossDb(mhz, way.metres, rainMmH, polarisation)
  return {
    points,
    freeSpaceDb: freeSpaceLossDb(mhz, way.metres),
    gasDb: ((gas ?? 0) * way.metres) / 1000,
    leftOut: [
      ...(gas === null ? [`gases above 120 GHz`] : []),
      ...(rain === null ? [`rain outside 1 to 1,000 GHz`] : []),
    ],
    edges: edgesLoss(near(points), from, to, mhz, USUAL_K),
    unfavourable: { k, points: bent, edges: edgesLoss(near(bent), from, to, mhz, k) },
    rainMmH,
    rainDb: rain ?? 0,
  }
}

export interface Direction {
  readonly from: EndName
  readonly to: EndName
  readonly sending: SendingPower
  readonly stairs: readonly Stair[]
  /** What is heard in clear weather, dBm. */
  readonly levelDbm: number
  /** All steps of modulation of the receiving unit in its width. */
  readonly steps: Steps
  /** Above the least that it needs at all, dB; null where no sensitivity is known. */
  readonly marginDb: number | null
  /** The step that it takes in clear weather; null where it hears too little. */
  readonly step: Steps[number] | null
}

const f1 = (n: number): string => n.toFixed(1)

function stairsOf(
  facts: BridgeFacts,
  losses: PathLosses,
  out: EndFacts,
  into: EndFacts,
  sending: SendingPower,
): Stair[] {
  const { way, mhz } = facts
  const stairs: Stair[] = []
  let level = 0
  const add = (id: Stair['id'], label: string, db: number, how: string): void => {
    level += db
    stairs.push({ id, label, db, levelDbm: level, how })
  }
  add(
    'power',
    'Power',
    sending.powerDbm,
    out.set.powerDbm !== null
      ? 'as set'
      : sending.lawfulDbm === null
        ? 'the most that the unit can'
        : `the most that is lawful, ${f1(sending.lawfulDbm)} dBm, or that the unit can, ${out.unit.mostPowerDbm} dBm`,
  )
  if (out.set.cableDb > 0) add('cable-out', 'Cable', -out.set.cableDb, 'as entered')
  add('gain-out', 'Antenna', out.antenna.gainDbi, `its gain; ${f1(sending.eirpDbm)} dBm EIRP`)
  add(
    'free-space',
    'Free space',
    -losses.freeSpaceDb,
    `32.45 + 20 log ${f1(mhz)} MHz + 20 log ${(way.metres / 1000).toFixed(3)} km (ITU-R P.525)`,
  )
  if (losses.gasDb >= 0.05)
    add(
      'gas',
      'Air',
      -losses.gasDb,
      `${(losses.gasDb / (way.metres / 1000)).toFixed(2)} dB/km x ` +
        `${(way.metres / 1000).toFixed(3)} km, oxygen and water (ITU-R P.676)`,
    )
  if (losses.edges.totalDb > 0)
    add(
      'edges',
      'Edges',
      -losses.edges.totalDb,
      `${losses.edges.crossed.map((c) => `v = ${c.v.toFixed(2)}: ${f1(c.lossDb)} dB`).join(', ')}${
        losses.edges.correctionDb > 0 ? `, ${f1(losses.edges.correctionDb)} dB for round hills` : ''
      } (ITU-R P.526)`,
    )
  const turned = polarisationLossDb(
    out.set.polarisation,
    into.set.polarisation,
    Math.min(out.antenna.crossPolarDb, into.antenna.crossPolarDb),
  )
  if (turned > 0)
    add(
      'polarisation',
      'Polarisation',
      -turned,
      `${out.set.polarisation} against ${into.set.polarisation}`,
    )
  add('gain-in', 'Antenna', into.antenna.gainDbi, 'its gain')
  if (into.set.cableDb > 0) add('cable-in', 'Cable', -into.set.cableDb, 'as entered')
  return stairs
}

export interface Budget {
  readonly facts: BridgeFacts
  readonly losses: PathLosses
  readonly toB: Direction
  readonly toA: Direction
}

/** Both directions, in clear weather, on a day. */
export function budgetOf(
  facts: BridgeFacts,
  site: Pick<SitePlan['site'], 'country'>,
  day: Date,
): Budget {
  const losses = pathLosses(facts, day)
  const direction = (out: EndFacts, into: EndFacts): Direction => {
    const sending = sendingPower(facts, out, site)
    const stairs = stairsOf(facts, losses, out, into, sending)
    const { levelDbm } = stairs.at(-1)!
    // What both can: a step that one of them does not know is not sent.
    const steps = stepsOf(into.unit, Math.min(out.set.widthMhz, into.set.widthMhz))
    return {
      from: out.name,
      to: into.name,
      sending,
      stairs,
      levelDbm,
      steps,
      marginDb: steps.length === 0 ? null : levelDbm - steps[0]!.leastDbm,
      step: stepAt(steps, levelDbm),
    }
  }
  return { facts, losses, toB: direction(facts.a, facts.b), toA: direction(facts.b, facts.a) }
}
