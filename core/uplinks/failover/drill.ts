/** A failover that is tried: what is pulled, what is to be expected of it, and whether it came. */
import type { SiteModel } from '../../topology'
import type { WatchedLine } from './outlook'
import { backOf, watchedLines } from './siteOutlook'
import { timelineOf, type Timeline } from './timeline'
import { backAfter, linkNoticed, overAfter, pathNoticed, type Took } from './times'

/** What is done to the line that is used. */
export const drillKinds = ['cable', 'modem', 'path'] as const
export type DrillKind = (typeof drillKinds)[number]

/** How the line behaves when that is done to it, whatever it does of itself. */
function under(kind: DrillKind, line: WatchedLine): WatchedLine {
  return {
    ...line,
    keepsSignal: kind === 'path',
    // A plug that is put back finds the modem started.
    startSeconds: kind === 'cable' ? 0 : line.startSeconds,
  }
}

/**
 * @param phase how far the round of tests before has gone when it is pulled, 0 to 1
 * @returns null with fewer than two lines in sockets
 */
export function drillTimeline(
  model: SiteModel,
  kind: DrillKind,
  outageSeconds: number,
  phase: number,
): Timeline | null {
  const [first, second] = watchedLines(model)
  return first && second
    ? timelineOf(
        under(kind, first),
        second.coldSeconds,
        backOf(model),
        model.plan.site.failover.switchSeconds,
        outageSeconds,
        phase,
      )
    : null
}

export interface Expected {
  /** Until traffic goes by the other line, s; null where it never does. */ readonly over: Took | null
  /** From the moment it is put back until the first line is used again; null by hand. */
  readonly back: Took | null
}

/** What a drill is held against; null with fewer than two lines in sockets. */
export function drillExpected(model: SiteModel, kind: DrillKind): Expected | null {
  const [given, second] = watchedLines(model)
  if (!given || !second) return null
  const first = under(kind, given)
  const { switchSeconds } = model.plan.site.failover
  const { watch } = first
  const at = (seconds: number): Took => ({ best: seconds, mean: seconds, worst: seconds })
  const noticed = !first.keepsSignal
    ? watch
      ? linkNoticed(watch)
      : at(0)
    : watch && first.targets > 0
      ? pathNoticed(watch)
      : null
  const standby = { startSeconds: second.coldSeconds, switchSeconds }
  const back = backOf(model)
  return {
    over: noticed && overAfter(noticed, standby),
    back: watch
      ? backAfter(watch, back, first.startSeconds, switchSeconds)
      : noticed && back.kind !== 'by-hand'
        ? at(first.startSeconds + switchSeconds)
        : null,
  }
}
