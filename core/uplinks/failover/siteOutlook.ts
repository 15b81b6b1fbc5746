/** The year ahead of a site, from its plan; what nobody recorded is assumed, and said to be. */
import type { Uplink } from '../../plan'
import { selected } from '../../remember'
import type { SiteModel } from '../../topology'
import { cutsOf, MOST_SHARED_PARTS, sharedBy, type Cut } from './availability'
import type { Return } from './times'
import { tune, type Tuning } from './tuner'
import { answersToGo, isOwnBox } from '../ownBox'
import { YEAR_HOURS, type Failing } from './failing'
import { outlookOf, partsOf, type ComingAndGoing, type Outlook } from './outlook'
import type { WatchedLine } from './watchedLine'

/** Where nobody recorded it; common practice, and to be replaced by what the place has seen. */
const ASSUMED = {
  line: { timesAYear: 2, hours: 4 },
  startSeconds: 30,
  lossPercent: 0.1,
  duct: { timesAYear: 0.1, hours: 12 },
  'building entry': { timesAYear: 0.05, hours: 12 },
  provider: { timesAYear: 0.5, hours: 2 },
  exchange: { timesAYear: 0.3, hours: 4 },
  modem: { timesAYear: 0.2, hours: 6 },
  'power strip': { timesAYear: 0.2, hours: 3 },
  mast: { timesAYear: 0.1, hours: 24 },
} as const

/** What a part is called among those of all lines: the same name is the same thing. */
export const partId = ({ kind, name }: Uplink['parts'][number]): string =>
  `${kind} ${name.trim().toLowerCase()}`
export const partName = ({ kind, name }: Uplink['parts'][number]): string => `${kind} ${name}`

/** Lines that are plugged, in the order in which they are used. */
export const linesInUse = (model: SiteModel): readonly Uplink[] =>
  model.lines.filter((u) => u.portId !== null)

/** The lines in use as they are reckoned with, what is not known as it is assumed. */
export const watchedLines = (model: SiteModel): WatchedLine[] => linesInUse(model).map(watchedLine)
export const watchedLine = (u: Uplink): WatchedLine => watched(u, [])

/** Where nobody said when the first line is used again, gateways go back at once. */
export const backOf = (model: SiteModel): Return =>
  model.plan.site.failover.back ?? { kind: 'at-once' }

/** What a standby that has to start adds, as a part of a sum; empty of one that is always on. */
export const startWords = ({ standby, startSeconds }: Uplink): string =>
  standby === 'hot' ? '' : ` + ${startSeconds ?? `${ASSUMED.startSeconds} (assumed)`} s start-up`

export interface SiteOutlook extends Outlook, ComingAndGoing {
  /** What was assumed, in words. */
  readonly assumed: readonly string[]
}

function watched(u: Uplink, assumed: string[]): WatchedLine {
  const assume = <T>(value: T | null, standIn: T, words: string): T => {
    if (value === null) assumed.push(words)
    return value ?? standIn
  }
  const { timesAYear, hours } = ASSUMED.line
  const needed = u.watch ? answersToGo(u, u.watch) : 0
  const loss = assume(
    u.loss,
    { percent: ASSUMED.lossPercent, bursts: null },
    `${u.name} loses ${ASSUMED.lossPercent} % of its tests`,
  )
  return {
    id: u.id,
    order: u.rank,
    weight: u.weight,
    failing: {
      id: u.id,
      ...assume(
        u.failing,
        ASSUMED.line,
        `${u.name} is dead ${timesAYear} times a year for ${hours} h`,
      ),
    },
    parts: u.parts.map((p): Failing => {
      const usual = ASSUMED[p.kind]
      return {
        id: partId(p),
        ...assume(
          p.failing,
          usual,
          `the ${partName(p)} is dead ${usual.timesAYear} times a year for ${usual.hours} h`,
        ),
      }
    }),
    watch: u.watch,
    // Where its own box is enough, the tests tell no more than the signal does.
    targets: needed === 0 ? 0 : u.watch!.tests.filter((t) => !isOwnBox(u, t.target)).length,
    need: needed,
    loss: {
      usual: loss.percent / 100,
      bursts: loss.bursts && {
        loss: loss.bursts.percent / 100,
        lengthSeconds: loss.bursts.lengthSeconds,
        apartSeconds: loss.bursts.apartSeconds,
      },
    },
    keepsSignal: u.keepsSignal,
    startSeconds: u.startSeconds ?? 0,
    coldSeconds:
      u.standby === 'hot'
        ? 0
        : assume(
            u.startSeconds,
            ASSUMED.startSeconds,
            `${u.name} starts in ${ASSUMED.startSeconds} s`,
          ),
  }
}

/** null without a line in a socket. */
export const siteOutlook = selected(
  (model: SiteModel) => [model.plan.uplinks, model.plan.site.failover, model.gateway?.id],
  (model): SiteOutlook | null => {
    const lines = linesInUse(model)
    if (lines.length === 0) return null
    const assumed: string[] = []
    const seen = lines.map((u) => watched(u, assumed))
    if (sharedBy(seen.map(partsOf)).length > MOST_SHARED_PARTS) return null
    return {
      ...outlookOf(seen, backOf(model), model.plan.site.failover.switchSeconds),
      assumed: [...new Set(assumed)],
    }
  },
)

/** The settings that would suit the site best; null where there is nothing to set. */
export const siteTuning = selected(
  (model: SiteModel) => [model.plan.uplinks, model.plan.site.failover, model.gateway?.id],
  (model): Tuning | null => {
    const lines = linesInUse(model)
    if (lines.length < 2 || !lines[0]!.watch || !siteOutlook(model)) return null
    const { switchSeconds, toleratedSeconds, falseSwitchesAYear } = model.plan.site.failover
    return tune(watchedLines(model), backOf(model), switchSeconds, {
      seconds: toleratedSeconds,
      falseSwitchesAYear,
    })
  },
)

/** What takes every line at once, the likeliest first, each with its minutes a year. */
export function siteCuts(
  model: SiteModel,
): { readonly names: readonly string[]; readonly minutes: number }[] {
  const lines = linesInUse(model)
  const names = new Map([
    ...lines.map((u) => [u.id, u.name] as const),
    ...lines.flatMap((u) => u.parts.map((p) => [partId(p), `the ${partName(p)}`] as const)),
  ])
  return cutsOf(watchedLines(model).map(partsOf)).map(({ ids, down }: Cut) => ({
    names: ids.map((id) => names.get(id)!),
    minutes: down * YEAR_HOURS * 60,
  }))
}
