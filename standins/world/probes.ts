/** What one host sees when it tries something. */
import type { Observation, Probe } from '@mast/protocol'
import { IN_HAND_M } from '../air/air'
import { sharingWith } from '../air/radios'
import { throughputMbps } from '../air/throughput'
import { Appliance } from '../devices/appliance'
import { HostBox } from '../devices/hostBox'
import { INTERNET_HOST, INTERNET_NAME } from '../outside/places'
import { toNumber, toText } from '../frames/frame'
import type { Endpoint } from '../net/endpoint'
import { throughExtender } from './extenders'
import type { SeenFrom } from '../outside/outside'
import type { PeerBox } from '../outside/peerBox'
import { IKE_PORT } from '../tunnels/ikeEnd'
import type { World } from './world'

/** How long to wait before looking again whether a host has started, s. */
const STARTING_SECONDS = 5
/** How long somebody waits for a handshake, s. */
const HANDSHAKE_SECONDS = 20
/** A second server may be slower than the first, s. */
const OTHERS_SECONDS = 3

type Finish = (
  outcome: Observation['outcome'],
  detail: string,
  reading?: Observation['reading'],
) => void

export function runProbe(world: World, probe: Probe): Promise<Observation> {
  return new Promise((resolve) => {
    const outside =
      probe.from === 'internet'
        ? world.internet
        : probe.from === 'gateway'
          ? world.gateway?.endpoint
          : undefined
    const peer = outside ? undefined : world.outside.peers.get(probe.from)
    const box = outside || peer ? undefined : world.boxes.get(probe.from)
    const host = box instanceof HostBox ? box : undefined
    const began = world.queue.now
    const finish: Finish = (outcome, detail, reading) => {
      const address = host?.host.address ?? null
      resolve({
        ...(peer ? { tunnel: howFar(world, peer, probe, began) } : {}),
        id: probe.id,
        outcome,
        detail,
        ...(reading ? { reading } : {}),
        address: address === null ? null : toText(address),
        servers:
          probe.kind === 'lease' && host ? [...host.host.dhcp.offered].map(toText).sort() : [],
        atSeconds: world.queue.now,
        epochSeconds: Math.floor(world.epochNow),
      })
    }
    // In virtual time, so that the outcome does not depend on when the question came in.
    const attempt = (): void => {
      if (probe.kind === 'bridge') return bridge(world, probe, finish)
      if (peer && probe.kind === 'handshake') return handshake(world, peer, finish)
      if (!outside && !host && !peer) return finish('off', 'this host cannot be asked')
      if (host && !host.powered) return finish('off', 'it has no power')
      if (host && !host.ready) {
        world.queue.after(STARTING_SECONDS, attempt)
        return
      }
      if (probe.kind === 'lease') return lease(world, host!, finish)
      if (probe.kind === 'air') return read(world, probe, finish)
      if (host && probe.kind !== 'page') world.onAir.passPage(host)
      if (host && host.host.address === null)
        return finish('no-address', 'the asking host has no address')
      const endpoint = host ? host.host.endpoint : (peer?.endpoint ?? outside!)
      if (probe.kind === 'page') return page(world, host!, probe, finish)
      if (probe.kind === 'name')
        return name(host?.host.nameServer ?? peer?.truth.nameServer ?? null, endpoint, finish)
      if (probe.kind === 'exit') return exit(world, probe, endpoint, finish)
      const target = targetOf(world, probe, host)
      if (target === null) return finish('no-address', 'the asked host has no address')
      const done = (answer: 'works' | 'no-answer' | 'refused' | 'too-big'): void =>
        finish(answer, toText(target))
      if (probe.kind === 'ping') endpoint.ping(target, done, probe.octets ?? undefined)
      else if (probe.kind === 'udp') endpoint.question(target, probe.port ?? 53, done)
      else endpoint.connect(target, probe.port ?? 80, done)
    }
    world.queue.after(0, attempt)
  })
}

function lease(world: World, host: HostBox, finish: Finish): void {
  if (!host.socket.up)
    return finish('no-lease', host.setup.radio ? 'no network to join' : 'no signal on its cable')
  host.host.dhcp.renew((got) => {
    if (!got) {
      finish('no-lease', 'nobody answered')
      return
    }
    world.queue.after(OTHERS_SECONDS, () => finish('works', toText(got.address)))
  })
}

/** At a spot, a host reads how well it hears whom it joins there, and how fast that is. */
function read(world: World, { from, spot }: Probe, finish: Finish): void {
  if (!spot) return finish('off', 'nobody said where')
  const { floorId, x, y } = spot
  // Only looked at: whatever else is tried with it goes on.
  const [best] = world.onAir.hears(from, { floorId, x, y, heightM: IN_HAND_M })
  if (!best) return finish('too-weak', 'nothing is heard there that lets it in')
  const { radio, dbm } = best
  const device = world.plan.devices[from]!
  const streams = Math.min(
    radio.streams,
    ...world.plan.profiles[device.profileId]!.air.map((r) => r.streams),
  )
  const { air, radios } = world.onAir
  const direct = throughputMbps(
    dbm,
    Math.min(radio.widthMhz, 80),
    streams,
    sharingWith(air, radios, radio),
  )
  const extender = world.onAir.extenderOf(radio.deviceId)
  const mbps = extender ? throughExtender(extender, air, radios, direct) : direct
  finish(
    dbm >= spot.leastDbm && mbps >= spot.leastMbps ? 'works' : 'too-weak',
    `${dbm.toFixed(1)} dBm of ${world.plan.devices[radio.deviceId]!.name} in ` +
      `${radio.sending.band} GHz, ${mbps.toFixed(1)} Mbit/s`,
    { deviceId: radio.deviceId, dbm, mbps },
  )
}

/** At a unit: what it reads of its other end, and how fast that is. */
function bridge(world: World, { from, bridge: asked }: Probe, finish: Finish): void {
  const now = asked && world.bridges.now(asked.bridgeId)
  if (!asked || !now) return finish('off', 'there is no such bridge here')
  if (!world.boxes.get(from)?.powered) return finish('off', 'it has no power')
  const dbm = asked.end === 'a' ? now.atA : now.atB
  const mbps = asked.end === 'a' ? now.toA : now.toB
  if (dbm === null) return finish('too-weak', `nothing is read: ${now.why}`)
  const isMet = now.isUp && dbm >= asked.leastDbm && mbps >= asked.leastMbps
  finish(
    isMet ? 'works' : 'too-weak',
    `${dbm.toFixed(1)} dBm, ${mbps.toFixed(0)} Mbit/s on the air${now.isUp ? '' : `: ${now.why}`}`,
    { deviceId: from, dbm, mbps },
  )
}

/** As a guest who comes for the first time: out, the page, and out again. */
function page(world: World, host: HostBox, { sessionMinutes }: Probe, finish: Finish): void {
  const { radio, mac } = host.setup
  if (!radio) return finish('off', 'it is on no network with a page')
  world.guests.forget(radio.networkName, mac)
  host.host.endpoint.ping(INTERNET_HOST, (before) => {
    if (before === 'works') return finish('not-held', 'let through before the page was passed')
    const minutes = world.onAir.passPage(host)
    if (minutes === undefined) return finish('not-held', 'no page is shown')
    if (minutes === null) return finish('refused', 'the page refuses the password')
    host.host.endpoint.ping(INTERNET_HOST, (after) => {
      if (after !== 'works') finish(after, 'held back though the page was passed')
      else if (minutes !== sessionMinutes)
        finish('other-session', `let through for ${minutes} min instead of ${sessionMinutes}`)
      else finish('works', `held back, then let through for ${minutes} min`)
    })
  })
}

/** Whether a session stands with the end here, or comes to stand. */
function handshake(world: World, peer: PeerBox, finish: Finish): void {
  const until = world.queue.now + HANDSHAKE_SECONDS
  peer.call()
  const look = (): void => {
    if (peer.isUp) finish('works', 'a session stands')
    else if (world.queue.now >= until) finish('no-handshake', 'no handshake')
    else world.queue.after(1, look)
  }
  look()
}

/** How far the calls of a peer come, as a look at the lines and at the log of this end shows. */
export function howFar(
  world: World,
  peer: PeerBox,
  probe: Probe,
  began: number,
): NonNullable<Observation['tunnel']> {
  const called = peer.callsAt
  const tunnelId = world.plan.peers[peer.truth.id]!.tunnelId
  const { listenPort, protocol } = world.plan.tunnels[tunnelId]!
  const port = protocol === 'ikev2' ? IKE_PORT : listenPort
  const isAtLine =
    port !== null &&
    [...world.providers.values()].some((p) => (p.arrivedAt.get(port) ?? -1) >= began)
  const end =
    world.gateway?.tunnels.end(`tunnel:${tunnelId}`) ??
    world.host(world.plan.tunnels[tunnelId]!.hostDeviceId)?.tunnels.end(tunnelId)
  const isAtEnd = end !== undefined && (peer.isUp || end.refusedAt >= began)
  const target = targetOf(world, probe, undefined)
  const here = [...world.providers.values()].find((p) => p.socket.up)
  return {
    called: called === null ? null : toText(called),
    here: here ? toText(here.outsideAddress) : null,
    arrived: isAtEnd ? 'end' : isAtLine ? 'line' : 'nowhere',
    isSentThrough: target === null || peer.sends(target),
    refusal: peer.refusal,
  }
}

/** From where the internet sees who asks. */
function exit(world: World, probe: Probe, endpoint: Endpoint, finish: Finish): void {
  endpoint.connect(
    INTERNET_HOST,
    443,
    (answer, reply) => {
      if (answer !== 'works') return finish(answer, 'the internet does not answer')
      const { address } = reply as SeenFrom
      const isThere = world.outside.isOf(address, probe.exit ?? 'line')
      finish(isThere ? 'works' : 'elsewhere', address)
    },
    {},
  )
}

function name(server: number | null, endpoint: Endpoint, finish: Finish): void {
  if (server === null) return finish('no-name', 'no name server is known')
  endpoint.resolve(server, INTERNET_NAME, (a) =>
    a === null ? finish('no-name', `${INTERNET_NAME} was not found`) : finish('works', toText(a)),
  )
}

function targetOf(world: World, probe: Probe, host: HostBox | undefined): number | null {
  switch (probe.target?.kind) {
    case 'host': {
      const box = world.boxes.get(probe.target.deviceId)
      return box instanceof HostBox
        ? box.host.address
        : box instanceof Appliance
          ? box.address
          : null
    }
    case 'peer':
      return world.outside.peers.get(probe.target.peerId)?.truth.inner ?? null
    case 'address':
      return toNumber(probe.target.address)
    case 'own-gateway':
      return host?.host.gateway ?? null
    case 'internet':
      return INTERNET_HOST
    case 'line':
      return world.lineAddress
    case undefined:
      return null
  }
}
