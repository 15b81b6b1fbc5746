/** All that follows from a tunnel as it is planned: sizes, addresses allowed at both ends, keepalive, speed. */
import { parsePrefix } from '../addressing'
import {
  activeTunnels,
  endsOnGateway,
  lineMtuOf,
  own,
  ownTunnelAddress,
  peersOf,
  peerSpace,
  type Peer,
  type SitePlan,
  type Tunnel,
} from '../plan'
import { remembered } from '../remember'
import type { SiteModel } from '../topology'
import { tunnelSize, type TunnelSize } from './carrying/size'
import { ikeOutcome, type IkeOutcome } from './ike/outcome'
import { speedOf, type Limit, type TunnelSpeed } from './carrying/speed'
import { reachedFrom, reaching } from './reach/reach'

/** The usual port (common practice; registered with nobody). */
export const USUAL_PORT = 51_820
/** Translations of UDP are forgotten after 30 s and more (RFC 4787 REQ-5 asks for 2 min): common practice. */
export const KEEPALIVE_S = 25
const EVERYTHING = ['0.0.0.0/0', '::/0'] as const

export interface Callable {
  readonly host: string
  readonly port: number
}
export interface ReckonedPeer {
  readonly peer: Peer
  /** What this end takes from it and sends to it. */
  readonly allowedHere: readonly string[]
  /** What its own file allows, so what it sends through. */
  readonly allowedThere: readonly string[]
  /** Of IKEv2: what comes of both ends. */
  readonly ike: IkeOutcome | null
  /** s; 0 sends none. */
  readonly keepaliveHere: number
  readonly keepaliveThere: number
  /** To it, and from it. */
  readonly down: TunnelSpeed
  readonly up: TunnelSpeed
}
export interface ReckonedTunnel {
  readonly tunnel: Tunnel
  readonly isOnGateway: boolean
  readonly ownAddress: string | null
  readonly size: TunnelSize
  /** Whether the size was typed, and not worked out. */
  readonly isSizeTyped: boolean
  /** Where people and sites call it; null with the reason where nobody can. */
  readonly called: Callable | null
  readonly whyNot: string | null
  readonly peers: readonly ReckonedPeer[]
}

/** Over IPv6 the header is larger; where a name may lead to it, that counts. */
const outerOf = (model: SiteModel, t: Tunnel): 'ipv4' | 'ipv6' =>
  t.kind === 'provider' ||
  (t.endpointName !== null &&
    model.lines.some((u) => typeof u.handOff.ipv6 === 'object' && u.handOff.ipv6 !== null))
    ? 'ipv6'
    : 'ipv4'

function calledAt(model: SiteModel, t: Tunnel): { called: Callable | null; whyNot: string | null } {
  const no = (whyNot: string) => ({ called: null, whyNot })
  if (t.kind === 'provider') return no('it calls its provider')
  // Its first port is the same everywhere (RFC 7296 2).
  const inside = t.protocol === 'ikev2' ? 500 : t.listenPort
  if (inside === null) return no('it has no port of its own: it only calls')
  const forward = Object.values(model.plan.forwards).find(
    (f) =>
      f.deviceId === t.hostDeviceId &&
      f.protocol === 'udp' &&
      inside >= f.inside &&
      inside <= f.inside + f.outside.last - f.outside.first,
  )
  const port = endsOnGateway(model.plan, t)
    ? inside
    : forward
      ? forward.outside.first + inside - forward.inside
      : null
  if (port === null)
    return no(`no port of the line leads to ${own(model.plan.devices, t.hostDeviceId)?.name ?? ''}`)
  const [first] = model.lines.filter((u) => u.portId !== null)
  if (!first) return no('no line is in a socket')
  if (first.handOff.addressKind === 'carrier-grade')
    return no(`${first.name} has no address of its own: its provider translates (RFC 6598)`)
  if (first.handOff.addressKind === 'private' && t.isPassedOn === false)
    return no(`the provider's own router does not pass UDP ${port} on`)
  if (t.endpointName) return { called: { host: t.endpointName, port }, whyNot: null }
  const address = first.handOff.mode === 'fixed' ? first.handOff.address?.split('/')[0] : undefined
  return address && first.handOff.addressKind !== 'private'
    ? { called: { host: address, port }, whyNot: null }
    : no('the address of the line changes, and no name follows it')
}

/** Networks of the plan that a peer sends through, and takes packets from: what it may reach, and who reaches it. */
function sentThrough(
  plan: SitePlan,
  t: Tunnel,
  place: string,
  ownAddress: string | null,
): string[] {
  // Whoever begins from here comes in only where the file names them as well.
  const both = [...reachedFrom(plan, place).map((r) => r.place), ...reaching(plan, place)]
  const reached = both.flatMap((id): string[] => {
    const segment = own(plan.segments, id)
    // Without an address of its own there, nobody asks over IPv6.
    if (segment)
      return [segment.subnet, t.subnet6 ? segment.subnet6 : null].filter((s) => s !== null)
    const address = own(plan.devices, id)?.addressing.address
    return address ? [`${address}/32`] : []
  })
  // Between sites over a hub: what lies behind the others.
  const beside =
    t.kind === 'sites'
      ? peersOf(plan, t.id)
          .filter((p) => p.id !== place)
          .flatMap(peerSpace)
      : []
  return [...new Set([...(ownAddress ? [`${ownAddress}/32`] : []), ...reached, ...beside])]
}

const limit = (what: string, mbps: number | null | undefined): Limit[] =>
  mbps === null || mbps === undefined ? [] : [{ what, mbps }]

const known = remembered<SiteModel, Map<string, ReckonedTunnel>>(() => new Map())
/** Worked out once for a plan: every trace through it asks. */
export function reckonTunnel(model: SiteModel, t: Tunnel): ReckonedTunnel {
  const of = known(model)
  let found = of.get(t.id)
  if (!found) of.set(t.id, (found = reckon(model, t)))
  return found
}

function reckon(model: SiteModel, t: Tunnel): ReckonedTunnel {
  const { plan } = model
  const isOnGateway = endsOnGateway(plan, t)
  const lines = model.lines.filter((u) => u.portId !== null)
  const outer = outerOf(model, t)
  const pathMtu = Math.min(1500, ...lines.map((u) => lineMtuOf(u.handOff)))
  const worked = tunnelSize(pathMtu, outer, t.protocol)
  const size =
    t.mtu === null
      ? worked
      : { ...worked, mtu: t.mtu, segment: { ipv4: t.mtu - 40, ipv6: t.mtu - 60 } }
  const ownAddress = ownTunnelAddress(t)
  const [line] = lines
  const host = own(plan.devices, t.hostDeviceId)
  const encrypts = host ? model.profileOf(host.id).limits.tunnelledMbps : null
  const isTranslated =
    !isOnGateway ||
    lines.some(
      (u) => u.handOff.addressKind === 'carrier-grade' || u.handOff.addressKind === 'private',
    )
  const reckonPeer = (peer: Peer): ReckonedPeer => {
    const isProvider = t.kind === 'provider'
    const ike = t.protocol === 'ikev2' ? ikeOutcome(t, peer) : null
    const isHeld = peer.networks.length > 0 || reaching(plan, peer.id).length > 0
    const handheld = peer.device === 'phone' || peer.device === 'tablet'
    const devices = [
      ...limit(`${host?.name ?? 'this end'} encrypts`, encrypts),
      ...limit(`${peer.name} encrypts`, peer.deviceMbps),
    ]
    const speed = (
      here: number | null | undefined,
      hereWords: string,
      there: number | null,
      thereWords: string,
    ) =>
      speedOf(
        [
          ...limit(`${line?.name ?? 'the line'} ${hereWords}`, here),
          ...limit(`${peer.name} ${thereWords}`, there),
        ],
        devices,
        size.mtu,
        outer,
      )
    return {
      peer,
      ike,
      ...(ike
        ? { allowedHere: ike.isUp ? ike.there : [], allowedThere: ike.isUp ? ike.here : [] }
        : {
            allowedHere: isProvider ? EVERYTHING : peerSpace(peer),
            allowedThere: isProvider
              ? []
              : peer.isFull
                ? EVERYTHING
                : sentThrough(plan, t, peer.id, ownAddress),
          }),
      // Whoever is called from behind a translation has to be reminded of the way back.
      keepaliveHere:
        peer.endpoint && (isTranslated || isProvider) ? (peer.keepaliveSeconds ?? KEEPALIVE_S) : 0,
      keepaliveThere: peer.endpoint
        ? 0
        : (peer.keepaliveSeconds ?? (isHeld || !handheld ? KEEPALIVE_S : 0)),
      down: isProvider
        ? speed(line?.handOff.downMbps, 'down', null, '')
        : speed(line?.handOff.upMbps, 'up', peer.downMbps, 'down'),
      up: isProvider
        ? speed(line?.handOff.upMbps, 'up', null, '')
        : speed(line?.handOff.downMbps, 'down', peer.upMbps, 'up'),
    }
  }
  return {
    tunnel: t,
    isOnGateway,
    ownAddress,
    size,
    isSizeTyped: t.mtu !== null,
    ...calledAt(model, t),
    peers: peersOf(plan, t.id).map(reckonPeer),
  }
}

export const reckonedTunnels = (model: SiteModel): ReckonedTunnel[] =>
  activeTunnels(model.plan).map((t) => reckonTunnel(model, t))

/** With the length of the tunnel's network, as an interface has it. */
export function ownWithLength({ tunnel, ownAddress }: ReckonedTunnel): string | null {
  const length = tunnel.subnet ? parsePrefix(tunnel.subnet)?.length : undefined
  return ownAddress && length !== undefined ? `${ownAddress}/${length}` : null
}
