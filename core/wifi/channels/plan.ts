/** The plan of channels of a site: what each radio of a band is set to, and how good that is. */
import { overlapOf, takenBy, type Band, type Channel, type Width } from '../../radio/bands'
import { lawfulChannels } from '../../radio/lawful'
import { settingsOf, type RadioSetting } from '../../plan'
import type { SiteModel } from '../../topology'
import { assignChannels } from './assign'
import type { FloorRadio } from '../coverage/floorAir'
import { hearingOf, neighboursIn, WAITS_DBM } from './hearing'

/** Channels of 2.4 GHz that lie apart at 20 MHz (common practice: five numbers between them). */
const APART = [1, 6, 11]

export interface PlannedRadio {
  readonly deviceId: string
  readonly radio: number
  readonly from: number | null
  readonly to: number
  readonly widthMhz: Width
}
export interface ChannelPlan {
  readonly band: Band
  readonly radios: readonly PlannedRadio[]
  /** Pairs that hear each other on shared frequencies, as it is and as planned. */
  readonly sharedNow: number
  readonly shared: number
  /** How much they disturb each other: as it is, as planned, and what no plan goes under. */
  readonly costNow: number
  readonly cost: number
  readonly atLeast: number
  readonly isBest: boolean
  /** Radios for which the country leaves no channel. */ readonly without: readonly string[]
  readonly neighbours: number
}

/** What somebody heard so loud disturbs, 0 at where radios begin to wait, 1 at 40 dB more. */
const harmOf = (dbm: number): number => Math.min(1, Math.max(0.02, (dbm - WAITS_DBM) / 40))
/** A neighbour weighs less: it is not ours to change, and it is not always there. */
const NEIGHBOUR = 0.5
/** The same channel as before is worth so much: nobody is sent away for nothing. */
const STAY = 0.001

/**
 * @param widthMhz null keeps the width of each
 * @throws RangeError never: radios without a channel are named
 */
export function planChannels(
  model: SiteModel,
  band: Band,
  widthMhz: Width | null = null,
  stop: () => boolean = () => false,
  mostSteps?: number,
): ChannelPlan {
  const { country, wireless } = model.plan.site
  const hearing = hearingOf(model, band)
  const neighbours = neighboursIn(model, band)
  const widthOf = (n: number): Width => widthMhz ?? hearing.radios[n]!.widthMhz
  const open = (n: number): Channel[] => {
    const list = lawfulChannels(
      country,
      band,
      widthOf(n),
      hearing.radios[n]!.floor.isOutdoors,
      wireless.usesRadar,
    )
    return band === '2.4' ? list.filter((c) => APART.includes(c.primary)) : list
  }
  const opens = hearing.radios.map((_, n) => open(n))
  const keyOf = (c: Channel): string => `${c.primary} ${c.widthMhz}`
  const all = new Map(opens.flat().map((c) => [keyOf(c), c]))
  const channels = [...all.values()]
  const able = hearing.radios.flatMap((_, n) => (opens[n]!.length > 0 ? [n] : []))
  const at = new Map(able.map((n, i) => [n, i]))
  const isNow = (r: FloorRadio, c: Channel): boolean =>
    r.channel !== null &&
    takenBy({ band, primary: r.channel, widthMhz: c.widthMhz })?.[0] === takenBy(c)?.[0]
  const own = able.map((n) => {
    const may = new Set(opens[n]!.map(keyOf))
    return channels.map((c) => {
      if (!may.has(keyOf(c))) return Infinity
      const others = neighbours.reduce(
        (sum, h) =>
          sum +
          NEIGHBOUR *
            harmOf(h.dbm) *
            overlapOf({ band, primary: h.channel, widthMhz: h.widthMhz }, c),
        0,
      )
      return others + (isNow(hearing.radios[n]!, c) ? 0 : STAY)
    })
  })
  const overlap = channels.map((a) => channels.map((b) => overlapOf(a, b)))
  const pairs = hearing.pairs.flatMap(({ a, b, dbm }) =>
    at.has(a) && at.has(b) ? [{ a: at.get(a)!, b: at.get(b)!, harm: harmOf(dbm) }] : [],
  )
  /** Of channels by their numbers; what has none, or one that is not open, is the worst. */
  const costOf = (chosen: readonly number[]): number =>
    chosen.reduce((sum, c, i) => sum + (own[i]![c] ?? 1), 0) +
    pairs.reduce((sum, { a, b, harm }) => {
      const [x, y] = [overlap[chosen[a]!]?.[chosen[b]!], overlap[chosen[b]!]?.[chosen[a]!]]
      return sum + harm * Math.max(x ?? 0, y ?? 0)
    }, 0)
  const assigned = assignChannels({ own, overlap, pairs }, stop, mostSteps)
  const radios = able.map((n, i): PlannedRadio => {
    const r = hearing.radios[n]!
    const channel = channels[assigned.channels[i]!]!
    return {
      deviceId: r.deviceId,
      radio: r.radio,
      from: r.channel,
      to: channel.primary,
      widthMhz: channel.widthMhz,
    }
  })
  const shares = (of: (n: number) => Channel | null): number =>
    hearing.pairs.filter(({ a, b }) => {
      const [x, y] = [of(a), of(b)]
      return x !== null && y !== null && overlapOf(x, y) > 0
    }).length
  return {
    band,
    radios,
    sharedNow: shares((n) => {
      const { channel, widthMhz: width } = hearing.radios[n]!
      return channel === null ? null : { band, primary: channel, widthMhz: width }
    }),
    shared: shares((n) => {
      const i = at.get(n)
      return i === undefined ? null : channels[assigned.channels[i]!]!
    }),
    costNow: costOf(able.map((n) => channels.findIndex((c) => isNow(hearing.radios[n]!, c)))),
    cost: assigned.cost,
    atLeast: assigned.atLeast,
    isBest: assigned.isBest,
    without: hearing.radios.flatMap((r, n) => (at.has(n) ? [] : [r.deviceId])),
    neighbours: neighbours.length,
  }
}

/** The settings of a device's radios with the channels of a plan. */
export function settingsWith(
  model: SiteModel,
  deviceId: string,
  plans: readonly ChannelPlan[],
): RadioSetting[] {
  const settings = settingsOf(model.device(deviceId), model.profileOf(deviceId))
  for (const { band, radios } of plans)
    for (const r of radios)
      if (r.deviceId === deviceId)
        settings[r.radio] = { ...settings[r.radio]!, band, channel: r.to, widthMhz: r.widthMhz }
  return settings
}
