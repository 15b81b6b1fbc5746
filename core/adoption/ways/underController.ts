/**
 * A device that was set by its own page, before the site had a controller: how it is told of one
 * without setting it back.
 */
import { own, type Device } from '../../plan'
import { mayAdminister } from '../../policy'
import type { SiteModel } from '../../topology'

export interface PageInService {
  /** Where its page answers once it is set; null where the plan does not say, so it is looked up. */
  readonly address: string | null
  /** The segments from which it does. */
  readonly from: readonly string[]
}

export function pageInService(model: SiteModel, device: Device): PageInService {
  const { mode, address, segmentId } = device.addressing
  const home = segmentId ? own(model.plan.segments, segmentId) : undefined
  return {
    address:
      device.id === model.gateway?.id
        ? (model.segments.find((s) => mayAdminister(s) && s.gateway)?.gateway ?? null)
        : mode === 'automatic'
          ? null
          : address,
    from: model.segments.filter((s) => mayAdminister(s) || s === home).map((s) => s.name),
  }
}
