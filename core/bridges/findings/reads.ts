/** The parts of a plan that what is reckoned of bridges depends on. */
import type { SitePlan } from '../../plan'

export const READS = [
  'site',
  'bridges',
  'links',
  'ports',
  'devices',
  'profiles',
  'locations',
] as const satisfies readonly (keyof SitePlan)[]
/** And what they carry. */
export const CARRIES = [
  ...READS,
  'segments',
  'uplinks',
] as const satisfies readonly (keyof SitePlan)[]
