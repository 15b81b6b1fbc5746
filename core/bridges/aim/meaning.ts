/** What a reading means, against the one that is expected, with what to look at and in which order. */
import type { Polarisation } from '../../plan'
import { firstSideLobe, offAimDb, type Antenna } from '../antenna/pattern'

/** Readings of units wander and are calibrated no better than that, dB (common practice). */
export const SPREAD_DB = 3
/** What a connector that is wet, loose or badly crimped takes at the most, dB (common practice). */
const CONNECTOR_DB = 10

export type Meaning =
  'as-expected' | 'louder' | 'side-lobe' | 'polarisation' | 'connector' | 'obstruction'

export interface Check {
  readonly meaning: Meaning
  readonly text: string
}
export interface ReadingMeaning {
  /** What it most probably is. */
  readonly meaning: Meaning
  readonly differenceDb: number
  readonly text: string
  /** The cheapest and likeliest first. */
  readonly checks: readonly Check[]
  /** Beside the beam, where a side lobe explains it. */
  readonly offDegrees: number | null
}

const f1 = (n: number): string => n.toFixed(1)

/** How far off aim explains a difference within the main lobe, degrees. */
function offInMainLobe(antenna: Antenna, db: number): number {
  let [low, high] = [0, firstSideLobe(antenna).degrees * 0.7]
  for (let n = 0; n < 40; n++) {
    const middle = (low + high) / 2
    if (-offAimDb(antenna, middle) < db) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/**
 * Reads a level: how far under the expected one it is says what is likely. A side lobe of the
 * antenna is 17.6 dB under its beam (theory of the round opening), two of them 35; the other
 * polarisation as much as its antenna separates; a connector some dB; what is in the way anything.
 */
export function meaningOf(
  readingDbm: number,
  expectedDbm: number,
  antenna: Antenna,
  polarisations: readonly [Polarisation, Polarisation],
): ReadingMeaning {
  const differenceDb = readingDbm - expectedDbm
  const lost = -differenceDb
  const lobe = firstSideLobe(antenna)
  const isDish = antenna.shape === 'dish'
  const aim: Check = {
    meaning: 'side-lobe',
    text: isDish
      ? `Aim: sweep ${f1(lobe.degrees * 1.5)} degrees to each side, then up and down. A side lobe ` +
        `is ${f1(lobe.db)} dB under the beam, about ${f1(lobe.degrees)} degrees beside it.`
      : `Aim: turn it by its beam of ${f1(antenna.widthDegrees)} degrees and tilt it; the far end may be at its edge.`,
  }
  const turned: Check = {
    meaning: 'polarisation',
    text:
      'Polarisation: both antennas upright, or both turned. The wrong one costs about ' +
      `${f1(antenna.crossPolarDb)} dB.`,
  }
  const connector: Check = {
    meaning: 'connector',
    text: 'Connectors and cable: tight, dry, none bent; with power off, try another lead.',
  }
  const obstruction: Check = {
    meaning: 'obstruction',
    text: 'The way: look along it. Leaves, a crane, a boat, a new scaffold, an edge that nobody measured.',
  }
  const out = (
    meaning: Meaning,
    text: string,
    checks: readonly Check[],
    offDegrees: number | null = null,
  ): ReadingMeaning => ({ meaning, differenceDb, text, checks, offDegrees })

  if (differenceDb > SPREAD_DB)
    return out(
      'louder',
      `${f1(differenceDb)} dB more than expected: a gain or a power in the plan is not what hangs there.`,
      [
        {
          meaning: 'louder',
          text: 'Compare antenna, power and country of both units with the plan.',
        },
      ],
    )
  if (lost <= SPREAD_DB)
    return out(
      'as-expected',
      `As expected, within ${SPREAD_DB} dB. Lock it, and read it once more.`,
      [],
    )
  const [own, other] = polarisations
  const areUnlike = own !== other
  // What sends both ways at once loses no more than half by being turned.
  const canBeTurned = own !== 'both' && other !== 'both'
  const isNearCross = canBeTurned && Math.abs(lost - antenna.crossPolarDb) <= SPREAD_DB + 1
  const isOnLobe = isDish && Math.abs(lost - lobe.db) <= SPREAD_DB
  if (areUnlike || (isNearCross && !isOnLobe))
    return out(
      'polarisation',
      `${f1(lost)} dB under the expected level: about what the other polarisation costs.`,
      [turned, aim, connector, obstruction],
    )
  if (isDish && lost >= lobe.db - SPREAD_DB && lost <= 2 * lobe.db + SPREAD_DB)
    return out(
      'side-lobe',
      lost < lobe.db * 1.5
        ? `${f1(lost)} dB under the expected level: most likely a side lobe, about ` +
            `${f1(lobe.degrees)} degrees beside the beam.`
        : `${f1(lost)} dB under the expected level: most likely both ends are on a side lobe.`,
      [aim, ...(canBeTurned ? [turned] : []), connector, obstruction],
      lobe.degrees,
    )
  if (lost <= CONNECTOR_DB) {
    const off = isDish ? offInMainLobe(antenna, lost) : null
    return out(
      'connector',
      `${f1(lost)} dB under the expected level: ${
        off === null
          ? 'not at the best of its beam'
          : `${f1(off)} degrees beside the middle of the beam`
      }, or a connector.`,
      [aim, connector, turned, obstruction],
      off,
    )
  }
  return out(
    'obstruction',
    `${f1(lost)} dB under the expected level: more than a connector takes, and not what a side lobe costs.`,
    lost < lobe.db ? [aim, obstruction, connector, turned] : [aim, turned, obstruction, connector],
  )
}
