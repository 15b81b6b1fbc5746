/** Plans channels and places, and fits the model to readings, beside the page. */
import { expose } from 'comlink'
import type { ClientType, SitePlan } from '@mast/core/plan'
import type { Band, Width } from '@mast/core/radio'
import { siteModel } from '@mast/core/topology'
import {
  fitFloor,
  gridOf,
  levelsOf,
  marksDbm,
  planChannels,
  planPower,
  proposePlaces,
  repeatingOf,
} from '@mast/core/wifi'
import { outlinesOf } from './outlines'

const worker = {
  channels: (plan: SitePlan, band: Band, widthMhz: Width | null) =>
    planChannels(siteModel(plan), band, widthMhz),
  places: (
    plan: SitePlan,
    floorId: string,
    band: Band,
    client: Omit<ClientType, 'id' | 'name'>,
    count: number | null,
  ) => proposePlaces(siteModel(plan), plan.floors[floorId]!, band, client, count),
  power: (plan: SitePlan, band: Band, client: Omit<ClientType, 'id' | 'name'>) =>
    planPower(siteModel(plan), band, client),
  /** Around the access point that an extender repeats: where it is heard with 70, 65 and 50 %. */
  marks: (plan: SitePlan, extenderId: string) => {
    const model = siteModel(plan)
    const found = repeatingOf(model, model.device(extenderId))
    if (!found) return []
    const { case: c, floor } = found
    const grid = gridOf(floor, Math.max(0.5, Math.sqrt((floor.widthM * floor.depthM) / 60_000)))
    const sender = { ...c.point, aboveM: c.point.aboveM - c.aboveM }
    return outlinesOf(levelsOf(grid, sender, c.walls, c.law), grid, marksDbm)
  },
  fit: (plan: SitePlan, floorId: string, band: Band) =>
    fitFloor(siteModel(plan), plan.floors[floorId]!, band),
}
export type AirWorker = typeof worker
expose(worker)
