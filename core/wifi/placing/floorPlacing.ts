/** Where to hang access points on a plan of the place, and how few it takes, for reach and for people. */
import type { Band } from '../../radio/bands'
import { bestRateMbps, spokenBy } from '../../radio/rates'
import { settingsOf, type ClientType, type Device, type Floor, type Radio } from '../../plan'
import type { SiteModel } from '../../topology'
import { DATA_SHARE, MOST_BUSY } from '../coverage/airtime'
import { gridOf, HEAD_M, isWithin, radiosOn, wallsOf } from '../coverage/floorAir'
import { levelsOf } from '../coverage/levels'
import { pointOf, type Grid, type Point, type Sender } from '../coverage/place'
import { placeBest, placeFewest, type Candidate } from './placing'

/** A good level for all that people do (common practice). */
export const GOOD_DBM = -67
/** So much of the people are to be served well. */
export const SHARE = 0.95
/** Beyond reach, more people get more: from these levels on they count once more, a little. */
const BETTER_DBM = [-60, -54, -48] as const
const BETTER = 1e-3
/** No more are proposed at once. */
const MOST_HUNG = 100
const MOST_CANDIDATES = 400
const MOST_POINTS = 3000

export interface Proposed {
  readonly places: readonly Point[]
  /** Of all people, those who have a good level, 0 to 1. */ readonly served: number
  /** No choice of as many places serves more. */ readonly atMost: number
  readonly isBest: boolean
  /** How many are needed so that nearly all are in reach, and fewer cannot; null where none suffice. */
  readonly forReach: number | null
  readonly forReachAtLeast: number
  /** How many are needed to carry what all need. */ readonly forPeople: number
  readonly now: number
}

/** The radio that is hung: that of an access point that hangs here, or of one that could. */
export function usualRadio(
  model: SiteModel,
  floor: Floor,
  band: Band,
): { radio: Radio; device: Device; eirpDbm: number } | null {
  const here = radiosOn(model, floor, band)[0]
  const points = model.devices.filter((d) => model.profileOf(d.id).kind === 'access-point')
  const device = here ? model.device(here.deviceId) : points[0]
  if (!device) return null
  const profile = model.profileOf(device.id)
  const n = settingsOf(device, profile).findIndex((s) => s.band === band)
  const radio = profile.air[n]
  if (!radio) return null
  return { radio, device, eirpDbm: here?.sender.eirpDbm ?? radio.powerDbm + radio.gainDbi }
}

/**
 * @param count how many are hung; null is as few as it takes
 * @param stop asked now and then; true ends it with what was found
 */
export function proposePlaces(
  model: SiteModel,
  floor: Floor,
  band: Band,
  client: Omit<ClientType, 'id' | 'name'>,
  count: number | null,
  stop: () => boolean = () => false,
): Proposed | null {
  const usual = usualRadio(model, floor, band)
  const areas = Object.values(model.plan.areas).filter((a) => a.floorId === floor.id)
  const people = areas.filter((a) => a.kind === 'people' && a.heads > 0)
  if (!usual || people.length === 0) return null
  const size = floor.widthM * floor.depthM
  const grid = gridOf(floor, Math.max(1, Math.sqrt(size / MOST_POINTS)))
  const places = candidatesOn(
    gridOf(floor, Math.max(1.5, Math.sqrt(size / MOST_CANDIDATES))),
    (p) => !areas.some((a) => a.kind === 'keep-out' && isWithin(p, a.points)),
  )
  const weights: number[] = []
  const needs: number[] = []
  const points: number[] = []
  for (const a of people) {
    const inside: number[] = []
    for (let n = 0; n < grid.columns * grid.rows; n++)
      if (isWithin(pointOf(grid, n % grid.columns, Math.floor(n / grid.columns)), a.points))
        inside.push(n)
    const type = a.clientTypeId ? model.plan.clientTypes[a.clientTypeId] : undefined
    for (const n of inside) {
      points.push(n)
      weights.push(a.heads / inside.length)
      needs.push((type ?? client).needMbps)
    }
  }
  const all = weights.reduce((sum, w) => sum + w, 0)
  if (all === 0) return null
  const walls = wallsOf(model, floor.id, band)
  const heightM = floor.isOutdoors ? 4 : 2.6
  const spoken = spokenBy(
    { generation: usual.radio.generation, widthMhz: 20, streams: usual.radio.streams },
    client,
  )
  const best = new Float32Array(points.length).fill(-Infinity)
  const heard = places.map((at): Float32Array => {
    const sender: Sender = {
      ...{ at, aboveM: heightM - HEAD_M, eirpDbm: usual.eirpDbm, beam: null },
      mhz: { '2.4': 2437, '5': 5500, '6': 6425 }[band],
    }
    const levels = levelsOf(grid, sender, walls, { coefficient: floor.coefficient })
    const here = Float32Array.from(points, (p) => levels[p]!)
    for (const [i, l] of here.entries()) best[i] = Math.max(best[i]!, l)
    return here
  })
  const reached = (levels: Float32Array, dbm: number, from: number): number[] => {
    const out: number[] = []
    for (const [i, l] of levels.entries()) if (l >= dbm) out.push(from + i)
    return out
  }
  const candidates = heard.map((levels, id): Candidate => ({
    id: String(id),
    points: reached(levels, GOOD_DBM, 0),
  }))
  const fewest = placeFewest(candidates, SHARE, weights, stop)
  // Everybody at the rate of a good level, or of the best that there is where that is less.
  const busy = points.reduce((sum, _, i) => {
    const rate = bestRateMbps(spoken, Math.min(best[i]!, GOOD_DBM))
    return rate === 0 ? sum : sum + (weights[i]! * needs[i]!) / (rate * DATA_SHARE)
  }, 0)
  const forPeople = Math.max(1, Math.ceil(busy / MOST_BUSY - 1e-9))
  const forReach = fewest.placed?.ids.length ?? null
  const wanted = Math.min(MOST_HUNG, count ?? Math.max(forReach ?? MOST_HUNG, forPeople))
  const plain = placeBest(candidates, wanted, weights, stop)
  // Where reach is had with fewer, the others go where they make it better.
  const finer = placeBest(
    heard.map((levels, id) => ({
      id: String(id),
      points: [GOOD_DBM, ...BETTER_DBM].flatMap((dbm, n) =>
        reached(levels, dbm, n * points.length),
      ),
    })),
    wanted,
    [1, ...BETTER_DBM.map((_, n) => BETTER ** (n + 1))].flatMap((by) => weights.map((w) => w * by)),
    stop,
  )
  const servedBy = (ids: readonly string[]): number => {
    const isServed = new Set(ids.flatMap((id) => candidates[Number(id)]!.points))
    return weights.reduce((sum, w, i) => sum + (isServed.has(i) ? w : 0), 0)
  }
  const isFiner = servedBy(finer.ids) >= plain.served - 1e-9
  const ids = isFiner ? finer.ids : plain.ids
  const served = servedBy(ids)
  return {
    places: ids.map((id) => places[Number(id)]!),
    served: served / all,
    atMost: Math.min(1, plain.atMost / all),
    isBest: plain.isBest || served >= plain.atMost - 1e-9,
    forReach,
    forReachAtLeast: fewest.atLeast,
    forPeople,
    now: radiosOn(model, floor, band).length,
  }
}

function candidatesOn(grid: Grid, isFree: (p: Point) => boolean): Point[] {
  const out: Point[] = []
  for (let row = 0; row < grid.rows; row++)
    for (let column = 0; column < grid.columns; column++) {
      const p = pointOf(grid, column, row)
      const at = { x: Math.round(p.x * 2) / 2, y: Math.round(p.y * 2) / 2 }
      if (isFree(at)) out.push(at)
    }
  return out
}
