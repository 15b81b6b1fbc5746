/** What the drawer shows of a site by its plan alone: made in a thread, once for a revision. */
import { findingsOf, marksOf } from '@mast/core/findings'
import { runSheetOf, saysNow, type SaysNow } from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'

export interface Glance {
  readonly name: string
  readonly country: string
  readonly devices: number
  readonly segments: number
  /** Ids of the devices that its controller adopts; none where it has none. */
  readonly adoptable: readonly string[]
  readonly marks: ReturnType<typeof marksOf>
  readonly steps: readonly ({ readonly id: string; readonly title: string } & SaysNow)[]
}

export function glanceAt(plan: SitePlan): Glance {
  const model = siteModel(plan)
  return {
    name: plan.site.name,
    country: plan.site.country,
    devices: model.devices.length,
    segments: model.segments.length,
    adoptable: model.hasController
      ? model.devices.filter((d) => model.profileOf(d.id).adoptable).map((d) => d.id)
      : [],
    marks: marksOf(findingsOf(plan)),
    steps: runSheetOf(model).map((s) => ({ id: s.id, title: s.title, ...saysNow(s) })),
  }
}
