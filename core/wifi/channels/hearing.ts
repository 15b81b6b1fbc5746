/** Which radios hear each other, over all plans of the place, and what neighbours send. */
import { overlapOf, type Band } from '../../radio/bands'
import type { Floor, Heard } from '../../plan'
import type { SiteModel } from '../../topology'
import { radiosOn, wallsOf, type FloorRadio } from '../coverage/floorAir'
import { levelAt } from '../coverage/levelAt'

/**
 * A radio waits while it hears another in its 20 MHz at that level or better (IEEE 802.11 17.3.10.6,
 * clear channel assessment of a preamble).
 */
export const WAITS_DBM = -82

export interface HearingPair {
  /** Numbers of the two. */ readonly a: number
  readonly b: number
  /** The better one of both ways, dBm. */ readonly dbm: number
}
export interface Hearing {
  readonly radios: readonly (FloorRadio & { readonly floor: Floor })[]
  readonly pairs: readonly HearingPair[]
}

/** Radios of one device are the business of who built it. */
export function hearingOf(model: SiteModel, band: Band): Hearing {
  const floors = Object.values(model.plan.floors)
  const radios: (FloorRadio & { floor: Floor })[] = []
  const pairs: HearingPair[] = []
  for (const floor of floors) {
    const here = radiosOn(model, floor, band)
    const walls = wallsOf(model, floor.id, band)
    const first = radios.length
    for (const [i, a] of here.entries())
      for (const [j, b] of here.slice(0, i).entries()) {
        if (a.deviceId === b.deviceId) continue
        const above = a.sender.aboveM - b.sender.aboveM
        const law = { coefficient: floor.coefficient }
        const dbm = Math.max(
          levelAt(a.sender, b.sender.at, walls, law, above).dbm,
          levelAt(b.sender, a.sender.at, walls, law, above).dbm,
        )
        if (dbm >= WAITS_DBM) pairs.push({ a: first + j, b: first + i, dbm })
      }
    radios.push(...here.map((r) => ({ ...r, floor })))
  }
  return { radios, pairs }
}

/** Whether two that hear each other are on the same frequencies, all or some. */
export const isShared = (band: Band, a: FloorRadio, b: FloorRadio): boolean =>
  a.channel !== null &&
  b.channel !== null &&
  overlapOf(
    { band, primary: a.channel, widthMhz: a.widthMhz },
    { band, primary: b.channel, widthMhz: b.widthMhz },
  ) > 0

/** Networks of others that were heard in a band, each radio once, at its best. */
export function neighboursIn(model: SiteModel, band: Band): Heard[] {
  const own = new Set(Object.values(model.plan.wirelessNetworks).map((w) => w.name))
  const best = new Map<string, Heard>()
  for (const { heard } of Object.values(model.plan.scans))
    for (const h of heard) {
      if (h.band !== band || own.has(h.name)) continue
      if (h.dbm > (best.get(h.address)?.dbm ?? -Infinity)) best.set(h.address, h)
    }
  return [...best.values()]
}
