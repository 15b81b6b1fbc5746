/** What clients on the air move where nobody told them anything else. */
import { seededRandom } from '../clock/random'
import type { Demand } from '../devices/stations'

/** Some 20 to 400 kbit/s, each its own (invented). */
export function usualDemand(clientId: string): Demand {
  const seed = [...clientId].reduce((n, c) => (n * 31 + c.charCodeAt(0)) >>> 0, 7)
  const share = seededRandom(seed)()
  return { downBps: 20_000 + 380_000 * share, upBps: 5_000 + 40_000 * share }
}
