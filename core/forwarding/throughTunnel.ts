/**
 * The fate of a connection that begins or ends at the other end of a tunnel: what its file sends
 * through, whether the tunnel comes up at all, then the rules, and back what this end sends to it.
 */
import { liesIn } from '../addressing'
import {
  addressBehind,
  MANAGED,
  own,
  tunnelOf,
  type Peer,
  type Service,
  type Tunnel,
} from '../plan'
import { compilePolicy, rulesBetween, type Family } from '../policy'
import type { SiteModel } from '../topology'
import { reckonTunnel, type ReckonedPeer, type ReckonedTunnel } from '../tunnels/reckoned'
import { decided, placeOf } from './decided'
import { Lost, type Endpoint, type Located, type Trace, type TraceHop } from './fate'
import { locate, lostOnCable, needsWayOut } from './locate'
import { arriveFromLine, leaveByLine, leaveSegment, lineHop, routeHop, walk, waysOf } from './way'

interface At {
  readonly tunnel: Tunnel
  readonly peer: Peer
  readonly reckoned: ReckonedTunnel
  readonly own: ReckonedPeer
}

function tunnelAt(model: SiteModel, peerId: string): At {
  const peer = own(model.plan.peers, peerId)
  const tunnel = peer && tunnelOf(model.plan, peerId)
  if (!peer || !tunnel)
    throw new Lost({ kind: 'address', id: peerId, text: `there is no peer '${peerId}'` }, 'broken')
  const reckoned = reckonTunnel(model, tunnel)
  return { tunnel, peer, reckoned, own: reckoned.peers.find((p) => p.peer.id === peerId)! }
}
const lost = (id: string, text: string): Lost => new Lost({ kind: 'tunnel', id, text }, 'broken')

/** Stands for everybody on the internet (RFC 5737). */
const ANYBODY = '192.0.2.1'

/** What keeps the two ends from shaking hands. */
function mustComeUp({ tunnel, peer, reckoned, own }: At): void {
  if (!tunnel.isActive) throw lost(tunnel.id, `${tunnel.name} is switched off`)
  if (own.ike) {
    if (!own.ike.isUp) throw lost(tunnel.id, own.ike.why)
  } else {
    if (!tunnel.publicKey) throw lost(tunnel.id, `${tunnel.name} has no key yet`)
    if (!peer.publicKey) throw lost(peer.id, `the public key of ${peer.name} is not here yet`)
    if (!peer.address) throw lost(peer.id, `${peer.name} has no address in the tunnel`)
  }
  if (!peer.endpoint && !reckoned.called)
    throw lost(tunnel.id, `${peer.name} cannot call: ${reckoned.whyNot}`)
}

/** As whom it is seen here: itself, or what lies behind it where the tunnel has no addresses of its own. */
const innerOf = ({ peer, own }: At): string | null => (own.ike ? addressBehind(peer) : peer.address)

/** IKEv2 carries what both ends name, whatever rules and routes say. */
function mustBeNamed({ tunnel, peer, own }: At, here: string | null, there: string | null): void {
  if (!own.ike?.isUp) return
  if (!liesIn(own.ike.here, here))
    throw lost(tunnel.id, `${here ?? 'it'} is not among what both ends of ${tunnel.name} name`)
  if (!liesIn(own.ike.there, there))
    throw lost(peer.id, `${there ?? 'it'} is not among what both ends of ${tunnel.name} name`)
}

function addressOf(at: Located): string | null {
  return at.device?.addressing.address ?? at.segment.gateway
}

export function throughTunnel(
  model: SiteModel,
  from: Endpoint,
  to: Exclude<Endpoint, { kind: 'forward' }>,
  service: Pick<Service, 'protocol' | 'ports'>,
  family: Family,
  minute: number | null,
  dead: ReadonlySet<string>,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  const source = from.kind === 'peer' ? tunnelAt(model, from.id) : undefined
  const target = to.kind === 'peer' ? tunnelAt(model, to.id) : undefined
  const gateway = model.gateway
  if (!gateway)
    throw new Lost({ kind: 'route', id: 'no-gateway', text: 'the plan has no gateway' }, 'broken')
  if (family === 'ipv6' && [source, target].some((t) => t && !t.tunnel.subnet6))
    throw lost((source ?? target)!.tunnel.id, `${(source ?? target)!.tunnel.name} carries no IPv6`)
  const set = compilePolicy(model.plan)

  let fromPlace: string
  let asking: Located | undefined
  if (source) {
    fromPlace = source.peer.id
    hops.push({ layer: 'host', text: `${source.peer.name} asks` })
    mustComeUp(source)
  } else {
    if (from.kind !== 'device' && from.kind !== 'segment')
      throw new Lost(
        { kind: 'route', id: 'outside', text: 'from outside nobody is let into a tunnel' },
        'blocked',
      )
    asking = locate(model, from, hops, 'source')
    fromPlace = placeOf(asking)
    leaveSegment(model, asking, family, hops)
  }

  let answering: Located | undefined
  let toPlace: string
  if (target) {
    mustComeUp(target)
    toPlace = target.peer.id
  } else if (to.kind === 'gateway') toPlace = MANAGED
  else if (to.kind === 'device' || to.kind === 'segment') {
    answering = locate(model, to, undefined, 'target')
    toPlace = placeOf(answering)
    if (family === 'ipv4') needsWayOut(answering)
  } else toPlace = 'internet'

  if (source) {
    const address =
      to.kind === 'gateway'
        ? source.reckoned.ownAddress
        : target
          ? innerOf(target)
          : answering
            ? addressOf(answering)
            : ANYBODY
    if (!address || !liesIn(source.own.allowedThere, address)) {
      if (toPlace === 'internet')
        throw new Lost(
          {
            kind: 'tunnel',
            id: source.peer.id,
            text: `${source.peer.name} sends only what is here through the tunnel: it leaves by its own line`,
          },
          'broken',
        )
      throw lost(
        source.peer.id,
        `the file of ${source.peer.name} does not send ${address ?? 'it'} through the tunnel`,
      )
    }
    mustBeNamed(source, address, innerOf(source))
    if (!source.peer.endpoint) arriveFromLine(model, dead, hops)
    hops.push({
      layer: 'tunnel',
      text: `out of ${source.tunnel.name} as ${innerOf(source)}`,
      ...(source.reckoned.isOnGateway
        ? { deviceId: gateway.id }
        : { deviceId: source.tunnel.hostDeviceId }),
    })
  }

  // Between a tunnel that ends on a host, and that host's own neighbours, no gateway stands.
  const zone = set.zoneOf(fromPlace)
  if (zone === set.zoneOf(toPlace) && !own(model.plan.tunnels, zone)) {
    hops.push({
      layer: 'route',
      deviceId: (source ?? target)!.tunnel.hostDeviceId,
      text: 'it never passes the gateway: no rule of the site decides',
    })
    return {
      verdict: 'delivered',
      decidedBy: {
        kind: 'tunnel',
        id: (source ?? target)!.tunnel.id,
        text: 'it never passes the gateway',
      },
    }
  }
  const rule = decided(rulesBetween(set, fromPlace, toPlace, family), service, minute)
  if (target)
    hops.push({
      layer: 'route',
      deviceId: gateway.id,
      text: `${innerOf(target)} is behind ${target.tunnel.name}`,
    })
  else if (to.kind === 'gateway')
    hops.push({ layer: 'route', deviceId: gateway.id, text: 'the address is the gateway itself' })
  else if (answering) hops.push(routeHop(model, gateway.id, answering, family))
  const ways = toPlace === 'internet' ? waysOf(model, undefined, service, family, dead) : undefined
  if (ways) hops.push(lineHop(model, gateway.id, to, ways[0].line))
  hops.push({
    layer: 'rule',
    deviceId: gateway.id,
    ruleId: rule.id,
    text: `${rule.verdict === 'accept' ? 'let through' : 'dropped'}: ${rule.text}`,
  })
  if (rule.verdict === 'drop')
    throw new Lost({ kind: 'rule', id: rule.id, text: rule.text }, 'blocked')
  if (ways) leaveByLine(model, undefined, family, ways, hops)
  else if (answering) {
    if (answering.arrival) walk(model, answering.arrival, hops, 'down')
    else if (answering.device) throw lostOnCable(model, { ...answering })
    if (answering.device)
      hops.push({
        layer: 'host',
        deviceId: answering.device.id,
        text: `${answering.device.name} answers`,
      })
  } else if (target) {
    mustBeNamed(
      target,
      asking ? addressOf(asking) : ((source && innerOf(source)) ?? null),
      innerOf(target),
    )
    hops.push({ layer: 'tunnel', text: `into ${target.tunnel.name} to ${target.peer.name}` })
    hops.push({ layer: 'host', text: `${target.peer.name} answers` })
  }
  return { verdict: 'delivered', decidedBy: { kind: 'rule', id: rule.id, text: rule.text } }
}
