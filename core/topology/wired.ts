/**
 * What is plugged where and what each socket does with a frame, in a form made for following
 * frames: sockets with a cable by device, VLANs as sets. Kept
 * from one plan to the next as far as the edit between them left it true.
 */
import { remembered, selected } from '../remember'
import { inPlan, type Port, type Profile, type SitePlan } from '../plan'
import type { Carriage } from './arrival'
import type { Form } from './form'
import type { SiteModel } from './siteModel'
import { spanningTreeOf } from './spanningTree'

export interface WiredSocket {
  readonly portId: string
  readonly deviceId: string
  readonly mode: Profile['vlan']
  readonly isLine: boolean
  readonly untagged: number | null
  readonly tagged: ReadonlySet<number>
  /** By the spanning tree: nothing passes. */
  readonly isBlocked: boolean
  /** The socket at the other end of its cable. */
  peer: WiredSocket | null
}

/** The form in which a socket sends a VLAN, or undefined where it does not. */
export function leaves(s: WiredSocket, inside: Form): Form | undefined {
  switch (s.mode) {
    case 'managed':
      return s.isLine || s.isBlocked
        ? undefined
        : s.untagged !== null && s.untagged === inside
          ? 'untagged'
          : s.tagged.has(inside as number)
            ? inside
            : undefined
    case 'transparent':
      return inside
    case 'unaware':
      return inside === 'untagged' ? inside : undefined
    case 'none':
      return undefined
  }
}

/** The VLAN that an incoming frame falls into at a socket, or undefined where it is dropped. */
export function enters(s: WiredSocket, form: Form): Form | undefined {
  switch (s.mode) {
    case 'managed':
      return s.isLine || s.isBlocked
        ? undefined
        : form === 'untagged'
          ? (s.untagged ?? undefined)
          : s.tagged.has(form)
            ? form
            : undefined
    case 'transparent':
      return form
    case 'unaware':
    case 'none':
      return form === 'untagged' ? form : undefined
  }
}

export interface Wired {
  /** Sockets with a cable in them, by device, in the order of the housing. */
  readonly sockets: ReadonlyMap<string, readonly WiredSocket[]>
  socketOf(portId: string): WiredSocket
  /** Filled as they are asked for. */
  readonly carriages: Map<string, Carriage>
}
interface Kept extends Wired {
  readonly plan: SitePlan
  readonly frame: string
}

/**
 * What carriage depends on beside ports and links: devices with their profiles, segments with their
 * VLANs.
 */
const frameOf = (model: SiteModel): string =>
  `${[...spanningTreeOf(model).blocked].sort().join()}|` +
  `${model.devices.map((d) => `${d.id}:${d.profileId}`).join()}|` +
  `${model.segments.map((s) => `${s.id}:${s.vlanId}`).join()}`

export const wiredOf: (model: SiteModel) => Wired = selected(
  (model) => [model.plan.links, model.plan.profiles, frameOf(model), model.plan.ports],
  (model, last: Kept | undefined): Kept => {
    const { plan } = model
    const frame = frameOf(model)
    const isSameFrame =
      last?.plan.links === plan.links &&
      last.plan.profiles === plan.profiles &&
      last.frame === frame
    const made = build(model)
    return {
      ...made,
      plan,
      frame,
      carriages: isSameFrame ? stillTrue(last, made, plan) : new Map<string, Carriage>(),
    }
  },
)

/**
 * More changed ports than this, and following the frames anew is no dearer than finding out what
 * changed.
 */
const MANY_PORTS = 64

/**
 * Carriages that would come out the same: at every port that changed, what they bring there leaves
 * and enters as it did.
 */
function stillTrue(
  before: Kept,
  now: Pick<Wired, 'socketOf'>,
  plan: SitePlan,
): Map<string, Carriage> {
  const changed: string[] = []
  for (const id in plan.ports) if (before.plan.ports[id] !== plan.ports[id]) changed.push(id)
  if (changed.length > MANY_PORTS) return new Map()
  const pairs = changed.map((id) => [before.socketOf(id), now.socketOf(id)] as const)
  const isSame = (c: Carriage): boolean =>
    pairs.every(
      ([was, is]) =>
        c.at(was.deviceId).every((a) => leaves(was, a.inside) === leaves(is, a.inside)) &&
        (!was.peer ||
          c.at(was.peer.deviceId).every((a) => {
            const [came, comes] = [leaves(was.peer!, a.inside), leaves(is.peer!, a.inside)]
            return came === comes && (came === undefined || enters(was, came) === enters(is, came))
          })),
    )
  return new Map([...before.carriages].filter(([, c]) => isSame(c)))
}

function build(model: SiteModel): Pick<Wired, 'sockets' | 'socketOf'> {
  const { segments } = model.plan
  const { blocked } = spanningTreeOf(model)
  const made = new Map<string, WiredSocket>()
  const socketOf = (portId: string): WiredSocket => {
    const known = made.get(portId)
    if (known) return known
    const port = model.port(portId)
    const socket: WiredSocket = {
      portId,
      deviceId: port.deviceId,
      mode: model.profileOf(port.deviceId).vlan,
      isLine: model.profilePortOf(portId).role === 'wan',
      untagged: port.untaggedSegmentId === null ? null : segments[port.untaggedSegmentId]!.vlanId,
      tagged: tagsIn(segments)(port),
      isBlocked: blocked.has(portId),
      peer: null,
    }
    made.set(portId, socket)
    return socket
  }
  const sockets = new Map<string, WiredSocket[]>()
  for (const [deviceId, portIds] of cabledOf(model)) {
    const cabled = portIds.map(socketOf)
    for (const s of cabled) s.peer = socketOf(model.peerOf(s.portId)!.id)
    sockets.set(deviceId, cabled)
  }
  return { sockets, socketOf }
}

/** The VLANs that a port tags. */
const tagsIn = remembered((segments: SitePlan['segments']) =>
  remembered(
    (port: Port): ReadonlySet<number> =>
      new Set(port.taggedSegmentIds.map((id) => inPlan(segments, id).vlanId)),
  ),
)

/** The ports with a cable in them by device, in the order of the housing. */
const cabledOf = selected(
  ({ plan }: SiteModel) => [plan.links, plan.devices, plan.profiles],
  (model) =>
    model.devices.map((d): readonly [string, readonly string[]] => [
      d.id,
      model
        .portsOf(d.id)
        .filter((p) => model.linkAt(p.id))
        .map((p) => p.id),
    ]),
)
