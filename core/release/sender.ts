/** Whoever sends a release must still reach the program afterwards. */
import { containsAddress, formatAddress, parseAddress, parsePrefix } from '../addressing'
import { hasKnownAddress, own, type SitePlan } from '../plan'
import { decideService } from '../policy'

/** Where the person sits who sends, as the server sees it. */
export interface Sender {
  readonly address: string
  readonly port: number
}

/**
 * Why whoever sends would no longer reach this program afterwards; undefined where they would, or
 * where they are outside of the plan.
 */
export function cutsSender(
  before: SitePlan,
  after: SitePlan,
  { address, port }: Sender,
): string | undefined {
  const own4 = parseAddress(address.replace(/^::ffff:/, ''))
  const home = after.controller.hostDeviceId
  if (!own4 || !home) return undefined
  const segment = Object.values(before.segments).find((s) => {
    const p = s.subnet ? parsePrefix(s.subnet) : undefined
    return p && containsAddress(p, own4)
  })
  if (!segment) return undefined
  const now = own(after.segments, segment.id)
  if (!now || now.subnet !== segment.subnet)
    return (
      `You send this from ${segment.name} (${address}), whose subnet changes: send from ` +
      'elsewhere, or take a new lease afterwards and look there whether it was done.'
    )
  const to = own(after.devices, home)?.addressing.segmentId
  const was = own(before.devices, home)?.addressing.segmentId
  if (!to || !was || segment.id === to) return undefined
  // A host that the plan knows by its address may be let through, or kept out, on its own; so may
  // the controller's.
  const from = (plan: SitePlan): string =>
    Object.values(plan.devices).find(
      (d) => hasKnownAddress(d) && d.addressing.address === formatAddress(own4),
    )?.id ?? segment.id
  const service = { id: 'planner', name: 'planner', protocol: 'tcp' as const, ports: [port] }
  const reached = segment.id === was || decideService(before, from(before), home, service).allowed
  return reached && !decideService(after, from(after), home, service).allowed
    ? `You send this from ${segment.name} (${address}), from where the controller's host would ` +
        `no longer be reached. Let ${segment.name} reach it first, or send from ` +
        `${after.segments[to]!.name}.`
    : undefined
}
