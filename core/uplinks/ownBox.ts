/** The provider's own box on site: it goes on answering when all behind it is dead. */
import { containsAddress, parseAddress, parsePrefix } from '../addressing'
import type { LineWatch, Uplink } from '../plan'
import { neededOf } from './failover/loss'

/** Whether an address is the provider's own box, which answers when all behind it is dead. */
export function isOwnBox(u: Uplink, target: string): boolean {
  const address = parseAddress(target)
  if (address === undefined) return false
  if (target === u.handOff.gateway) return true
  const lan = u.handOff.providerLan
  const prefix = lan && lan !== 'none' ? parsePrefix(lan) : undefined
  return prefix !== undefined && containsAddress(prefix, address)
}
/**
 * How many answers from beyond the provider's own box a round of tests needs, since the box itself
 * goes on answering when all behind it is dead; 0 where its answers are enough.
 */
export function answersToGo(u: Uplink, { tests, need }: LineWatch): number {
  const own = tests.filter((t) => isOwnBox(u, t.target)).length
  return tests.length === 0 ? 0 : Math.max(0, neededOf(need, tests.length) - own)
}
