/** Which rule decides, and where a host stands to the rules. */
import { weekWords, type Service } from '../plan'
import { atOnce, decideAmong, type Rule } from '../policy'
import type { Located } from './fate'

/**
 * What decides: at one minute, or at all times; where it is let through at some only, that is said.
 */
export function decided(
  rules: readonly Rule[],
  service: Pick<Service, 'protocol' | 'ports'>,
  minute: number | null,
): Rule {
  if (minute !== null) return atOnce(rules, service, minute).rule
  const { rule, hours } = decideAmong(rules, service)
  return hours ? { ...rule, verdict: 'drop', text: `let through ${weekWords(hours)} only` } : rule
}

/**
 * A host in the segment that it was planned for is that host to the rules; elsewhere it is one of
 * many.
 */
export const placeOf = ({ segment, device }: Located): string =>
  device && device.addressing.segmentId === segment.id ? device.id : segment.id
