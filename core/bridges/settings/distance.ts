/** How a unit is told the length of the path. */
import type { BridgeUnit } from '../../plan'

const LIGHT_M_US = 299.792458
/** A coverage class of IEEE 802.11 is 3 us there and back, 450 m. */
const CLASS_M = 450

/** What has to be set at the least for so many metres; null of what sets itself. */
export function leastDistance(unit: BridgeUnit, metres: number): number | null {
  switch (unit.distance.kind) {
    case 'none':
      return null
    case 'timer-us':
      return Math.ceil((2 * metres) / LIGHT_M_US)
    case 'timer-m':
    case 'power-m':
      return Math.ceil(metres)
  }
}
export const distanceWords = (unit: BridgeUnit, value: number): string =>
  unit.distance.kind === 'timer-us'
    ? `${value} us (${Math.round((value * LIGHT_M_US) / 2)} m)`
    : `${value} m`
export const coverageClass = (metres: number): number => Math.ceil(metres / CLASS_M)
