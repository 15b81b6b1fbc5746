/**
 * What every host does with packets for itself: answers echoes, opens and takes TCP connections,
 * asks for names.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import { USUAL_ECHO, type Dns, type Packet, type Tcp, type Udp } from '../frames/frame'

const ANSWER_SECONDS = 2
const TRIES = 3

export type Answer = 'works' | 'no-answer' | 'refused' | 'too-big'
interface Pending {
  done: (answer: Answer) => void
  timer: Timer
}
interface Connection {
  done: (answer: Answer, reply?: unknown) => void
  request: unknown
  timer: Timer
  open: boolean
}
/** From which address of its own, and how long an answer is waited for, s. */
export interface By {
  readonly src?: number
  readonly seconds?: number
}
/** @param source who asks */
export type PageHandler = (data: unknown, source: number) => unknown

export class Endpoint {
  /** TCP ports that are listened on, with what answers data. */
  readonly listening = new Map<number, PageHandler>()
  /** Whether a port answers to an address. */
  answersTo: (source: number, port: number) => boolean = () => true
  /** UDP ports that answer. */
  readonly answering = new Set<number>()
  private readonly questions = new Map<number, Pending>()
  onUdp: (udp: Udp, packet: Packet) => void = () => {}
  private readonly echoes = new Map<number, Pending>()
  private readonly connections = new Map<number, Connection>()
  private readonly names = new Map<
    number,
    { done: (address: number | null) => void; timer: Timer }
  >()
  private nextId = 1

  constructor(
    private readonly queue: EventQueue,
    private readonly source: (dst: number) => number | null,
    private readonly output: (packet: Packet) => void,
  ) {}

  private emit(dst: number, body: Packet['body'], src = this.source(dst)): void {
    if (src !== null) this.output({ kind: 'ipv4', src, dst, ttl: 64, body })
  }

  ping(
    dst: number,
    done: (answer: Answer) => void,
    octets = USUAL_ECHO,
    tries = TRIES,
    by: By = {},
  ): void {
    const id = this.id()
    const timer = this.queue.after(by.seconds ?? ANSWER_SECONDS, () => {
      this.echoes.delete(id)
      if (tries > 1) this.ping(dst, done, octets, tries - 1, by)
      else done('no-answer')
    })
    this.echoes.set(id, { done, timer })
    this.emit(dst, { protocol: 'icmp', type: 'echo', id, octets }, by.src)
  }

  /** Three-way handshake; with a request, one exchange of data after it. */
  connect(
    dst: number,
    port: number,
    done: (answer: Answer, reply?: unknown) => void,
    request?: unknown,
    tries = TRIES,
    by: By = {},
  ): void {
    const srcPort = this.id()
    const timer = this.queue.after(by.seconds ?? ANSWER_SECONDS, () => {
      this.connections.delete(srcPort)
      if (tries > 1) this.connect(dst, port, done, request, tries - 1, by)
      else done('no-answer')
    })
    this.connections.set(srcPort, { done, request, timer, open: false })
    this.emit(dst, { protocol: 'tcp', srcPort, dstPort: port, flag: 'syn' }, by.src)
  }

  resolve(
    server: number,
    name: string,
    done: (address: number | null) => void,
    tries = TRIES,
    by: By = {},
  ): void {
    const id = this.id()
    const timer = this.queue.after(by.seconds ?? ANSWER_SECONDS, () => {
      this.names.delete(id)
      if (tries > 1) this.resolve(server, name, done, tries - 1, by)
      else done(null)
    })
    this.names.set(id, { done, timer })
    this.udp(server, id, 53, { kind: 'dns', id, name, answer: null, isReply: false }, by.src)
  }

  /** One datagram to a UDP service and its answer. */
  question(
    dst: number,
    port: number,
    done: (answer: Answer) => void,
    tries = TRIES,
    data: Udp['data'] = { kind: 'datagram', isReply: false },
  ): void {
    const srcPort = this.id()
    const timer = this.queue.after(ANSWER_SECONDS, () => {
      this.questions.delete(srcPort)
      if (tries > 1) this.question(dst, port, done, tries - 1, data)
      else done('no-answer')
    })
    this.questions.set(srcPort, { done, timer })
    this.udp(dst, srcPort, port, data)
  }

  udp(
    dst: number,
    srcPort: number,
    dstPort: number,
    data: Udp['data'],
    src = this.source(dst),
  ): void {
    this.emit(dst, { protocol: 'udp', srcPort, dstPort, data }, src)
  }

  /** Says to the sender of an echo that it is too large for the way on. */
  refuseSize(packet: Packet, mtu: number): void {
    if (packet.body.protocol === 'icmp' && packet.body.type === 'echo')
      this.emit(packet.src, {
        protocol: 'icmp',
        type: 'too-big',
        id: packet.body.id,
        octets: USUAL_ECHO,
        mtu,
      })
  }

  /** A packet for this host. */
  receive(packet: Packet): void {
    const { body } = packet
    if (body.protocol === 'icmp') {
      if (body.type === 'echo')
        this.emit(
          packet.src,
          { protocol: 'icmp', type: 'echo-reply', id: body.id, octets: body.octets },
          packet.dst,
        )
      else if (body.type === 'too-big') this.settle(this.echoes, body.id)?.done('too-big')
      else this.settle(this.echoes, body.id)?.done('works')
    } else if (body.protocol === 'udp') {
      if (body.data.kind === 'dns' && body.data.isReply) this.receiveName(body.data)
      else if (body.data.kind === 'datagram') {
        if (body.data.isReply) this.settle(this.questions, body.dstPort)?.done('works')
        else if (this.answering.has(body.dstPort))
          this.udp(
            packet.src,
            body.dstPort,
            body.srcPort,
            { kind: 'datagram', isReply: true },
            packet.dst,
          )
      } else if (body.data.kind === 'name-update' && body.data.isReply)
        this.settle(this.questions, body.dstPort)?.done('works')
      else this.onUdp(body, packet)
    } else this.receiveTcp(body, packet)
  }

  private receiveName(data: Dns): void {
    this.settle(this.names, data.id)?.done(data.answer)
  }

  private receiveTcp(tcp: Tcp, packet: Packet): void {
    const answer = (flag: Tcp['flag'], data?: unknown): void =>
      this.emit(
        packet.src,
        { protocol: 'tcp', srcPort: tcp.dstPort, dstPort: tcp.srcPort, flag, data },
        packet.dst,
      )
    const page = this.answersTo(packet.src, tcp.dstPort)
      ? this.listening.get(tcp.dstPort)
      : undefined
    // Who may not ask hears nothing, not even a refusal.
    if (!page && this.listening.has(tcp.dstPort) && (tcp.flag === 'syn' || tcp.flag === 'data'))
      return
    switch (tcp.flag) {
      case 'syn':
        return answer(page ? 'syn-ack' : 'rst')
      case 'syn-ack': {
        const c = this.connections.get(tcp.dstPort)
        if (!c || c.open) return
        c.open = true
        answer('ack')
        if (c.request === undefined) this.settle(this.connections, tcp.dstPort)?.done('works')
        else answer('data', c.request)
        return
      }
      case 'rst':
        this.settle(this.connections, tcp.dstPort)?.done('refused')
        return
      case 'data':
        if (page) answer('data', page(tcp.data, packet.src) ?? null)
        else this.settle(this.connections, tcp.dstPort)?.done('works', tcp.data)
        return
      case 'ack':
        return
    }
  }

  private settle<T extends { timer: Timer }>(map: Map<number, T>, id: number): T | undefined {
    const found = map.get(id)
    if (!found) return undefined
    map.delete(id)
    found.timer.cancel()
    return found
  }

  private id(): number {
    this.nextId = this.nextId >= 64_000 ? 1 : this.nextId + 1
    return 1024 + (this.nextId % 64_000)
  }
}
