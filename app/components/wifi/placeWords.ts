/** What the drawing of the place says in words: at first glance, and of a point that was tapped. */
import type { ClientType, Floor, SitePlan } from '@mast/core/plan'
import { percentOf, type Band } from '@mast/core/radio'
import type { SiteModel } from '@mast/core/topology'
import { levelAt, radiosOn, wallsOf } from '@mast/core/wifi'
import type { Drawn } from '~/workers/coverage.worker'

interface Point {
  readonly x: number
  readonly y: number
}
const round = (n: number): number => (n < 10 ? Math.round(n * 10) / 10 : Math.round(n))
const percent = (share: number): number => Math.round(100 * share)

/** Who is served, by what, and where it is slowest. */
export function answerWords(
  plan: SitePlan,
  drawn: Drawn,
  band: Band,
  client: { readonly name: string; readonly bands: ClientType['bands'] },
): string {
  const { areas, radios, best, unserved } = drawn
  const heads = areas.reduce((sum, a) => sum + a.heads, 0)
  if (heads === 0) {
    const share = best.reduce((sum, b) => sum + (b >= 0 ? 1 : 0), 0) / best.length
    return (
      'Nobody is drawn in yet: draw the areas where people are.' +
      (radios.length > 0 ? ` ${percent(share)} % of the plan is served in ${band} GHz.` : '')
    )
  }
  if (!client.bands.includes(band)) return `${client.name} do not know ${band} GHz.`
  /** People whose device does not know the band are not slow: they are elsewhere. */
  const knows = (a: { areaId: string }): boolean => {
    const type = plan.areas[a.areaId]?.clientTypeId
    return type ? (plan.clientTypes[type]?.bands.includes(band) ?? true) : true
  }
  const strangers = areas.filter((a) => !knows(a)).reduce((sum, a) => sum + a.heads, 0)
  const slow = areas.filter((a) => a.heads > 0 && knows(a)).sort((a, b) => a.mbps - b.mbps)[0]
  const most = [...radios].sort((a, b) => b.busy - a.busy)[0]
  return (
    `${Math.round(heads - unserved)} of ${heads} people are served in ${band} GHz` +
    (strangers > 0 ? `, ${strangers} do not know it` : '') +
    (slow ? `; ${plan.areas[slow.areaId]?.name} is slowest at ${round(slow.mbps)} Mbit/s` : '') +
    (most && most.busy > 0
      ? `; ${nameIn(plan, most.deviceId)} is asked for ${percent(most.busy)} % of its time`
      : '') +
    '.'
  )
}
const nameIn = (plan: SitePlan, id: string): string => plan.devices[id]?.name ?? id

const cellAt = ({ columns, rows, stepM }: Drawn, { x, y }: Point): number =>
  Math.min(rows - 1, Math.floor(y / stepM)) * columns + Math.min(columns - 1, Math.floor(x / stepM))

/** The numbers at a point. */
export function pointWords(plan: SitePlan, drawn: Drawn, at: Point): string {
  if (drawn.radios.length === 0) return 'Nothing is on the air here.'
  const i = cellAt(drawn, at)
  const by = (n: number): string => (n < 0 ? 'nobody' : nameIn(plan, drawn.radios[n]!.deviceId))
  const level = drawn.levelDbm[i]!
  return (
    `At ${at.x.toFixed(1)}, ${at.y.toFixed(1)} m: ${level.toFixed(1)} dBm ` +
    `(${Math.round(percentOf(level))} %), served by ${by(drawn.best[i]!)}, ` +
    `next ${by(drawn.second[i]!)}; ${drawn.clearanceDb[i]!.toFixed(0)} dB over noise and the ` +
    `others, ${round(drawn.mbps[i]!)} Mbit/s.`
  )
}

/** The level of who serves a point, with every part of it; null where nobody does. */
export function formulaWords(
  model: SiteModel,
  floor: Floor,
  band: Band,
  drawn: Drawn,
  at: Point,
): string | null {
  const serving = drawn.radios[drawn.best[cellAt(drawn, at)]!]
  const radio = radiosOn(model, floor, band).find((r) => r.deviceId === serving?.deviceId)
  if (!radio) return null
  const walls = wallsOf(model, floor.id, band)
  const { coefficient } = floor
  const parts = levelAt(radio.sender, at, walls, { coefficient })
  const crossed = parts.crossed.map((n) => `${walls[n]!.lossDb.toFixed(1)} dB`)
  return (
    `${parts.eirpDbm.toFixed(1)} dBm - ${parts.distanceDb.toFixed(1)} dB ` +
    `(20 log ${radio.sender.mhz} MHz + ${coefficient} log ${Math.max(1, parts.metres).toFixed(1)} m - 28)` +
    (crossed.length > 0
      ? ` - ${parts.wallsDb.toFixed(1)} dB (${crossed.length} walls: ${crossed.join(', ')})`
      : ' - no wall') +
    (parts.offBeamDb > 0 ? ` - ${parts.offBeamDb.toFixed(1)} dB beside its beam` : '') +
    ` = ${parts.dbm.toFixed(1)} dBm`
  )
}
