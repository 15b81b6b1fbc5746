/** Which line takes over from which: what can be watched, drawn and tried. */
import type { Uplink } from '../../plan'
import type { SiteModel } from '../../topology'
import { playDrawn, type Drawn, type DrawnPlay } from './drawn'
import type { WatchedLine } from './watchedLine'
import { sharesOf, startAfter } from './sharing'
import { backOf, linesInUse, watchedLine } from './siteOutlook'
import { timelineOf, type Timeline } from './timeline'
import { backAfter, linkNoticed, overAfter, pathNoticed, type Took } from './times'

/** A line in use, and what takes over from it. */
export interface Turn {
  readonly line: Uplink
  /** Takes over; where several share it, one of them. */ readonly next: Uplink
  /** Lines that have to be dead before this one is used. */ readonly away: readonly Uplink[]
  readonly watched: WatchedLine
  /** Until the other leads anywhere, s. */ readonly startSeconds: number
}

/** All of a site, in the order in which lines are used; empty with fewer than two in sockets. */
export function turnsOf(model: SiteModel): Turn[] {
  const lines = linesInUse(model)
  const of = (u: Uplink) => ({ order: u.rank, weight: u.weight })
  return lines.flatMap((line): Turn[] => {
    const away = lines.filter(
      (u) => u.rank < line.rank || (u.rank === line.rank && line.weight === 0 && u.weight > 0),
    )
    const rest = lines.filter((u) => u !== line && !away.includes(u))
    const shares = rest.length > 0 ? sharesOf(rest.map(of)) : []
    const next = rest.find((_, i) => shares[i]! > 0)
    if (!next) return []
    const watched = watchedLine(line)
    return [{ line, next, away, watched, startSeconds: startAfter(watched, watchedLine(next)) }]
  })
}

/**
 * @param lineId the first where none is said
 * @returns undefined where no line takes over from it
 */
export const turnOf = (model: SiteModel, lineId?: string): Turn | undefined => {
  const all = turnsOf(model)
  return lineId === undefined ? all[0] : all.find((t) => t.line.id === lineId)
}

/**
 * An outage of a line, as it is lived through.
 * @param phase how far the round of tests before has gone when it dies, 0 to 1
 */
export const turnTimeline = (
  model: SiteModel,
  { watched, startSeconds }: Turn,
  outageSeconds: number,
  phase: number,
): Timeline =>
  timelineOf(
    watched,
    startSeconds,
    backOf(model),
    model.plan.site.failover.switchSeconds,
    outageSeconds,
    phase,
  )

/** What is drawn onto a line, played to some moment; the same whenever it is asked. */
export const turnDrawn = (
  model: SiteModel,
  { watched, startSeconds }: Turn,
  drawn: readonly Drawn[],
  untilSeconds: number,
  chance: () => number,
): DrawnPlay =>
  playDrawn(
    watched,
    startSeconds,
    backOf(model),
    model.plan.site.failover.switchSeconds,
    drawn,
    untilSeconds,
    0.5,
    chance,
  )

export interface TurnTimes {
  /** Until traffic goes by the other line, s; null where it never does. */ readonly over: Took | null
  /** From the moment it has its signal until it is used again; null by hand, and never left. */
  readonly back: Took | null
}
export function turnTimes(model: SiteModel, { watched, startSeconds }: Turn): TurnTimes {
  const { switchSeconds } = model.plan.site.failover
  const { watch } = watched
  const at = (seconds: number): Took => ({ best: seconds, mean: seconds, worst: seconds })
  const noticed = !watched.keepsSignal
    ? watch
      ? linkNoticed(watch)
      : at(0)
    : watch && watched.targets > 0
      ? pathNoticed(watch)
      : null
  const back = backOf(model)
  return {
    over: noticed && overAfter(noticed, { startSeconds, switchSeconds }),
    back: !noticed
      ? null
      : watch
        ? backAfter(watch, back, watched.startSeconds, switchSeconds)
        : back.kind === 'by-hand'
          ? null
          : at(watched.startSeconds + switchSeconds),
  }
}
