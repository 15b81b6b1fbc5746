/** Power for all radios of a band: cells meet, and nothing reaches far beyond the boundary. */
import type { ClientType } from '../../plan'
import type { Band } from '../../radio/bands'
import type { SiteModel } from '../../topology'
import { beyondBoundary } from '../coverage/beyond'
import { gridOf, isWithin, radiosOn, wallsOf, type FloorRadio } from '../coverage/floorAir'
import { USUAL_CLIENT } from '../coverage/floorService'
import { levelsOf } from '../coverage/levels'
import { pointOf, type Point } from '../coverage/place'
import { isRepeater } from '../extenders/isRepeater'
import { FAR_M, GOOD_DBM, LEAST_POWER_DBM } from './limits'
import { turnedDown } from './lowest'

const MOST_POINTS = 20_000
const STEP_M = 1

export interface PowerOf {
  readonly deviceId: string
  readonly radio: number
  /** What it is set to now, and is to be set to, dBm at the socket of its antenna. */
  readonly from: number
  readonly to: number
  /** What keeps it from less: people there; or nothing but that radios go no lower. */
  readonly heldAt: { readonly areaId: string; readonly at: Point } | null
  /** What keeps it from more. */
  readonly limit: 'boundary' | null
  /** The weakest that it hears of those whom it serves best, dBm; null where it serves nobody. */
  readonly wayBackDbm: number | null
}
export interface PowerPlan {
  readonly band: Band
  readonly radios: readonly PowerOf[]
  /** People served as radios are set, and with what is planned, over all plans of the place. */
  readonly servedNow: number
  readonly served: number
}

/** Extenders are left as they are: they have to reach what they repeat. */
export function planPower(
  model: SiteModel,
  band: Band,
  client: Omit<ClientType, 'id' | 'name'> = USUAL_CLIENT,
): PowerPlan {
  const beyond = beyondBoundary(model, FAR_M).filter((b) => b.band === band)
  const radios: PowerOf[] = []
  let [servedNow, served] = [0, 0]
  for (const floor of Object.values(model.plan.floors)) {
    const own = radiosOn(model, floor, band).filter(
      (r) => !isRepeater(model, model.device(r.deviceId)),
    )
    if (own.length === 0) continue
    const grid = gridOf(
      floor,
      Math.max(STEP_M, Math.sqrt((floor.widthM * floor.depthM) / MOST_POINTS)),
    )
    const walls = wallsOf(model, floor.id, band)
    const gain = (r: FloorRadio): number => model.profileOf(r.deviceId).air[r.radio]!.gainDbi
    const now = own.map((r) => r.sender.eirpDbm - gain(r))
    const most = own.map((r, n) => {
      const socket = r.mostEirpDbm - gain(r)
      const out = beyond.find((b) => b.radio.deviceId === r.deviceId && b.radio.radio === r.radio)
      const allowed = out ? now[n]! - (out.dbm - GOOD_DBM) : Infinity
      return { socket, allowed: Math.floor(allowed * 10) / 10 }
    })
    const mostDbm = most.map((m) =>
      Math.max(Math.min(LEAST_POWER_DBM, m.socket), Math.min(m.socket, m.allowed)),
    )
    const levels = own.map((r, n) =>
      levelsOf(grid, { ...r.sender, eirpDbm: mostDbm[n]! + gain(r) }, walls, {
        coefficient: floor.coefficient,
      }),
    )
    const points = grid.columns * grid.rows
    const needs = new Float32Array(points).fill(-Infinity)
    const areaAt: (string | undefined)[] = []
    const powerOf = new Map<number, number>()
    const weights: { point: number; heads: number; least: number }[] = []
    for (const area of Object.values(model.plan.areas)) {
      if (area.floorId !== floor.id || area.kind !== 'people') continue
      const type = model.plan.clientTypes[area.clientTypeId ?? ''] ?? client
      if (!type.bands.includes(band)) continue
      const inside: number[] = []
      for (let p = 0; p < points; p++)
        if (isWithin(pointOf(grid, p % grid.columns, Math.floor(p / grid.columns)), area.points))
          inside.push(p)
      for (const p of inside) {
        areaAt[p] ??= area.id
        powerOf.set(p, type.powerDbm)
        const best = Math.max(...levels.map((l) => l[p]!))
        // What all power does not reach holds nobody; what it reaches worse than well stays so.
        if (best >= type.leastDbm)
          needs[p] = Math.max(needs[p]!, Math.min(best, Math.max(type.leastDbm, GOOD_DBM)))
        weights.push({ point: p, heads: area.heads / inside.length, least: type.leastDbm })
      }
    }
    const { powersDbm, heldBy } = turnedDown({
      ...{ levels, needs, mostDbm },
      leastDbm: mostDbm.map((m) => Math.min(m, LEAST_POWER_DBM)),
    })
    const count = (of: (n: number, p: number) => number): number =>
      weights.reduce(
        (sum, w) => sum + (own.some((_, n) => of(n, w.point) >= w.least) ? w.heads : 0),
        0,
      )
    servedNow += count((n, p) => levels[n]![p]! + now[n]! - mostDbm[n]!)
    const levelOf = (n: number, p: number): number => levels[n]![p]! + powersDbm[n]! - mostDbm[n]!
    served += count(levelOf)
    const back = own.map((): number | null => null)
    for (const { point } of weights) {
      let best = 0
      for (let n = 1; n < own.length; n++) if (levelOf(n, point) > levelOf(best, point)) best = n
      if (levelOf(best, point) < needs[point]!) continue
      // The way is the same in both directions, and so is the gain of the antenna.
      const loss = powersDbm[best]! - levelOf(best, point)
      const dbm = powerOf.get(point)! - loss
      back[best] = Math.min(back[best] ?? Infinity, dbm)
    }
    for (const [n, r] of own.entries()) {
      const p = heldBy[n]
      radios.push({
        deviceId: r.deviceId,
        radio: r.radio,
        from: Math.round(now[n]! * 10) / 10,
        to: Math.round(powersDbm[n]! * 10) / 10,
        heldAt:
          p === null || p === undefined
            ? null
            : {
                areaId: areaAt[p]!,
                at: pointOf(grid, p % grid.columns, Math.floor(p / grid.columns)),
              },
        limit: most[n]!.allowed < most[n]!.socket ? 'boundary' : null,
        wayBackDbm: back[n]!,
      })
    }
  }
  return { band, radios, servedNow, served }
}
