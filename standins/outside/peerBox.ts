/**
 * The other end of a tunnel, somewhere outside: a person's device at home or on the road, another
 * site, the server of a provider. It has a line of its own, mostly behind a router that translates.
 */
import type { EventQueue } from '../clock/eventQueue'
import {
  isAddress,
  octetsOf,
  sameNetwork,
  toNumber,
  type Ike,
  type Packet,
  type Sealed,
} from '../frames/frame'
import { Endpoint } from '../net/endpoint'
import { IkeEnd, IKE_PORT, IKE_PORT_TRANSLATED } from '../tunnels/ikeEnd'
import { longestOf, type Span } from '../tunnels/span'
import { TunnelEnd, type Heard, type TunnelPeer, type Wire } from '../tunnels/tunnelEnd'
import type { NameMemory } from './names'
import type { IkeFile } from './swanctlFile'
import { Translation } from './translation'

/** Its address at home, where a router translates. */
const AT_HOME = toNumber('192.168.178.20')
const CALLS_FROM = 51_820

export interface PeerTruth {
  readonly id: string
  /** Its own address outside, or that of the router before it. */
  readonly outside: number
  readonly isTranslated: boolean
  /** Of that router, for it. */
  readonly ports: { readonly first: number; readonly last: number }
  /** Public half of the key that it holds. */
  identity: string
  /** Its address in the tunnel. */
  readonly inner: number | null
  readonly nameServer: number | null
  mtu: number
  /** Largest packet that the way to it carries, octets; larger ones vanish. */
  carries: number
  /** The end here, as its own file has it. */
  here: TunnelPeer
  /** Of IKEv2, how it is set. */
  ike: IkeFile | null
  /** UDP; null of one that calls. */
  readonly listensAt: number | null
  /** Networks that lie behind it; the first address of each answers, and these more. */
  readonly behind: readonly Span[]
  readonly answers: readonly { readonly address: number; readonly port: number }[]
  /** Whether it leads on to the internet. */
  readonly isExit: boolean
}

/** Who takes packets out there. */
export interface Around {
  readonly queue: EventQueue
  readonly names: NameMemory
  /** Numbers of exchanges that nobody else has. */
  readonly number: () => number
  take(packet: Packet): void
}

export class PeerBox {
  readonly endpoint: Endpoint
  private tunnel: TunnelEnd | IkeEnd
  private readonly router: Translation | null
  private readonly exit: Translation | null
  private isOff = false

  constructor(
    private readonly around: Around,
    readonly truth: PeerTruth,
  ) {
    const { queue } = around
    this.router = truth.isTranslated ? new Translation(queue, truth.outside, truth.ports) : null
    this.exit = truth.isExit ? new Translation(queue, truth.outside) : null
    this.endpoint = new Endpoint(
      queue,
      (dst) => (this.tunnel.leads(dst) >= 0 ? truth.inner : this.ownAddress),
      (packet) => this.send(packet),
    )
    for (const { port } of truth.answers) this.endpoint.listening.set(port, () => 'ok')
    this.tunnel = this.whole()
    this.tunnel.start()
  }

  private get ownAddress(): number {
    return this.router ? AT_HOME : this.truth.outside
  }
  private readonly wire: Wire<Sealed | Ike> = {
    send: (to, data) =>
      this.leave({
        kind: 'ipv4',
        src: this.ownAddress,
        dst: to.address,
        ttl: 64,
        body: {
          protocol: 'udp',
          srcPort: to.at ?? (data.kind === 'ike' ? IKE_PORT_TRANSLATED : this.port),
          dstPort: to.port,
          data,
        },
      }),
    resolve: (host, done) => done(isAddress(host) ? toNumber(host) : this.around.names.find(host)),
  }

  private get port(): number {
    return this.truth.listensAt ?? CALLS_FROM
  }

  private whole(): TunnelEnd | IkeEnd {
    const { ike, mtu } = this.truth
    if (!ike) return this.made(this.wire)
    const { queue, number } = this.around
    const tunnel = new IkeEnd(queue, { ...ike, mtu }, this.wire, number)
    tunnel.onPacket = (packet) => this.arrive(packet)
    return tunnel
  }
  private made(wire: Wire, here = this.truth.here): TunnelEnd {
    const { identity, inner, mtu } = this.truth
    const tunnel = new TunnelEnd(
      this.around.queue,
      { identity, mtu, address: inner, length: 32, peers: [here] },
      wire,
    )
    tunnel.onPacket = (packet) => this.arrive(packet)
    return tunnel
  }

  /** As when somebody switches its tunnel off and on again: the name is asked for anew. */
  restart(): void {
    this.tunnel.stop()
    this.tunnel = this.whole()
    this.tunnel.start()
  }
  /** Off the net, and back. */
  setOff(isOff: boolean): void {
    this.isOff = isOff
  }
  get isUp(): boolean {
    return this.tunnel.isUp()
  }
  /** The address at which it calls the end here; null where its name leads nowhere. */
  get callsAt(): number | null {
    return this.tunnel.callsAt
  }
  call(): void {
    this.tunnel.call(this.truth.here.publicKey)
  }
  /** Why it was refused, or refused somebody, last. */
  get refusal(): string | null {
    return this.tunnel instanceof IkeEnd ? this.tunnel.refusal : null
  }
  /** Whether its file sends an address through the tunnel. */
  sends(address: number): boolean {
    return this.tunnel.leads(address) >= 0
  }

  /**
   * Carried inside and joined there: an end with the same file that calls an address of the site.
   * @param send carries a datagram for it
   */
  carriedInside(at: { address: number; port: number }, send: Wire['send']): TunnelEnd {
    this.tunnel.stop()
    const { here } = this.truth
    return this.made(
      { send, resolve: (_, done) => done(at.address) },
      { ...here, endpoint: { host: 'inside', port: at.port } },
    )
  }

  private send(packet: Packet): void {
    const isInner = packet.src === this.truth.inner || longestOf(this.truth.behind, packet.src) >= 0
    if (!isInner && this.tunnel.leads(packet.dst) < 0) {
      this.leave(packet)
      return
    }
    if (octetsOf(packet) > this.truth.mtu) {
      if (packet.body.protocol === 'icmp')
        this.endpoint.receive({
          ...packet,
          body: { ...packet.body, type: 'too-big', mtu: this.truth.mtu },
        })
      return
    }
    this.tunnel.send(packet)
  }
  /** By its own line. */
  private leave(packet: Packet): void {
    if (!this.isOff && octetsOf(packet) <= this.truth.carries)
      this.around.take(this.router ? this.router.out(packet) : packet)
  }

  /** Something for its address outside. Gives whether it was for it, of all who share that. */
  receive(given: Packet): boolean {
    const packet = this.router ? this.router.back(given) : given
    if (!packet) return false
    if (!this.isOff && octetsOf(given) <= this.truth.carries) this.take(packet)
    return true
  }
  private take(packet: Packet): void {
    const { body } = packet
    if (body.protocol === 'udp' && (body.data.kind === 'sealed' || body.data.kind === 'ike')) {
      const ports = body.data.kind === 'ike' ? [IKE_PORT, IKE_PORT_TRANSLATED] : [this.port]
      if (ports.includes(body.dstPort)) this.hear(body.data, packet)
      return
    }
    const inward = this.exit?.back(packet)
    if (inward) this.tunnel.send(inward)
    else this.endpoint.receive(packet)
  }
  private hear(data: Sealed | Ike, { src, dst, body }: Packet): void {
    if (body.protocol !== 'udp') return
    const from: Heard = { address: src, port: body.srcPort, by: dst }
    if (this.tunnel instanceof IkeEnd) {
      if (data.kind === 'ike') this.tunnel.receive(data, { ...from, at: body.dstPort })
    } else if (data.kind === 'sealed') this.tunnel.receive(data, from)
  }

  /** Out of the tunnel. */
  private arrive(packet: Packet): void {
    const { inner, behind, answers, isExit } = this.truth
    const isBehind = behind.some(
      (s) => sameNetwork(packet.dst, s.network, s.length) && packet.dst === s.network + 1,
    )
    if (packet.dst === inner || isBehind || answers.some((a) => a.address === packet.dst))
      this.endpoint.receive(packet)
    else if (isExit && this.exit) this.leave(this.exit.out(packet))
  }
  stop(): void {
    this.tunnel.stop()
  }
}
