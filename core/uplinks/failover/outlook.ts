/**
 * What a year of a site with several lines looks like: how often it goes over, how often for
 * nothing, and the minutes that it is down all the same, by what takes them.
 */
import { availabilityOf, type Component, type LineParts } from './availability'
import { chainOf, type Loss, type Need } from './loss'
import { cycleTime } from './runs'
import {
  backAfter,
  goodRounds,
  linkNoticed,
  overAfter,
  pathNoticed,
  type Return,
  type Took,
  type Watch,
} from './times'

export const YEAR_HOURS = 8766
const YEAR_SECONDS = YEAR_HOURS * 3600

/** How often something fails, and for how long in the mean. */
export interface Failing {
  readonly id: string
  readonly timesAYear: number
  readonly hours: number
}
export interface WatchedLine {
  readonly id: string
  readonly failing: Failing
  readonly parts: readonly Failing[]
  /** null where nothing but the signal of the socket tells. */
  readonly watch: Watch | null
  readonly targets: number
  readonly need: Need
  readonly loss: Loss
  /** Whether what stands before it keeps the signal of the socket when the line is dead. */
  readonly keepsSignal: boolean
  /** Until it leads anywhere again when it has its signal, s. */
  readonly startSeconds: number
  /** Until it leads anywhere when it has to take over, s; 0 where it is on all the time. */
  readonly coldSeconds: number
}
export interface Outlook {
  /** From the death of the first line until traffic goes by the next. */
  readonly over: Took | null
  /** From its signal until it is used again; null by hand, or with nothing to come back from. */
  readonly back: Took | null
  readonly falseSwitchesAYear: number
  /** Minutes a year without any way out. */
  readonly minutes: {
    readonly noticing: number
    readonly switching: number
    readonly falseSwitches: number
    readonly sharedParts: number
    readonly together: number
  }
  readonly totalMinutes: number
}

/** The share of time in which something is down that fails so often and so long. */
export const downShare = ({ timesAYear, hours }: Failing): number => {
  const down = (timesAYear * hours) / YEAR_HOURS
  // Counted per year of working: it does not fail while it is down.
  return down / (1 + down)
}
const worksShare = (all: readonly Failing[]): number =>
  all.reduce((p, f) => p * (1 - downShare(f)), 1)
const component = (f: Failing): Component => ({ id: f.id, down: downShare(f) })

export const partsOf = (l: WatchedLine): LineParts => ({
  own: component(l.failing),
  parts: l.parts.map(component),
})

/** Of outages that last so long in the mean (exponential), the part before a time that is even over an interval. */
function partBefore(meanSeconds: number, t: Took): number {
  if (t.best === Infinity) return meanSeconds
  const spread = t.worst - t.best
  const even = spread === 0 ? 1 : (meanSeconds / spread) * -Math.expm1(-spread / meanSeconds)
  return meanSeconds * (1 - Math.exp(-t.best / meanSeconds) * even)
}

/**
 * @param lines in the order in which they are used
 */
export const outlookOf = (
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
): Outlook => outlooksOf(lines, back, switchSeconds)(lines[0]?.watch ?? null)

/** The same for whatever tests of the first line; what does not hang on them is reckoned once. */
export function outlooksOf(
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
): (watch: Watch | null) => Outlook {
  const [first, second] = lines
  const { allDown, byCoincidence } = availabilityOf(lines.map(partsOf))
  const downMinutes = allDown * YEAR_HOURS * 60
  const together = byCoincidence * YEAR_HOURS * 60
  if (!first || !second) {
    const alone: Outlook = {
      over: null,
      back: null,
      falseSwitchesAYear: 0,
      minutes: {
        noticing: 0,
        switching: 0,
        falseSwitches: 0,
        sharedParts: 0,
        together: downMinutes,
      },
      totalMinutes: downMinutes,
    }
    return () => alone
  }
  const standby = { startSeconds: second.coldSeconds, switchSeconds }
  const theirs = [first.failing, ...first.parts]
  const up = worksShare(theirs)
  // While another is down too, that is counted as everything being down.
  const others = worksShare(
    [second.failing, ...second.parts].filter((f) => !theirs.some((t) => t.id === f.id)),
  )
  // What takes the first line and leaves another is what is switched for.
  const switchedFor = theirs
    .filter((f) => !lines.every((l) => [l.failing, ...l.parts].some((p) => p.id === f.id)))
    .map((f) => ({ seconds: f.hours * 3600, times: f.timesAYear * (1 - downShare(f)) }))
  const switchesFor = falseSwitchesOf(first, back)
  return (watch) => {
    const noticed = noticedBy(first, watch)
    const over = overAfter(noticed, standby)
    const falseSwitchesAYear = switchesFor(watch) * up
    let [noticing, switching] = [0, 0]
    for (const { seconds, times } of switchedFor) {
      const before = partBefore(seconds, noticed)
      noticing += times * others * before
      switching += times * others * (partBefore(seconds, over) - before)
    }
    const minutes = {
      noticing: noticing / 60,
      switching: switching / 60,
      falseSwitches: (falseSwitchesAYear * (standby.startSeconds + switchSeconds)) / 60,
      sharedParts: downMinutes - together,
      together,
    }
    return {
      over,
      back: watch && backAfter(watch, back, first.startSeconds, switchSeconds),
      falseSwitchesAYear,
      minutes,
      totalMinutes: sum(Object.values(minutes)),
    }
  }
}
const NEVER: Took = { best: Infinity, mean: Infinity, worst: Infinity }
const AT_ONCE: Took = { best: 0, mean: 0, worst: 0 }
/** Until the death of a line is noticed, by what shows it. */
function noticedBy({ keepsSignal, targets }: WatchedLine, watch: Watch | null): Took {
  if (!keepsSignal) return watch ? linkNoticed(watch) : AT_ONCE
  return watch && targets > 0 ? pathNoticed(watch) : NEVER
}
const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0)

/** How often a year loss alone takes a line out of use, by its tests. */
function falseSwitchesOf(line: WatchedLine, back: Return): (watch: Watch | null) => number {
  // Of the same interval the line looks the same, whatever is counted.
  const chains = new Map<number, ReturnType<typeof chainOf>>()
  return (watch) => {
    if (!watch || line.targets === 0) return 0
    const { intervalSeconds } = watch
    let chain = chains.get(intervalSeconds)
    if (!chain)
      chains.set(
        intervalSeconds,
        (chain = chainOf(line.loss, intervalSeconds, line.targets, line.need)),
      )
    const { upRounds, awayRounds } = cycleTime(chain, watch.failures, goodRounds(watch, back))
    return YEAR_SECONDS / ((upRounds + awayRounds) * intervalSeconds)
  }
}
