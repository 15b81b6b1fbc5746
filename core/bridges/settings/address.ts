/** The address that a unit takes when it is set by hand: base, role, channel. */
import { parseAddress } from '../../addressing'
import type { BridgeUnit } from '../../plan'

/** null of a unit without such a formula, and of what leads out of the last octet. */
export function handAddress(
  unit: BridgeUnit,
  role: 'main' | 'far',
  channel: number,
): string | null {
  const rule = unit.address
  if (!rule || parseAddress(rule.base)?.family !== 4) return null
  const octets = rule.base.split('.').map(Number)
  const last = octets[3]! + (role === 'main' ? rule.main : rule.far) + rule.perChannel * channel
  return last > 254 ? null : [...octets.slice(0, 3), last].join('.')
}
