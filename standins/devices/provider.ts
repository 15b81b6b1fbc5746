/** A provider's line with a piece of internet behind it: a web host and a name server. */
import { BROADCAST, octetsOf, sameNetwork, type Frame, type Packet } from '../frames/frame'
import { DhcpServer } from '../net/dhcpServer'
import { Endpoint } from '../net/endpoint'
import { NetInterface } from '../net/netInterface'
import { PppoeServer } from '../net/pppoe'
import type { Socket } from '../net/socket'
import type { LineOutside, Outside } from '../outside/outside'
import { INTERNET_HOST, INTERNET_NAME, INTERNET_NAMES } from '../outside/places'
import { Translation } from '../outside/translation'
import { Box, type Surroundings } from './box'

/** RFC 5905. */
const TIME_PORT = 123
const PROVIDER_MAC = '02:00:00:ff:00:01'

export interface LineTruth {
  /** Tag that the provider really uses. */
  tag: number | null
  readonly mode: 'automatic' | 'fixed' | 'pppoe'
  /** The provider's own address on the line, and the customer's. */
  readonly own: number
  customer: number
  readonly length: number
  /** Largest packet that it carries, octets; larger ones vanish. */
  mtu: number
  /**
   * Whether the customer's address can be asked from the internet; behind another router or
   * carrier-grade NAT only answers come back.
   */
  readonly isPublic: boolean
  /** Only this hardware address gets an answer. */
  readonly pinned: string | null
  /** Of a PPPoE line. */
  readonly account: { readonly user: string; readonly password: string } | null
  /** From a modem that has power again, or a path that is mended, until it leads anywhere, s. */
  startSeconds: number
  /** Where it is seen from outside, where another router translates for it; null where none does. */
  readonly translator: number | null
  /** UDP ports that this router leads to the customer. */
  passesOn: readonly number[]
  /** UDP ports that somebody on the way lets nothing through to. */
  shutPorts: readonly number[]
  /** Names and addresses that exist out there beside the usual ones. */
  known: { readonly names: readonly string[]; readonly addresses: readonly number[] }
}
/** The way behind the modem of a line, and its power. */
export interface LinePath {
  isDead: boolean
  /** Questions that get no answer, 0 to 1. */
  loss: number
  hasPower: boolean
}
export const goodPath = (): LinePath => ({ isDead: false, loss: 0, hasPower: true })

const isLarger = (packet: Packet, mtu: number): boolean => octetsOf(packet) > mtu

/** Whether a packet is the first of its kind, and no answer. */
const asks = ({ body }: Packet): boolean =>
  body.protocol === 'tcp'
    ? body.flag === 'syn'
    : body.protocol === 'icmp'
      ? body.type === 'echo'
      : 'isReply' in body.data && !body.data.isReply

export class Provider extends Box implements LineOutside {
  readonly endpoint: Endpoint
  get socket(): Socket {
    return this.sockets.get('line')!
  }
  private readonly net: NetInterface
  /** The moment from which it leads anywhere. */
  private leadsFrom = 0
  private path = goodPath()
  private isAwake = true
  private readonly dhcp: DhcpServer
  private readonly ppp: PppoeServer | null
  private readonly translation: Translation | null
  /** Last moment at which something for a port of UDP came to the socket of the customer, s. */
  readonly arrivedAt = new Map<number, number>()

  constructor(
    around: Surroundings,
    /** Of the line. */
    lineId: string,
    public truth: LineTruth,
    private readonly outside: Outside,
  ) {
    super(around, `provider of ${lineId}`, ['line'])
    const { socket } = this
    const send = (frame: Frame): void => socket.send({ ...frame, tag: this.truth.tag })
    this.net = new NetInterface(around.queue, PROVIDER_MAC, send)
    if (truth.mode !== 'pppoe') this.net.set(truth.own, truth.length)
    this.ppp =
      truth.mode === 'pppoe' && truth.account
        ? new PppoeServer(PROVIDER_MAC, send, {
            own: truth.own,
            customer: truth.customer,
            nameServer: INTERNET_NAMES,
            account: truth.account,
          })
        : null
    this.endpoint = new Endpoint(
      around.queue,
      () => INTERNET_HOST,
      (packet) => {
        // Its own router answers whatever is dead behind it.
        if (packet.src !== truth.own && !this.leadsOut) return
        if (!truth.isPublic && asks(packet)) return
        if (isLarger(packet, this.truth.mtu)) return
        this.toCustomer(packet)
      },
    )
    this.translation =
      truth.translator === null ? null : new Translation(around.queue, truth.translator)
    const page = (data: unknown) => outside.page(data, this.outsideAddress)
    this.endpoint.answering.add(TIME_PORT)
    this.endpoint.listening.set(80, page).set(443, page)
    this.dhcp = new DhcpServer(
      {
        own: truth.own,
        pools: [{ first: truth.customer, last: truth.customer }],
        reservations: new Map(),
        options: {
          length: truth.length,
          router: truth.own,
          nameServer: INTERNET_NAMES,
          leaseSeconds: 3600,
          vendor: null,
        },
      },
      (to, packet) => this.net.sendTo(to, packet),
    )
    socket.onFrame = (frame) => {
      if (frame.tag !== this.truth.tag || !this.serves(frame.from)) return
      if (frame.payload.kind !== 'pppoe') this.net.receive({ ...frame, tag: null })
      else if (frame.to === PROVIDER_MAC || frame.to === BROADCAST)
        this.ppp?.receive(frame.from, frame.payload)
    }
    this.net.onPacket = (packet) => this.take(packet)
    if (this.ppp) this.ppp.onPacket = (packet) => this.take(packet)
    this.powered = true
    this.placed = true
  }

  /** What became of the way behind the modem. What was dead takes its time to lead anywhere. */
  changePath(path: LinePath): void {
    const was = this.path
    this.path = { ...path }
    if (was.isDead && !path.isDead) this.leadsFrom = this.around.queue.now + this.truth.startSeconds
    this.power(path.hasPower && this.isAwake)
  }
  /** Somebody, or the gateway, switches its modem on or off. */
  wake(on: boolean): void {
    this.isAwake = on
    this.power(on && this.path.hasPower)
  }
  private power(on: boolean): void {
    if (!on) this.setPower(false)
    else if (!this.powered)
      this.around.queue.after(this.truth.startSeconds, () => {
        if (this.isAwake && this.path.hasPower) this.setPower(true)
      })
  }
  private get leadsOut(): boolean {
    return !this.path.isDead && this.around.queue.now >= this.leadsFrom
  }

  get outsideAddress(): number {
    return this.truth.translator ?? this.truth.customer
  }
  /** From somebody outside who calls or answers. */
  arrive(given: Packet): void {
    if (!this.powered || !this.leadsOut || this.isLost() || isLarger(given, this.truth.mtu)) return
    const { body } = given
    const port = body.protocol === 'udp' ? body.dstPort : null
    const isAnswer = this.translation?.back(given)
    if (port !== null && !isAnswer && this.truth.shutPorts.includes(port)) return
    const packet = this.translation
      ? (isAnswer ??
        (port !== null && this.truth.passesOn.includes(port)
          ? { ...given, dst: this.truth.customer }
          : undefined))
      : given
    if (!packet) return
    if (packet.body.protocol === 'udp')
      this.arrivedAt.set(packet.body.dstPort, this.around.queue.now)
    this.toCustomer(packet)
  }
  /** A port that is passed on is the same from outside. */
  private translated(packet: Packet): Packet {
    const { body } = packet
    const { translator, passesOn } = this.truth
    if (!this.translation || translator === null) return packet
    return body.protocol === 'udp' && passesOn.includes(body.srcPort)
      ? { ...packet, src: translator }
      : this.translation.out(packet)
  }
  private toCustomer(packet: Packet): void {
    if (this.ppp) {
      if (packet.dst === this.truth.customer) this.ppp.sendPacket(packet)
    } else if (sameNetwork(packet.dst, this.truth.own, this.truth.length))
      this.net.send(packet, packet.dst)
  }
  private isLost(): boolean {
    return this.path.loss > 0 && this.around.random() < this.path.loss
  }

  private serves(from: string): boolean {
    return this.truth.pinned === null || from === this.truth.pinned
  }

  private take(packet: Packet): void {
    const { body } = packet
    if (isLarger(packet, this.truth.mtu)) return
    if (body.protocol === 'udp' && body.data.kind === 'dhcp') {
      if (this.truth.mode === 'automatic') {
        this.dhcp.leases.clear()
        this.dhcp.receive(body.data)
      }
      return
    }
    if (packet.dst === this.truth.own) {
      this.endpoint.receive(packet)
      return
    }
    if (!this.leadsOut || this.isLost()) return
    if (
      body.protocol === 'udp' &&
      body.data.kind === 'dns' &&
      !body.data.isReply &&
      (packet.dst === INTERNET_NAMES || this.truth.known.addresses.includes(packet.dst))
    ) {
      const isKnown =
        body.data.name === INTERNET_NAME || this.truth.known.names.includes(body.data.name)
      const answer = isKnown
        ? INTERNET_HOST
        : (this.outside.names.lookup(body.data.name)?.address ?? null)
      this.endpoint.udp(
        packet.src,
        53,
        body.srcPort,
        { ...body.data, answer, isReply: true },
        packet.dst,
      )
      return
    }
    const isForNames = body.protocol === 'udp' && body.data.kind === 'name-update'
    if (
      !isForNames &&
      (packet.dst === INTERNET_HOST ||
        packet.dst === INTERNET_NAMES ||
        this.truth.known.addresses.includes(packet.dst))
    )
      this.endpoint.receive(packet)
    else this.outside.take(this.translated(packet))
  }
}
