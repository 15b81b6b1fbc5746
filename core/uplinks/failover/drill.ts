/** A failover that is tried: what is pulled, what is to be expected of it, and whether it came. */
import { z } from 'zod'
import type { Service } from '../../plan'
import type { SiteModel } from '../../topology'
import { lineGroups, waysOut } from '../choice'
import type { WatchedLine } from './watchedLine'
import type { Timeline } from './timeline'
import type { Took } from './times'
import { turnOf, turnTimeline, turnTimes, type Turn, type TurnTimes } from './turn'

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

/** @param phase how far the round of tests before has gone when it is pulled, 0 to 1 */
export const drillTimeline = (
  model: SiteModel,
  turn: Turn,
  kind: DrillKind,
  outageSeconds: number,
  phase: number,
): Timeline =>
  turnTimeline(model, { ...turn, watched: under(kind, turn.watched) }, outageSeconds, phase)

/** What a drill is held against. */
export const drillExpected = (model: SiteModel, turn: Turn, kind: DrillKind): TurnTimes =>
  turnTimes(model, { ...turn, watched: under(kind, turn.watched) })

/** One segment while a line is dead: by what it was asked, and whether it goes on. */
export interface DrillSegment {
  readonly segmentId: string
  readonly serviceId: string | null
  readonly name: string
  readonly goesOn: boolean
}

const anything: Pick<Service, 'protocol' | 'ports'> = { protocol: 'icmp', ports: [] }

/**
 * Segments, and services with a choice of lines of their own, that go on or stop without a line,
 * and without those that have to be dead before it is used.
 */
export function drillParts(model: SiteModel, { line, away }: Turn): DrillSegment[] {
  const before = new Set(away.map((u) => u.id))
  const dead = new Set([line.id, ...before])
  const services = [
    ...new Set(
      Object.values(model.plan.lineChoices).flatMap((c) => (c.service === 'any' ? [] : c.service)),
    ),
  ].flatMap((id) => model.plan.services[id] ?? [])
  return model.segments.flatMap((s): DrillSegment[] => {
    const goes = (asked: Pick<Service, 'protocol' | 'ports'>, without = dead): boolean =>
      waysOut(lineGroups(model, s.id, asked), without).length > 0
    const whole = goes(anything)
    return [
      ...(goes(anything, before)
        ? [{ segmentId: s.id, serviceId: null, name: s.name, goesOn: whole }]
        : []),
      ...services.flatMap((v): DrillSegment[] =>
        goes(v) === whole || !goes(v, before)
          ? []
          : [
              {
                segmentId: s.id,
                serviceId: v.id,
                name: `${s.name} for ${v.name}`,
                goesOn: !whole,
              },
            ],
      ),
    ]
  })
}

/** The same in names. */
export function drillSegments(
  model: SiteModel,
  turn: Turn,
): { going: string[]; stopped: string[] } {
  const parts = drillParts(model, turn)
  const named = (goesOn: boolean): string[] =>
    parts.filter((p) => p.goesOn === goesOn).map((p) => p.name)
  return { going: named(true), stopped: named(false) }
}

const seconds = z.number().min(0).max(86_400)
/** A failover that was tried, as it was measured. */
export const drillSchema = z.strictObject({
  lineId: z.string().max(64),
  kind: z.enum(drillKinds),
  /** Until there was a way out again, s; null where there was none. */
  overSeconds: seconds.nullable(),
  /** From the moment it was put back until it was used again; null where that was not waited for. */
  backSeconds: seconds.nullable(),
  measuredBy: z.enum(['stand-ins', 'hand', 'log']),
  isAfterRestart: z.boolean(),
  /** Who was asked: how long they were without an answer, s; null where they got none. */
  segments: z
    .array(
      z.strictObject({
        segmentId: z.string().max(64),
        /** A service that leaves by lines of its own. */
        serviceId: z.string().max(64).nullable().default(null),
        seconds: seconds.nullable(),
      }),
    )
    .max(500),
})
export type Drill = z.infer<typeof drillSchema>

export interface DrillJudged {
  readonly isAsForetold: boolean
  readonly text: string
}
/** A hand and a stopwatch; common practice. */
const BY_HAND_SECONDS = 5

/**
 * Holds what was measured against what was to be expected, give or take one interval of the tests.
 */
export function judgeDrill(model: SiteModel, drill: Drill): DrillJudged {
  const turn = turnOf(model, drill.lineId)
  if (!turn)
    return {
      isAsForetold: false,
      text: 'In the plan no other line takes over from this one any more.',
    }
  const expected = drillExpected(model, turn, drill.kind)
  const give =
    (turn.line.watch?.intervalSeconds ?? 1) +
    (drill.measuredBy === 'stand-ins' ? 0 : BY_HAND_SECONDS)
  const off = (what: string, measured: number | null, t: Took | null): string[] => {
    if (measured === null)
      return t === null
        ? []
        : [`${what} was not seen, foretold were ${round(t.worst)} s at the most`]
    if (t === null) return [`${what} came after ${round(measured)} s, foretold was none`]
    return measured < t.best - give || measured > t.worst + give
      ? [`${what} took ${round(measured)} s, foretold were ${round(t.best)} to ${round(t.worst)} s`]
      : []
  }
  const wrong = [
    ...off('Going over', drill.overSeconds, expected.over),
    ...(drill.backSeconds === null && expected.back
      ? ['the return was not waited for']
      : off('the return', drill.backSeconds, expected.back)),
  ]
  return wrong.length > 0
    ? { isAsForetold: false, text: `${wrong.join('; ')}.` }
    : {
        isAsForetold: true,
        text:
          (drill.overSeconds === null
            ? 'It did not go over, as foretold'
            : `Over after ${round(drill.overSeconds)} s`) +
          (drill.backSeconds === null ? '.' : `, back after ${round(drill.backSeconds)} s.`),
      }
}
const round = (t: number): number => Math.round(t * 10) / 10
