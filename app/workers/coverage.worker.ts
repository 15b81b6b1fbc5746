/** Works out who is served on a plan of the place, coarse first and then fine. */
import { expose } from 'comlink'
import type { ClientType, SitePlan } from '@mast/core/plan'
import type { Band } from '@mast/core/radio'
import { siteModel } from '@mast/core/topology'
import { floorService } from '@mast/core/wifi'
import { outlinesOf, type Outline } from './outlines'

/** Levels at which a line is drawn, dBm. */
export const CONTOURS_DBM = [-75, -67, -60, -50] as const
/** The coarse grid has so many times the step of the fine one. */
const COARSE = 4

export interface Drawn {
  readonly stepM: number
  readonly outlines: readonly Outline[]
  readonly columns: number
  readonly rows: number
  readonly best: Int16Array
  readonly second: Int16Array
  readonly levelDbm: Float32Array
  readonly clearanceDb: Float32Array
  readonly mbps: Float32Array
  readonly radios: readonly {
    readonly deviceId: string
    readonly channel: number | null
    readonly eirpDbm: number
    readonly heads: number
    readonly busy: number
  }[]
  readonly areas: readonly {
    readonly areaId: string
    readonly heads: number
    readonly covered: number
    readonly mbps: number
  }[]
  readonly unserved: number
}

const worker = {
  /** @param told called with the coarse one and the fine one; false ends it */
  async work(
    plan: SitePlan,
    floorId: string,
    band: Band,
    client: Omit<ClientType, 'id' | 'name'>,
    stepM: number,
    told: (drawn: Drawn) => Promise<boolean>,
  ): Promise<void> {
    const model = siteModel(plan)
    const floor = plan.floors[floorId]
    if (!floor) return
    for (const step of [stepM * COARSE, stepM]) {
      const { grid, service, radios, areas, airtime } = floorService(
        model,
        floor,
        band,
        client,
        step,
      )
      const outlines = outlinesOf(service.levelDbm, grid, CONTOURS_DBM)
      const drawn: Drawn = {
        stepM: step,
        outlines,
        columns: grid.columns,
        rows: grid.rows,
        best: service.best,
        second: service.second,
        levelDbm: service.levelDbm,
        clearanceDb: service.clearanceDb,
        mbps: service.mbps,
        radios: radios.map((r, n) => ({
          deviceId: r.deviceId,
          channel: r.channel,
          eirpDbm: r.sender.eirpDbm,
          heads: airtime.heads[n]!,
          busy: airtime.busy[n]!,
        })),
        areas,
        unserved: airtime.unserved,
      }
      if (!(await told(drawn))) return
    }
  },
}
export type CoverageWorker = typeof worker
expose(worker)
