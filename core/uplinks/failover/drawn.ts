/**
 * What somebody draws onto the time axis of the first line, played: outages, bursts of loss, a line
 * that comes and goes, a modem that loses its power for a moment.
 */
import type { WatchedLine } from './watchedLine'
import { goodRounds, type Return } from './times'

export interface Drawn {
  readonly kind: 'outage' | 'loss' | 'flapping' | 'brown-out'
  /** s */ readonly from: number
  readonly seconds: number
  /** Of a loss: how many of 100 tests get no answer. */ readonly percent?: number
  /** Of a line that comes and goes: how long each of it takes, s. */ readonly everySeconds?: number
}
export interface DrawnRound {
  readonly at: number
  readonly isGood: boolean
  /** Failed rounds in a row while it is used, good ones while it is not. */ readonly count: number
}
export interface DrawnPlay {
  readonly rounds: readonly DrawnRound[]
  /** By what the site leaves, one after the other to the end. */
  readonly spans: readonly {
    readonly from: number
    readonly to: number
    readonly by: 'first' | 'second' | 'none'
  }[]
  readonly switches: number
  readonly returns: number
  /** Without a way out, s. */ readonly downSeconds: number
}

/** Longer plays are cut here: more rounds than anybody looks at. */
const MOST_ROUNDS = 20_000

interface Dead {
  readonly from: number
  readonly to: number
  /** Whether the socket has no signal either. */ readonly isDark: boolean
}
/** When the line leads nowhere: a modem that starts anew takes its time each time. */
function deadTimes(first: WatchedLine, drawn: readonly Drawn[]): Dead[] {
  const isDark = !first.keepsSignal
  return drawn.flatMap((d): Dead[] => {
    const end = d.from + d.seconds
    if (d.kind === 'outage') return [{ from: d.from, to: end + first.startSeconds, isDark }]
    // Without power no modem keeps a signal.
    if (d.kind === 'brown-out')
      return [{ from: d.from, to: end + first.startSeconds, isDark: true }]
    if (d.kind === 'loss') return []
    const every = Math.max(0.5, d.everySeconds ?? first.watch?.intervalSeconds ?? 5)
    const out: Dead[] = []
    for (let at = d.from; at < end && out.length < MOST_ROUNDS; at += 2 * every)
      out.push({ from: at, to: Math.min(at + every, end), isDark })
    return out
  })
}

/**
 * @param coldSeconds until the other line leads anywhere
 * @param phase how far the round before has gone at the beginning, 0 to 1
 * @param chance even between 0 and 1: which tests of a loss are lost
 */
export function playDrawn(
  first: WatchedLine,
  coldSeconds: number,
  back: Return,
  switchSeconds: number,
  drawn: readonly Drawn[],
  untilSeconds: number,
  phase: number,
  chance: () => number,
): DrawnPlay {
  const dead = deadTimes(first, drawn)
  const isDead = (at: number): boolean => dead.some((d) => at > d.from && at < d.to)
  const lostAt = (at: number): number =>
    Math.max(
      0,
      ...drawn.map((d) =>
        d.kind === 'loss' && at >= d.from && at < d.from + d.seconds ? (d.percent ?? 100) / 100 : 0,
      ),
    )
  const { watch, targets } = first
  const wanted =
    first.need === 'any' ? 1 : first.need === 'all' ? targets : Math.min(first.need, targets)
  const passes = (at: number): boolean => {
    // Nothing beyond the modem is asked.
    if (targets === 0) return !dead.some((d) => d.isDark && at > d.from && at < d.to)
    if (isDead(at)) return false
    const lost = lostAt(at)
    if (lost === 0) return true
    let answers = 0
    for (let i = 0; i < targets; i++) if (chance() >= lost) answers++
    return answers >= wanted
  }
  // What is known of the line changes with rounds and with its signal.
  const events: { at: number; kind: 'round' | 'dark' | 'light' }[] = []
  if (watch)
    for (let k = 0; k < MOST_ROUNDS; k++) {
      const at = (k + 1 - phase) * watch.intervalSeconds
      if (at > untilSeconds) break
      events.push({ at, kind: 'round' })
    }
  if (!watch || watch.linkLoss === 'at-once')
    for (const d of dead)
      if (d.isDark) events.push({ at: d.from, kind: 'dark' }, { at: d.to, kind: 'light' })
  events.sort((a, b) => a.at - b.at)

  const rounds: DrawnRound[] = []
  /** Moments from which the gateway sends by one or the other. */
  const turns: { at: number; to: 'first' | 'second' }[] = []
  let isJudgedGood = true
  let count = 0
  const leave = (at: number): void => {
    if (!isJudgedGood) return
    isJudgedGood = false
    count = 0
    turns.push({ at: at + coldSeconds + switchSeconds, to: 'second' })
  }
  const giveBack = (at: number): void => {
    isJudgedGood = true
    count = 0
    // Back before it was over: nobody noticed anything of it.
    if (turns.at(-1)?.to === 'second' && turns.at(-1)!.at > at + switchSeconds) turns.pop()
    else turns.push({ at: at + switchSeconds, to: 'first' })
  }
  for (const { at, kind } of events) {
    if (kind === 'dark') leave(at)
    else if (kind === 'light') {
      if (!watch && back.kind !== 'by-hand' && !isDead(at)) giveBack(at)
    } else {
      const isGood = passes(at)
      count = isGood === isJudgedGood ? 0 : count + 1
      rounds.push({ at, isGood, count })
      if (isJudgedGood && count >= watch!.failures) leave(at + watch!.answerSeconds)
      else if (!isJudgedGood && back.kind !== 'by-hand' && count >= goodRounds(watch!, back))
        giveBack(at)
    }
  }

  const edges = [0, ...turns.map((t) => t.at), ...dead.flatMap((d) => [d.from, d.to]), untilSeconds]
    .filter((at) => at >= 0 && at <= untilSeconds)
    .sort((a, b) => a - b)
  const spans: { from: number; to: number; by: 'first' | 'second' | 'none' }[] = []
  let used: 'first' | 'second' = 'first'
  for (const [i, from] of edges.entries()) {
    const to = edges[i + 1]
    if (to === undefined || to <= from) continue
    used = turns.findLast((t) => t.at <= from)?.to ?? 'first'
    const by = used === 'first' && isDead((from + to) / 2) ? 'none' : used
    const last = spans.at(-1)
    if (last?.by === by) last.to = to
    else spans.push({ from, to, by })
  }
  const within = turns.filter((t) => t.at <= untilSeconds)
  return {
    rounds,
    spans,
    switches: within.filter((t) => t.to === 'second').length,
    returns: within.filter((t) => t.to === 'first').length,
    downSeconds: spans.reduce((sum, s) => sum + (s.by === 'none' ? s.to - s.from : 0), 0),
  }
}
