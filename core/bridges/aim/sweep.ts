/**
 * The advice of the aim helper, from one reading to the next: sweep across, back to the best, sweep
 * up and down, back to the best; wide first and then fine. It remembers what was read at which turn.
 */
import { firstSideLobe, firstZeroDegrees, type Antenna } from '../antenna/pattern'

/** Where the antenna points, degrees from where it began: across clockwise, up positive. */
export interface Pointing {
  readonly across: number
  readonly up: number
}
export interface Reading extends Pointing {
  readonly dbm: number
}
/** `across` and `up` are sweeps of a width around a middle, by steps. */
export interface Leg {
  readonly axis: 'across' | 'up'
  readonly middle: Pointing
  readonly reachDegrees: number
  readonly stepDegrees: number
}
export type Advice =
  | { readonly kind: 'turn'; readonly to: Pointing; readonly leg: Leg; readonly words: string }
  | {
      readonly kind: 'done'
      readonly best: Reading
      readonly isSideLobe: boolean
      readonly words: string
    }

export interface AimPlan {
  readonly antenna: Antenna
  readonly expectedDbm: number
  /** Under that nothing is read, dBm. */
  readonly floorDbm: number
  /** How far a hand that points by eye and compass may be off, degrees. */
  readonly startOffDegrees: number
}

/** A sweep takes as many steps as that at the most. */
const MOST_STEPS = 61
/** Peaks that differ by less are the same. */
const SIDE_LOBE_DB = 8

const at = (leg: Leg, n: number): Pointing => {
  const off = -leg.reachDegrees + n * leg.stepDegrees
  return leg.axis === 'across'
    ? { across: leg.middle.across + off, up: leg.middle.up }
    : { across: leg.middle.across, up: leg.middle.up + off }
}
const lengthOf = (leg: Leg): number => Math.round((2 * leg.reachDegrees) / leg.stepDegrees) + 1

export const bestOf = (readings: readonly Reading[]): Reading | undefined =>
  readings.reduce<Reading | undefined>(
    (b, r) => (b === undefined || r.dbm > b.dbm ? r : b),
    undefined,
  )

/**
 * The legs: rows of a raster as wide as the hand may be off, no farther apart than the main lobe is
 * wide, so that one of them goes through it; then across and up around the best, each finer.
 */
export class Aiming {
  private readonly readings: Reading[] = []
  private legs: Leg[]
  private leg = 0
  private step = 0
  private stage: 'raster' | 'centre' | 'fine' | 'done' = 'raster'

  constructor(readonly plan: AimPlan) {
    const { antenna, startOffDegrees } = plan
    const reach = Math.min(180, Math.max(startOffDegrees, antenna.widthDegrees))
    const rows = Math.max(0, Math.ceil(startOffDegrees / antenna.heightDegrees))
    this.legs = Array.from({ length: 2 * rows + 1 }, (_, n) => n)
      // From the middle outwards: most hands are nearly right.
      .map((n) => (n % 2 === 0 ? n / 2 : -(n + 1) / 2) * antenna.heightDegrees)
      .map((up) => this.sweep('across', { across: 0, up }, reach, antenna.widthDegrees / 2))
  }

  private sweep(axis: Leg['axis'], middle: Pointing, reach: number, step: number): Leg {
    const stepDegrees = Math.max(step, (2 * reach) / (MOST_STEPS - 1))
    const reachDegrees = Math.ceil(reach / stepDegrees) * stepDegrees
    return { axis, middle, reachDegrees, stepDegrees }
  }

  get all(): readonly Reading[] {
    return this.readings
  }
  get best(): Reading | undefined {
    return bestOf(this.readings)
  }

  /** What to do next. */
  advice(): Advice {
    if (this.stage === 'done') return this.ended()
    const leg = this.legs[this.leg]!
    const to = at(leg, this.step)
    return {
      kind: 'turn',
      to,
      leg,
      words:
        this.step === 0
          ? leg.axis === 'across'
            ? `Sweep across, ${(2 * leg.reachDegrees).toFixed(1)} degrees, slowly from left to right`
            : `Sweep up, ${(2 * leg.reachDegrees).toFixed(1)} degrees, slowly from below`
          : 'Go on turning',
    }
  }

  /** A level that was read where it points now. */
  read(reading: Reading): void {
    this.readings.push(reading)
    if (this.stage === 'done') return
    this.step++
    if (this.step < lengthOf(this.legs[this.leg]!)) return
    this.step = 0
    this.leg++
    if (this.stage === 'raster' && this.isFound()) this.leg = this.legs.length
    if (this.leg >= this.legs.length) this.nextStage()
  }

  /** Good enough for the main lobe: no further rows are swept. */
  private isFound(): boolean {
    const { best } = this
    return best !== undefined && best.dbm >= this.plan.expectedDbm - SIDE_LOBE_DB
  }

  private nextStage(): void {
    const { best, plan } = this
    this.leg = 0
    if (!best || best.dbm <= plan.floorDbm) return void (this.stage = 'done')
    const { antenna } = plan
    const width = firstZeroDegrees(antenna)
    if (this.stage === 'raster') {
      this.stage = 'centre'
      this.legs = [this.sweep('up', best, width, antenna.heightDegrees / 5)]
    } else if (this.stage === 'centre') {
      this.stage = 'fine'
      this.legs = [this.sweep('across', best, antenna.widthDegrees, antenna.widthDegrees / 10)]
    } else if (this.stage === 'fine' && this.legs[0]!.axis === 'across')
      this.legs = [this.sweep('up', best, antenna.heightDegrees, antenna.heightDegrees / 10)]
    else this.stage = 'done'
  }

  private ended(): Advice {
    const best = this.best ?? { across: 0, up: 0, dbm: -Infinity }
    const under = this.plan.expectedDbm - best.dbm
    const isSideLobe = under >= SIDE_LOBE_DB
    const lobe = firstSideLobe(this.plan.antenna)
    return {
      kind: 'done',
      best,
      isSideLobe,
      words: !Number.isFinite(best.dbm)
        ? 'Nothing was heard. See that the other end has power and points here, then begin anew.'
        : isSideLobe
          ? `The best was ${best.dbm.toFixed(0)} dBm, ${under.toFixed(0)} dB under what is expected: that is ` +
            `a side lobe. The beam is about ${lobe.degrees.toFixed(1)} degrees beside it: sweep wider.`
          : `Back to the best, ${best.dbm.toFixed(0)} dBm, and lock it.`,
    }
  }
}
