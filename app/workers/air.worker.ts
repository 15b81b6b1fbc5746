/** Plans channels and places, and fits the model to readings, beside the page. */
import { expose } from 'comlink'
import type { ClientType, SitePlan } from '@mast/core/plan'
import type { Band, Width } from '@mast/core/radio'
import { siteModel } from '@mast/core/topology'
import { fitFloor, planChannels, proposePlaces } from '@mast/core/wifi'

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
  fit: (plan: SitePlan, floorId: string, band: Band) =>
    fitFloor(siteModel(plan), plan.floors[floorId]!, band),
}
export type AirWorker = typeof worker
expose(worker)
