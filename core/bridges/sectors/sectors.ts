/** Units with several far ends, and how they share the air. */
import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'
import { knownBridges, type Reckoned } from '../reckoned'
import { sectorOf, type Sector } from './airtime'

export interface SectorOfSite {
  readonly device: Device
  readonly bridges: readonly Reckoned[]
  readonly sector: Sector
}

export function sectorsOf(model: SiteModel): SectorOfSite[] {
  const all = knownBridges(model)
  const by = new Map<string, Reckoned[]>()
  for (const r of all)
    for (const end of ['a', 'b'] as const) {
      const { id } = r.budget.facts[end].device
      by.set(id, [...(by.get(id) ?? []), r])
    }
  return [...by]
    .filter(([, list]) => list.length > 1)
    .map(([id, bridges]) => ({
      device: model.device(id),
      bridges,
      sector: sectorOf(
        bridges.map((r) => ({
          id: r.bridge.id,
          // Both directions at the slower of their rates: that is what takes the time.
          airMbps: Math.min(r.budget.toB.step?.mbps ?? 0, r.budget.toA.step?.mbps ?? 0),
          wantedMbps: r.carried.toB + r.carried.toA,
        })),
        model.profileOf(id).bridge!.dataShare,
      ),
    }))
}
