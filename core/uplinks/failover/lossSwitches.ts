/** What loss alone makes a gateway do in a year: leave a line that works, and come back to it. */
import { YEAR_HOURS } from './failing'
import { chainOf, type Loss, type Need } from './loss'
import { cycleOf, runTime, runWithin, type CycleTime, type RoundChain, type RunTime } from './runs'
import { goodRounds, type Return, type Watch } from './times'

const YEAR_SECONDS = YEAR_HOURS * 3600

/** Over again within so long of coming back is coming and going. */
export const FLAP_SECONDS = 600

export interface LossyLine {
  readonly targets: number
  readonly need: Need
  readonly loss: Loss
}
/** Times a year, while the line works. */
export interface LossSwitches {
  readonly switches: number
  /** Of the returns, those to a line that is still in its burst. */
  readonly falseReturns: number
  /** Of the returns, those after which it is left again within `FLAP_SECONDS`. */
  readonly flaps: number
}
interface Cycles {
  readonly chain: RoundChain
  readonly cycle: CycleTime
  readonly aYear: number
}

/** The cycles of one line for whatever tests; of equal tests nothing is reckoned twice. */
function cyclesOf(line: LossyLine, back: Return): (watch: Watch) => Cycles {
  const byInterval = new Map<number, { chain: RoundChain; returns: Map<number, RunTime> }>()
  return (watch) => {
    const { intervalSeconds } = watch
    let known = byInterval.get(intervalSeconds)
    if (!known) {
      const chain = chainOf(line.loss, intervalSeconds, line.targets, line.need)
      byInterval.set(intervalSeconds, (known = { chain, returns: new Map() }))
    }
    const { chain, returns } = known
    const rounds = goodRounds(watch, back)
    let home = returns.get(rounds)
    if (!home) returns.set(rounds, (home = runTime(chain, rounds, 'good')))
    const cycle = cycleOf(chain, runTime(chain, watch.failures, 'failed'), home)
    return {
      chain,
      cycle,
      aYear: YEAR_SECONDS / ((cycle.upRounds + cycle.awayRounds) * intervalSeconds),
    }
  }
}

/** How often a year loss alone takes a line that works out of use, by its tests. */
export function switchesByLoss(line: LossyLine, back: Return): (watch: Watch | null) => number {
  const cycles = cyclesOf(line, back)
  return (watch) => (watch && line.targets > 0 ? cycles(watch).aYear : 0)
}

/** The same with what becomes of it. By hand nobody comes back by mistake. */
export function lossSwitches(
  line: LossyLine & { readonly watch: Watch | null },
  back: Return,
): LossSwitches {
  const { watch } = line
  if (!watch || line.targets === 0) return { switches: 0, falseReturns: 0, flaps: 0 }
  const { chain, cycle, aYear } = cyclesOf(line, back)(watch)
  // A year in which it never happens has none of either, whatever the shares.
  if (back.kind === 'by-hand' || aYear === 0) return { switches: aYear, falseReturns: 0, flaps: 0 }
  const rounds = Math.floor((FLAP_SECONDS - watch.answerSeconds) / watch.intervalSeconds)
  return {
    switches: aYear,
    falseReturns: aYear * cycle.atReturn[1],
    flaps: aYear * runWithin(chain, watch.failures, rounds, cycle.atReturn),
  }
}
