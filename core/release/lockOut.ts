/** Who would no longer find the controller: what a release is searched for before it is sent. */
import { controllerEnd, trace } from '../forwarding'
import { inPlan, handsOutLeases, own, type Link, type SitePlan } from '../plan'
import { siteModel, type SiteModel } from '../topology'

export interface LockOut {
  readonly deviceId: string
  /** `at-its-next-start` is who has an address for now and gets none again. */
  readonly when: 'at-once' | 'at-its-next-start'
  readonly text: string
  readonly detour: string
}

/**
 * Whether a device's page finds the controller on a plan, and why not. Undefined where the plan
 * does not say where the controller is.
 */
function wayOf(
  model: SiteModel,
  deviceId: string,
): { ok: boolean; why: string; kind: string } | undefined {
  const { controllerPlace: place } = model
  const { port } = model.plan.controller
  if (!place) return undefined
  const service = { id: 'controller', name: 'controller', protocol: 'tcp' as const, ports: [port] }
  const isGateway = deviceId === model.gateway?.id
  const { mode, segmentId } = model.device(deviceId).addressing
  const segment = segmentId ? model.segment(segmentId) : undefined
  if (!isGateway && mode !== 'fixed' && segment && !handsOutLeases(segment))
    return {
      ok: false,
      kind: 'lease',
      why: `nobody hands out leases in ${segment.name} any more, where it asks for its address`,
    }
  // The gateway calls from an address of its own in the segment of the controller; the same cables
  // lead there and back.
  if (isGateway && place.kind !== 'host') return { ok: true, why: 'it is beside it', kind: 'host' }
  const t =
    isGateway && place.kind === 'host'
      ? trace(
          model,
          { kind: 'device', id: place.device.id },
          { kind: 'gateway' },
          { ...service, protocol: 'icmp', ports: [] },
        )
      : trace(model, { kind: 'device', id: deviceId }, controllerEnd(place), service)
  const isRefusedOnly = isGateway && t.verdict === 'blocked' && t.decidedBy.kind === 'rule'
  return {
    ok: t.verdict === 'delivered' || isRefusedOnly,
    why: t.decidedBy.text,
    kind: t.decidedBy.kind,
  }
}

const detours: Readonly<Record<string, string>> = {
  rule: 'Let its segment reach the controller first, and send that; then this.',
  cable:
    'Have both ends of the cable carry its segment first, and send that; take the old one ' +
    'away in a release of its own.',
  isolation:
    'Take the isolation off where the controller is, or give the controller a socket of its own.',
  lease: 'Give it a fixed address of its segment first, and send that; then this.',
  address: 'Give it an address of the segment where it then is.',
  route: 'Give its segment an address of the gateway first.',
}

/**
 * Devices that found the controller on the plan before and do not on the plan that is to be sent.
 * @param live those that the controller hears now
 */
export function lockOuts(before: SiteModel, after: SiteModel, live: readonly string[]): LockOut[] {
  return live.flatMap((deviceId): LockOut[] => {
    const device = own(after.plan.devices, deviceId)
    if (!device || !own(before.plan.devices, deviceId)) return []
    const now = wayOf(after, deviceId)
    if (!now || now.ok || wayOf(before, deviceId)?.ok === false) return []
    const when = now.kind === 'lease' ? 'at-its-next-start' : 'at-once'
    return [
      {
        deviceId,
        when,
        text:
          `${device.name} would no longer find the ` +
          `controller${when === 'at-once' ? '' : ' after its next start'}: ${now.why}`,
        detour: detours[now.kind] ?? 'Put that right in the plan, and send again.',
      },
    ]
  })
}

const ends = (l: Link): string => [l.a, l.b].sort().join(' ')

/** Cables that somebody has to move, take out or put in. */
export function movedCables(
  before: SitePlan,
  after: SitePlan,
): { readonly out: readonly Link[]; readonly in: readonly Link[] } {
  if (before.links === after.links) return { out: [], in: [] }
  const [was, is] = [
    new Set(Object.values(before.links).map(ends)),
    new Set(Object.values(after.links).map(ends)),
  ]
  return {
    out: Object.values(before.links).filter((l) => !is.has(ends(l))),
    in: Object.values(after.links).filter((l) => !was.has(ends(l))),
  }
}

/** What hangs together with a device by the cables of a plan, without some of them. */
function connected(plan: SitePlan, from: string, without: ReadonlySet<string>): Set<string> {
  const beside = new Map<string, string[]>()
  const deviceOf = (portId: string): string | undefined => own(plan.ports, portId)?.deviceId
  for (const l of Object.values(plan.links)) {
    const [a, b] = [deviceOf(l.a), deviceOf(l.b)]
    if (without.has(l.id) || !a || !b) continue
    beside.set(a, [...(beside.get(a) ?? []), b])
    beside.set(b, [...(beside.get(b) ?? []), a])
  }
  const seen = new Set([from])
  for (const at of seen) for (const next of beside.get(at) ?? []) seen.add(next)
  return seen
}

/** Devices that are off the controller while somebody moves cables: nobody waits for them. */
export function movedDevices(before: SitePlan, after: SitePlan, live: readonly string[]): string[] {
  const { controllerPlace: place, gateway } = siteModel(before)
  // What is reached by a line is reached by the gateway.
  const home = place?.kind === 'host' || place?.kind === 'gateway' ? place.device : place && gateway
  const { out } = movedCables(before, after)
  if (!home || out.length === 0) return []
  const still = connected(before, home.id, new Set(out.map((l) => l.id)))
  const were = connected(before, home.id, new Set())
  return live.filter((id) => were.has(id) && !still.has(id))
}

/** Hosts that are cut off from the controller's side of the site while a device restarts. */
export function behind(plan: SitePlan, deviceId: string): number {
  const gateway = Object.values(plan.devices).find(
    (d) => inPlan(plan.profiles, d.profileId).kind === 'gateway',
  )?.id
  const isHost = (id: string): boolean =>
    inPlan(plan.profiles, inPlan(plan.devices, id).profileId).kind === 'host'
  const onAir = Object.values(plan.wirelessNetworks)
    .filter((w) => w.accessPointIds.length === 1 && w.accessPointIds[0] === deviceId)
    .map((w) => w.id)
  const air = Object.values(plan.devices).filter(
    (d) => d.wirelessNetworkId && onAir.includes(d.wirelessNetworkId),
  ).length
  if (!gateway) return air
  if (gateway === deviceId) return Object.keys(plan.devices).filter(isHost).length
  const all = connected(plan, gateway, new Set())
  const portsOf = Object.values(plan.links)
    .filter((l) => [l.a, l.b].some((p) => own(plan.ports, p)?.deviceId === deviceId))
    .map((l) => l.id)
  const left = connected(plan, gateway, new Set(portsOf))
  return air + [...all].filter((id) => !left.has(id) && isHost(id)).length
}
