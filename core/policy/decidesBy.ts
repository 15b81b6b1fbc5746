/** The parts of a plan by which its rules decide who reaches whom. */
import type { SitePlan } from '../plan'

export const DECIDES_BY = [
  'site',
  'segments',
  'services',
  'intents',
  'wirelessNetworks',
  'devices',
  'profiles',
  'uplinks',
  'controller',
  'groups',
  'forwards',
  'tunnels',
  'peers',
] as const satisfies readonly (keyof SitePlan)[]
