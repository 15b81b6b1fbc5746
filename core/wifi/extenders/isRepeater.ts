import type { Device } from '../../plan'
import type { SiteModel } from '../../topology'

export const isRepeater = (model: SiteModel, d: Device): boolean =>
  d.mode === 'repeater' || (d.mode === null && model.profileOf(d.id).kind === 'range-extender')
