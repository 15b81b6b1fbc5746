/**
 * Each tunnel from inside and from outside: the handshake, what its peers reach and what they must
 * not, the largest packet, a long silence, and who comes out of a tunnel to a provider.
 */
import { liesIn } from '../addressing'
import {
  addressBehind,
  intentsInOrder,
  MANAGED,
  own,
  tellingPorts,
  type Device,
  type Service,
} from '../plan'
import type { Probe } from '@mast/protocol'
import { targetIn, type ProofBuilder, type Verdict } from '../proof/builder'
import type { ProofTest } from '../proof/proofTest'
import { reckonedTunnels, type ReckonedPeer, type ReckonedTunnel } from './reckoned'

/** Of one tunnel; of more, the others are asked for their handshake alone. */
const MOST_ASKED = 40
/** Of the others behind a hub, each asks so many. */
const MOST_OTHERS = 3
/** Longer than translations of addresses remember a quiet way (RFC 4787 REQ-5 asks for 2 min), s. */
const SILENCE_S = 300
const PAGE = 443

interface Of {
  readonly proof: ProofBuilder
  readonly r: ReckonedTunnel
  readonly p: ReckonedPeer
}
type More = Partial<ProofTest> & Pick<ProofTest, 'title' | 'because'>

/** What the plan says of it makes both ends find each other; where it does not, findings tell why. */
const comesUp = (
  { tunnel, called, isOnGateway }: ReckonedTunnel,
  { peer, ike }: ReckonedPeer,
): boolean =>
  (ike
    ? // The daemon of a host is not asked by anybody.
      ike.isUp && isOnGateway && tunnel.kind === 'sites' && addressBehind(peer) !== null
    : tunnel.publicKey !== null &&
      peer.publicKey !== null &&
      (tunnel.kind === 'provider' ? tunnel.subnet !== null : peer.address !== null)) &&
  (peer.endpoint !== null || called !== null)

export function tunnelTests(proof: ProofBuilder): void {
  for (const r of reckonedTunnels(proof.model)) {
    // What ends on a host is asked from outside as well, but its neighbours are not behind a rule.
    const peers = r.peers.filter((p) => comesUp(r, p))
    for (const [n, p] of peers.entries()) {
      const of = { proof, r, p }
      handshakes(of)
      if (n >= MOST_ASKED) continue
      if (r.tunnel.kind === 'provider') continue
      reaches(of)
      itsOwnEnd(of)
      leaves(of)
      isReached(of)
      reachesOthers(of, peers)
    }
    const [server] = peers
    if (r.tunnel.kind === 'provider' && server) provided({ proof, r, p: server })
  }
}

function add(
  { proof, r, p }: Of,
  key: string,
  probe: Parameters<ProofBuilder['add']>[1] & object,
  more: More,
  from: string = p.peer.id,
): void {
  proof.add(
    {
      id: `${from}:${key}`,
      kind: probe.kind,
      from,
      fromPlace: r.tunnel.id,
      toPlace: 'gateway',
      expected: 'works',
      ...more,
    },
    probe,
  )
}

function handshakes(of: Of): void {
  const { proof, r, p } = of
  const { tunnel } = r
  const because =
    p.peer.endpoint === null
      ? `it calls ${r.called?.host ?? ''}, UDP ${r.called?.port ?? ''}`
      : `it is called at ${p.peer.endpoint.host}, UDP ${p.peer.endpoint.port}`
  add(
    of,
    `tunnel:${tunnel.id}`,
    { kind: 'handshake', target: null, port: null },
    { title: `${p.peer.name} and ${tunnel.name} shake hands, from outside`, because },
  )
  const near = proof.asking.find((h) => !h.wirelessNetworkId && proof.segmentOf(h).gateway)
  if (tunnel.kind === 'people' && r.isOnGateway && near && tunnel.listenPort !== null)
    add(
      of,
      `tunnel:${tunnel.id}:inside`,
      { kind: 'handshake', target: null, port: tunnel.listenPort, inside: near.id },
      {
        title: `${p.peer.name} and ${tunnel.name} shake hands, inside at ${near.name}`,
        because: 'inside it shows keys and addresses, and nothing of the port or a forward',
      },
    )
}

/** What it reaches in each segment, and what it must not. */
function reaches(of: Of): void {
  const { proof, r, p } = of
  const host = own(proof.model.plan.devices, r.tunnel.hostDeviceId)
  for (const s of proof.model.segments) {
    // A host's own neighbours answer past the gateway.
    if (!r.isOnGateway && s.id === host?.addressing.segmentId) continue
    const here = proof.hosts.filter((h) => h.addressing.segmentId === s.id)
    const named = here.flatMap((h) => {
      const services = namedFor(of, h.id)
      return services.length > 0 ? [{ target: h, services }] : []
    })
    const telling = targetIn(here)
    const all = telling ? [{ target: telling, services: proof.offeredBy(telling) }, ...named] : []
    for (const { target, services } of all) {
      const sent =
        liesIn(p.allowedThere, target.addressing.address ?? s.gateway) &&
        (!p.ike || liesIn(p.allowedHere, addressBehind(p.peer)))
      for (const { id, name, protocol, ports } of services) {
        if (protocol !== 'tcp' && protocol !== 'udp' && protocol !== 'icmp') continue
        const [port = null] = tellingPorts(ports, [])
        asks(of, target, id, name, s.id, sent, {
          kind: protocol === 'icmp' ? 'ping' : protocol,
          port,
          verdict: proof.decide(p.peer.id, target.id, protocol, port),
        })
      }
    }
  }
}

/** What is said of it and one host by name, as far as that host answers to it. */
function namedFor({ proof, r, p }: Of, deviceId: string): Service[] {
  const { plan } = proof.model
  const device = proof.model.device(deviceId)
  return intentsInOrder(plan).flatMap((i) => {
    if (i.to !== deviceId || (i.from !== p.peer.id && i.from !== r.tunnel.id)) return []
    const service = own(plan.services, i.service)
    const isController =
      plan.controller.hostDeviceId === deviceId &&
      service?.protocol === 'tcp' &&
      tellingPorts(service.ports, []).includes(plan.controller.port)
    return service && (isController || device.serviceIds.includes(service.id)) ? [service] : []
  })
}

function asks(
  of: Of,
  target: Device,
  key: string,
  what: string,
  toPlace: string,
  isSentThrough: boolean,
  ask: { kind: 'ping' | 'tcp' | 'udp'; port: number | null; verdict: Verdict },
): void {
  const { proof, p } = of
  const { allowed, hours, rule } = ask.verdict
  const can = (allowed || hours !== null) && isSentThrough
  add(
    of,
    `${target.id}:${key}`,
    { kind: ask.kind, target: { kind: 'host', deviceId: target.id }, port: ask.port },
    {
      title: `${p.peer.name} ${can ? 'reaches' : 'must not reach'} ${what} on ${target.name}`,
      toPlace,
      expected: can ? 'works' : 'blocked',
      hours: can && hours ? { spans: hours, timeZone: proof.model.plan.site.timeZone } : null,
      because: isSentThrough
        ? rule.text
        : p.ike
          ? 'both ends do not name it'
          : 'its file does not send it through the tunnel',
    },
  )
}

/** The gateway by its address in the tunnel: small, and as large as the tunnel carries. */
function itsOwnEnd(of: Of): void {
  const { proof, r, p } = of
  if (!r.ownAddress || !r.isOnGateway) return
  const decided = proof.decide(p.peer.id, MANAGED, 'icmp', null)
  const target = { kind: 'address' as const, address: r.ownAddress }
  const sent = liesIn(p.allowedThere, r.ownAddress)
  if (!decided.allowed || !sent) return
  const because = decided.rule.text
  add(
    of,
    'end',
    { kind: 'ping', target, port: null },
    { title: `${p.peer.name} reaches ${r.ownAddress}, this end of ${r.tunnel.name}`, because },
  )
  add(
    of,
    'largest',
    { kind: 'ping', target, port: null, octets: r.size.mtu },
    {
      title: `A packet of ${r.size.mtu} octets passes ${r.tunnel.name} whole, sent by ${p.peer.name}`,
      because: `${r.tunnel.name} has an MTU of ${r.size.mtu}`,
    },
  )
  const names = proof.decide(p.peer.id, MANAGED, 'udp', 53)
  if (r.tunnel.kind === 'people' && r.tunnel.nameServers.length === 0 && proof.model.wayOut)
    add(
      of,
      'name',
      { kind: 'name', target: null, port: null },
      {
        title: `${p.peer.name} ${names.allowed ? 'asks' : 'must not ask'} the gateway for names, through the tunnel`,
        expected: names.allowed ? 'works' : 'blocked',
        because: names.rule.text,
      },
    )
}

/** All of its traffic, or its own line. */
function leaves(of: Of): void {
  const { proof, p } = of
  if (p.peer.networks.length > 0) return
  const { peer } = p
  if (!peer.isFull) {
    add(
      of,
      'exit',
      { kind: 'exit', target: { kind: 'internet' }, port: PAGE, exit: peer.id },
      {
        title: `${peer.name} goes to the internet by its own line`,
        toPlace: 'internet',
        because: 'its file sends only what is here through the tunnel',
      },
    )
    return
  }
  const decided = proof.decide(peer.id, 'internet', 'tcp', PAGE)
  add(
    of,
    'exit',
    decided.allowed
      ? { kind: 'exit', target: { kind: 'internet' }, port: PAGE, exit: 'line' }
      : { kind: 'tcp', target: { kind: 'internet' }, port: PAGE },
    {
      title: decided.allowed
        ? `${peer.name} goes to the internet through the tunnel, by the line of the site`
        : `${peer.name} must not go to the internet through the tunnel`,
      toPlace: 'internet',
      expected: decided.allowed ? 'works' : 'blocked',
      because: decided.rule.text,
    },
  )
}

/** What lies behind it, by its first address there, or itself. */
function targetAt(peer: ReckonedPeer['peer']): NonNullable<Probe['target']> {
  const address = peer.networks.length > 0 ? addressBehind(peer) : null
  return address ? { kind: 'address', address } : { kind: 'peer', peerId: peer.id }
}

/** Over a hub: what lies behind the other ends. */
function reachesOthers(of: Of, peers: readonly ReckonedPeer[]): void {
  const { proof, r, p } = of
  if (r.tunnel.kind !== 'sites' || p.ike) return
  for (const other of peers.filter((o) => o !== p).slice(0, MOST_OTHERS)) {
    const target = targetAt(other.peer)
    const decided = proof.decide(p.peer.id, other.peer.id, 'icmp', null)
    const held = other.keepaliveThere > 0 || other.keepaliveHere > 0
    const sent = target.kind !== 'address' || liesIn(p.allowedThere, target.address)
    if (!held || !sent || decided.hours !== null) continue
    const verb = decided.allowed ? 'reaches' : 'must not reach'
    add(
      of,
      `beside ${other.peer.id}`,
      { kind: 'ping', target, port: null },
      {
        title: `${p.peer.name} ${verb} ${other.peer.name}, over ${r.tunnel.name}`,
        toPlace: r.tunnel.id,
        expected: decided.allowed ? 'works' : 'blocked',
        because: decided.rule.text,
      },
    )
  }
}

/** Who inside begins towards it, and whether the way stays open. */
function isReached(of: Of): void {
  const { proof, r, p } = of
  const { peer } = p
  if (!r.isOnGateway) return
  const target = targetAt(peer)
  // The daemons of IKEv2 look for each other by themselves (RFC 7296 2.4).
  const isHeldOpen = p.ike !== null || p.keepaliveThere > 0 || p.keepaliveHere > 0
  const toPlace = r.tunnel.id
  // Which of its addresses the gateway would ask with, and whether both ends name that, is its own affair.
  if (isHeldOpen && !p.ike) {
    add(
      of,
      `peer ${peer.id}:ping`,
      { kind: 'ping', target, port: null },
      {
        title: `${peer.name} answers in the tunnel, asked by the gateway`,
        fromPlace: 'gateway',
        toPlace,
        because: 'the gateway itself may ask',
      },
      'gateway',
    )
    add(
      of,
      `peer ${peer.id}:silence`,
      { kind: 'ping', target, port: null, idleSeconds: SILENCE_S },
      {
        title: `${peer.name} answers after ${SILENCE_S / 60} min of silence, asked by the gateway`,
        fromPlace: 'gateway',
        toPlace,
        because: `it keeps the way open every ${p.keepaliveThere || p.keepaliveHere} s`,
      },
      'gateway',
    )
  }
  const isNamedThere = !p.ike || liesIn(p.allowedHere, addressBehind(peer))
  for (const h of proof.asking) {
    const decided = proof.decide(h.id, peer.id, 'icmp', null)
    const can = (decided.allowed || decided.hours !== null) && isHeldOpen
    if (!can && (decided.allowed || decided.hours !== null)) continue
    if (!can && !isHeldOpen) continue
    if (!liesIn(p.allowedThere, h.addressing.address ?? proof.segmentOf(h).gateway) && can) continue
    if (can && !isNamedThere) continue
    proof.push(h, `peer ${peer.id}:ping`, `${peer.name} in the tunnel`, toPlace, decided, {
      kind: 'ping',
      target,
      port: null,
    })
  }
}

/** This one comes out there, that one does not; and what becomes of it while the server is off. */
function provided(of: Of): void {
  const { proof, r, p } = of
  const { tunnel } = r
  const { plan } = proof.model
  const through = new Set(tunnel.throughIds)
  const goes = (h: Device): boolean => through.has(h.id) || through.has(h.addressing.segmentId!)
  const mayLeave = (h: Device): boolean => proof.decide(h.id, 'internet', 'tcp', PAGE).allowed
  // Others of the same kind may hold it instead.
  const others = new Set(
    Object.values(plan.tunnels).flatMap((t) =>
      t.id !== tunnel.id && t.isActive && t.kind === 'provider' ? t.throughIds : [],
    ),
  )
  const isOthers = (h: Device): boolean =>
    others.has(h.id) || others.has(h.addressing.segmentId ?? '')
  const hosts = [
    ...proof.hosts.filter((h) => through.has(h.id)),
    ...proof.asking.filter((h) => through.has(h.addressing.segmentId!)),
  ]
  const internet = { target: { kind: 'internet' as const }, port: PAGE }
  for (const h of new Set(hosts)) {
    const because = `${h.name} goes through ${tunnel.name}`
    const base = { fromPlace: h.addressing.segmentId!, toPlace: 'internet' as const, because }
    if (!mayLeave(h)) continue
    add(
      of,
      `exit:${tunnel.id}`,
      { kind: 'exit', ...internet, exit: p.peer.id },
      { ...base, title: `${h.name} comes out at ${p.peer.name}` },
      h.id,
    )
    const isBlocked = tunnel.whenDown === 'blocked'
    add(
      of,
      `exit:${tunnel.id}:down`,
      isBlocked
        ? { kind: 'tcp', ...internet, without: p.peer.id }
        : { kind: 'exit', ...internet, exit: 'line', without: p.peer.id },
      {
        ...base,
        title: isBlocked
          ? `${h.name} reaches nothing outside while ${p.peer.name} is off`
          : `${h.name} goes out directly while ${p.peer.name} is off`,
        expected: isBlocked ? 'blocked' : 'works',
        because: `while ${tunnel.name} is down it is ${isBlocked ? 'held back' : 'let out directly'}`,
      },
      h.id,
    )
  }
  const other = proof.asking.find((h) => !goes(h) && !isOthers(h) && mayLeave(h))
  if (other)
    add(
      of,
      `exit:direct`,
      { kind: 'exit', ...internet, exit: 'line' },
      {
        title: `${other.name} comes out by the line, and not at ${p.peer.name}`,
        fromPlace: other.addressing.segmentId!,
        toPlace: 'internet',
        because: `it does not go through ${tunnel.name}`,
      },
      other.id,
    )
}
