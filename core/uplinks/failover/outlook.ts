/**
 * What a year of a site with several lines looks like: how often it goes over, how often for
 * nothing, and the minutes that it is down all the same, by what takes them.
 */
import { availabilityOf, type Component } from './availability'
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
  readonly outagesAYear: number
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
  /** The likeliest that takes everything. */
  readonly worstCut: readonly string[]
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
export function outlookOf(
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
): Outlook {
  const [first, second] = lines
  const { allDown, byCoincidence, cuts } = availabilityOf(
    lines.map((l) => ({ own: component(l.failing), parts: l.parts.map(component) })),
  )
  const downMinutes = allDown * YEAR_HOURS * 60
  const together = byCoincidence * YEAR_HOURS * 60
  const none = { noticing: 0, switching: 0, falseSwitches: 0 }
  const worstCut = cuts[0]?.ids ?? []
  if (!first || !second)
    return {
      over: null,
      back: null,
      outagesAYear: first ? sum([first.failing, ...first.parts].map((f) => f.timesAYear)) : 0,
      falseSwitchesAYear: 0,
      minutes: { ...none, sharedParts: 0, together: downMinutes },
      totalMinutes: downMinutes,
      worstCut,
    }
  const noticed = noticedAfter(first)
  const standby = { startSeconds: second.coldSeconds, switchSeconds }
  const over = overAfter(noticed, standby)
  // What takes the first line and leaves another is what is switched for.
  const switchedFor = [first.failing, ...first.parts].filter(
    (f) => !lines.every((l) => l.failing.id === f.id || l.parts.some((p) => p.id === f.id)),
  )
  const theirs = [first.failing, ...first.parts]
  const up = worksShare(theirs)
  // While another is down too, that is counted as everything being down.
  const others = worksShare(
    [second.failing, ...second.parts].filter((f) => !theirs.some((t) => t.id === f.id)),
  )
  const lost = switchedFor.map((f) => {
    const seconds = f.hours * 3600
    const noticing = partBefore(seconds, noticed)
    const times = f.timesAYear * (1 - downShare(f)) * others
    return { noticing: times * noticing, switching: times * (partBefore(seconds, over) - noticing) }
  })
  const falseSwitchesAYear = falseSwitches(first, back) * up
  const minutes = {
    noticing: sum(lost.map((l) => l.noticing)) / 60,
    switching: sum(lost.map((l) => l.switching)) / 60,
    falseSwitches: (falseSwitchesAYear * (standby.startSeconds + switchSeconds)) / 60,
    sharedParts: downMinutes - together,
    together,
  }
  return {
    over,
    back: first.watch && backAfter(first.watch, back, first.startSeconds, switchSeconds),
    outagesAYear: sum(switchedFor.map((f) => f.timesAYear * (1 - downShare(f)))),
    falseSwitchesAYear,
    minutes,
    totalMinutes: sum(Object.values(minutes)),
    worstCut,
  }
}
const NEVER: Took = { best: Infinity, mean: Infinity, worst: Infinity }
const AT_ONCE: Took = { best: 0, mean: 0, worst: 0 }
/** Until the death of a line is noticed, by what shows it. */
export function noticedAfter({ watch, keepsSignal, targets }: Noticing): Took {
  if (!keepsSignal) return watch ? linkNoticed(watch) : AT_ONCE
  return watch && targets > 0 ? pathNoticed(watch) : NEVER
}
type Noticing = Pick<WatchedLine, 'watch' | 'keepsSignal' | 'targets'>
const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0)

/** How often a year loss alone takes a line out of use. */
function falseSwitches(line: WatchedLine, back: Return): number {
  const { watch } = line
  if (!watch || line.targets === 0) return 0
  const { upRounds, awayRounds } = cycleTime(
    chainOf(line.loss, watch.intervalSeconds, line.targets, line.need),
    watch.failures,
    goodRounds(watch, back),
  )
  return YEAR_SECONDS / ((upRounds + awayRounds) * watch.intervalSeconds)
}
