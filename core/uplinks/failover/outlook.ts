/**
 * What a year of a site with several lines looks like: how often it goes over, how often for
 * nothing, and the minutes that it is down all the same, by what takes them.
 */
import { availabilityOf, type Component, type LineParts } from './availability'
import { downShare, worksShare, YEAR_HOURS, type Failing } from './failing'
import { lossSwitches, switchesByLoss } from './lossSwitches'
import { startAfter, waysAfter } from './sharing'
import type { WatchedLine } from './watchedLine'
import {
  backAfter,
  linkNoticed,
  overAfter,
  pathNoticed,
  type Return,
  type Took,
  type Watch,
} from './times'

export interface Outlook {
  /** From the death of the first line until traffic goes by the next. */
  readonly over: Took | null
  /** From its signal until it is used again; null by hand, or with nothing to come back from. */
  readonly back: Took | null
  readonly falseSwitchesAYear: number
  /** Minutes a year without a way out; where lines share, those of one of the people in the mean. */
  readonly minutes: {
    readonly noticing: number
    readonly switching: number
    readonly falseSwitches: number
    readonly sharedParts: number
    readonly together: number
  }
  readonly totalMinutes: number
}
/** What loss alone makes of it besides, times a year. */
export interface ComingAndGoing {
  /** Returns to a line that is still in its burst. */ readonly falseReturnsAYear: number
  /** Returns after which it is left again within `FLAP_SECONDS`. */ readonly flapsAYear: number
}

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
export function outlookOf(
  lines: readonly WatchedLine[],
  back: Return,
  switchSeconds: number,
): Outlook & ComingAndGoing {
  let [falseReturnsAYear, flapsAYear] = [0, 0]
  for (const [i, l] of lines.entries()) {
    const { carries } = waysAfter(lines, i, null)
    if (carries === 0) continue
    const { falseReturns, flaps } = lossSwitches(l, back)
    falseReturnsAYear += falseReturns * carries
    flapsAYear += flaps * carries
  }
  const outlook = outlooksOf(lines, back, switchSeconds)(lines[0]?.watch ?? null)
  return { ...outlook, falseReturnsAYear, flapsAYear }
}

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
        sharedParts: downMinutes - together,
        together,
      },
      totalMinutes: downMinutes,
    }
    return () => alone
  }
  const [ofFirst, ...ofOthers] = lines.map((_, i) => costsOf(lines, i, back, switchSeconds))
  // Tests of the others stay as they are.
  const others = ofOthers.map((costs, i) => costs(lines[i + 1]!.watch))
  const theirs: Costs = {
    noticing: sum(others.map((c) => c.noticing)),
    switching: sum(others.map((c) => c.switching)),
    falseSwitching: sum(others.map((c) => c.falseSwitching)),
    falseSwitches: sum(others.map((c) => c.falseSwitches)),
  }
  const startSeconds = startAfter(first, second)
  return (watch) => {
    const mine = ofFirst!(watch)
    const minutes = {
      noticing: (mine.noticing + theirs.noticing) / 60,
      switching: (mine.switching + theirs.switching) / 60,
      falseSwitches: (mine.falseSwitching + theirs.falseSwitching) / 60,
      sharedParts: downMinutes - together,
      together,
    }
    return {
      over: overAfter(noticedBy(first, watch), { startSeconds, switchSeconds }),
      back: watch && backAfter(watch, back, first.startSeconds, switchSeconds),
      falseSwitchesAYear: mine.falseSwitches + theirs.falseSwitches,
      minutes,
      totalMinutes: minutes.noticing + minutes.switching + minutes.falseSwitches + downMinutes,
    }
  }
}
interface Costs {
  /** s a year, each counted by the share of the people that is served by this line. */
  readonly noticing: number
  readonly switching: number
  readonly falseSwitching: number
  readonly falseSwitches: number
}
const NONE: Costs = { noticing: 0, switching: 0, falseSwitching: 0, falseSwitches: 0 }
/** What the deaths of one line cost in a year while another is there, for whatever tests of it. */
function costsOf(
  lines: readonly WatchedLine[],
  which: number,
  back: Return,
  switchSeconds: number,
): (watch: Watch | null) => Costs {
  const line = lines[which]!
  const { ways, carries } = waysAfter(lines, which, null)
  if (ways.length === 0) return () => NONE
  const theirs = [line.failing, ...line.parts]
  const deaths = theirs.flatMap((f) =>
    waysAfter(lines, which, f).ways.map(({ startSeconds, share }) => ({
      seconds: f.hours * 3600,
      times: f.timesAYear * (1 - downShare(f)) * share,
      startSeconds,
    })),
  )
  const works = worksShare(theirs)
  const switchesFor = switchesByLoss(line, back)
  return (watch) => {
    const noticed = noticedBy(line, watch)
    const falseSwitches = switchesFor(watch) * works
    let [noticing, switching, falseSwitching] = [0, 0, 0]
    for (const { seconds, times, startSeconds } of deaths) {
      const before = partBefore(seconds, noticed)
      const over = overAfter(noticed, { startSeconds, switchSeconds })
      noticing += times * before
      switching += times * (partBefore(seconds, over) - before)
    }
    for (const { startSeconds, share } of ways)
      falseSwitching += falseSwitches * share * (startSeconds + switchSeconds)
    return { noticing, switching, falseSwitching, falseSwitches: falseSwitches * carries }
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
