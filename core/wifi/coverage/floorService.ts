/** Who is served on a plan of the place, by what, at what speed: what the sheet answers. */
import type { Band } from '../../radio/bands'
import { clientTypes, type ClientType, type Floor } from '../../plan'
import type { SiteModel } from '../../topology'
import { airtimeOf, type Airtime, type Demand } from './airtime'
import { gridOf, isWithin, radiosOn, wallsOf, type FloorRadio } from './floorAir'
import { levelsOf } from './levels'
import { pointOf, type Grid } from './place'
import { serviceOf, type Service } from './service'

/** While many are on the air a radio sends about so much of the time (common practice). */
const BUSY = 0.3

export interface AreaService {
  readonly areaId: string
  readonly heads: number
  /** Of its points, those that are served, 0 to 1. */ readonly covered: number
  /** The middle one of the rates of those, Mbit/s. */ readonly mbps: number
}
export interface FloorService {
  readonly grid: Grid
  readonly radios: readonly FloorRadio[]
  readonly service: Service
  readonly areas: readonly AreaService[]
  readonly airtime: Airtime
}

/** A client of the usual kind, where none is chosen. */
export const USUAL_CLIENT: Omit<ClientType, 'id' | 'name'> = clientTypes.blank

/**
 * @param stepM how far points lie apart, m
 * @param client what is in hand where an area does not say; the levels shown are for it
 */
export function floorService(
  model: SiteModel,
  floor: Floor,
  band: Band,
  client: Omit<ClientType, 'id' | 'name'>,
  stepM: number,
): FloorService {
  const grid = gridOf(floor, stepM)
  const radios = radiosOn(model, floor, band)
  const walls = wallsOf(model, floor.id, band)
  const law = { coefficient: floor.coefficient }
  const onAir = radios.map((r) => ({
    // One without a channel is on none that another has.
    channel: { band, primary: r.channel ?? 0, widthMhz: r.widthMhz },
    spoken: r.spoken,
    levels: levelsOf(grid, r.sender, walls, law),
    busy: BUSY,
  }))
  const serviceFor = (c: Omit<ClientType, 'id' | 'name'>): Service =>
    serviceOf(
      onAir,
      {
        spoken: { generation: c.generation, widthMhz: c.widthMhz, streams: c.streams },
        // Who does not know the band joins nothing in it, however loud.
        leastDbm: c.bands.includes(band) ? c.leastDbm : Infinity,
      },
      grid.columns * grid.rows,
    )
  const service = serviceFor(client)
  // Areas that say what their people have in hand are reckoned with that.
  const services = new Map<string | null, { service: Service; demands: Demand[] }>([
    [null, { service, demands: [] }],
  ])
  const areas = Object.values(model.plan.areas)
    .filter((a) => a.floorId === floor.id && a.kind === 'people')
    .map((a): AreaService => {
      const inside: number[] = []
      for (let row = 0; row < grid.rows; row++)
        for (let column = 0; column < grid.columns; column++)
          if (isWithin(pointOf(grid, column, row), a.points))
            inside.push(row * grid.columns + column)
      const type = a.clientTypeId ? model.plan.clientTypes[a.clientTypeId] : undefined
      const own = services.get(type?.id ?? null) ?? {
        service: serviceFor(type ?? client),
        demands: [],
      }
      services.set(type?.id ?? null, own)
      for (const point of inside)
        own.demands.push({
          point,
          heads: a.heads / inside.length,
          needMbps: (type ?? client).needMbps,
        })
      const served = inside.filter((p) => own.service.best[p]! >= 0)
      const rates = served.map((p) => own.service.mbps[p]!).sort((x, y) => x - y)
      return {
        areaId: a.id,
        heads: a.heads,
        covered: inside.length === 0 ? 0 : served.length / inside.length,
        mbps: rates[Math.floor(rates.length / 2)] ?? 0,
      }
    })
  return {
    grid,
    radios,
    service,
    areas,
    airtime: together(
      radios.length,
      [...services.values()].map((s) =>
        airtimeOf(radios.length, s.service.best, s.service.mbps, s.demands),
      ),
    ),
  }
}

/** What people with different things in hand ask of the same radios. */
const together = (radios: number, parts: readonly Airtime[]): Airtime => {
  const sumOf = (of: (a: Airtime) => readonly number[]): number[] =>
    Array.from({ length: radios }, (_, n) => parts.reduce((sum, p) => sum + of(p)[n]!, 0))
  return {
    busy: sumOf((a) => a.busy),
    heads: sumOf((a) => a.heads),
    unserved: parts.reduce((sum, p) => sum + p.unserved, 0),
  }
}
