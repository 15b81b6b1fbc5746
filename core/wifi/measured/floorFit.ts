/** What readings of a plan of the place say of its model: distance, walls, and how sure it is. */
import type { Band } from '../../radio/bands'
import { lossOfMaterial, materialIds, type MaterialId } from '../../radio/materials'
import type { Floor } from '../../plan'
import type { SiteModel } from '../../topology'
import { piecesOf, radiosOn } from '../coverage/floorAir'
import type { Point } from '../coverage/place'
import { fitReadings, type Fitted, type PlannedWall, type Reading } from './fit'

/** More readings than that are thinned out, evenly. */
const MOST = 4000

export interface FittedWall {
  readonly wallId: string
  readonly material: MaterialId
  readonly plannedDb: number
  readonly fitted: Fitted
  readonly passes: number
  readonly isOther: boolean
  /** The material whose loss is nearest to what was measured. */
  readonly like: MaterialId
}
export interface FloorFit {
  readonly readings: number
  readonly used: number
  readonly coefficient: Fitted
  readonly offsetDb: Fitted
  readonly spreadDb: number
  /** Those that readings passed, the most telling first. */ readonly walls: readonly FittedWall[]
  /** Measured less modelled, by where. */
  readonly residuals: readonly (Point & { readonly db: number })[]
  /** How unsure the level of the nearest access point is, dB: at the best and at the worst place. */
  readonly surestDb: number
  readonly leastSureDb: number
  readonly leastSureAt: Point
  /** Access points of readings that do not hang there, or not in this band. */
  readonly strangers: readonly string[]
}

/** Null where nobody walked. */
export function fitFloor(model: SiteModel, floor: Floor, band: Band): FloorFit | null {
  const radios = radiosOn(model, floor, band)
  const numbers = new Map(radios.map((r, n) => [r.deviceId, n]))
  const walks = Object.values(model.plan.walks).filter(
    (w) => w.floorId === floor.id && w.band === band,
  )
  const readings = walks.flatMap((w): Reading[] => {
    const sender = numbers.get(w.deviceId)
    return sender === undefined
      ? []
      : w.readings.map(({ x, y, dbm }) => ({ at: { x, y }, sender, dbm }))
  })
  const strangers = [...new Set(walks.map((w) => w.deviceId))].filter((id) => !numbers.has(id))
  if (readings.length === 0) return null
  const every = Math.ceil(readings.length / MOST)
  const used = readings.filter((_, n) => n % every === 0)
  const own = Object.values(model.plan.walls).filter((w) => w.floorId === floor.id)
  const pieces = own.flatMap((w) =>
    piecesOf(w, band).map((p) => ({
      wallId: w.id,
      // Doors and windows are pieces too, and err by themselves.
      isWall: p.lossDb === lossOfMaterial(w.material, band),
      planned: { ...p, materialId: `${w.material} ${p.lossDb}` } satisfies PlannedWall,
    })),
  )
  const fit = fitReadings(
    radios.map((r) => r.sender),
    pieces.map((p) => p.planned),
    { coefficient: floor.coefficient },
    used,
  )
  const walls = own.flatMap((w): FittedWall[] => {
    const mine = pieces.flatMap((p, n) =>
      p.wallId === w.id && p.isWall && fit.passes[n]! > 0 ? [n] : [],
    )
    if (mine.length === 0) return []
    const passes = mine.reduce((sum, n) => sum + fit.passes[n]!, 0)
    const mean = (of: (n: number) => number): number =>
      mine.reduce((sum, n) => sum + of(n) * fit.passes[n]!, 0) / passes
    const value = mean((n) => fit.walls[n]!.value)
    return [
      {
        wallId: w.id,
        material: w.material,
        plannedDb: lossOfMaterial(w.material, band),
        fitted: { value, sd: mean((n) => fit.walls[n]!.sd) },
        passes,
        isOther: mine.some((n) => fit.otherThanPlanned.includes(n)),
        like: nearest(value, band),
      },
    ]
  })
  const places = Array.from({ length: 144 }, (_, n) => ({
    x: ((n % 12) + 0.5) * (floor.widthM / 12),
    y: (Math.floor(n / 12) + 0.5) * (floor.depthM / 12),
  }))
  const doubts = places.map((p) => {
    const near = radios.reduce((a, b) =>
      distance(b.sender.at, p) < distance(a.sender.at, p) ? b : a,
    )
    return fit.uncertainDb(near.sender, p)
  })
  const worst = doubts.indexOf(Math.max(...doubts))
  return {
    readings: readings.length,
    used: used.length,
    coefficient: fit.coefficient,
    offsetDb: fit.offsetDb,
    spreadDb: fit.spreadDb,
    walls: walls.sort(
      (a, b) => Math.abs(b.fitted.value - b.plannedDb) - Math.abs(a.fitted.value - a.plannedDb),
    ),
    residuals: used.map((r, n) => ({ ...r.at, db: fit.residualsDb[n]! })),
    surestDb: Math.min(...doubts),
    leastSureDb: doubts[worst]!,
    leastSureAt: places[worst]!,
    strangers,
  }
}
const distance = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y)
const nearest = (lossDb: number, band: Band): MaterialId =>
  materialIds.reduce((best, id) =>
    Math.abs(lossOfMaterial(id, band) - lossDb) < Math.abs(lossOfMaterial(best, band) - lossDb)
      ? id
      : best,
  )
