/** A port for one more tunnel: the usual one, or the next that no tunnel of the site has. */
import type { SitePlan } from '../plan'
import { USUAL_PORT } from './reckoned'

export function freeTunnelPort(plan: SitePlan): number {
  const taken = new Set(Object.values(plan.tunnels).map((t) => t.listenPort))
  let port = USUAL_PORT
  while (taken.has(port)) port++
  return port
}
