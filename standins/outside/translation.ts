/**
 * A router that translates addresses, somewhere outside: what goes out leaves under its own address,
 * and answers come back as long as it remembers.
 */
import type { EventQueue } from '../clock/eventQueue'
import type { Packet } from '../frames/frame'

/** Of a quiet way; 30 s to some minutes are met (common practice; RFC 4787 REQ-5 asks for 2 min). */
const FORGETS_SECONDS = 60
const ALL_PORTS = { first: 30_000, last: 60_000 }

interface Way {
  readonly address: number
  readonly port: number
  readonly outer: number
  readonly remote: number
  readonly remotePort: number
  readonly protocol: string
  lastSeen: number
}
/** Of an echo the id stands for both ports. */
const portsOf = ({ body }: Packet): readonly [number, number] =>
  body.protocol === 'icmp' ? [body.id, body.id] : [body.srcPort, body.dstPort]
const withSource = (packet: Packet, src: number, port: number): Packet => {
  const { body } = packet
  return {
    ...packet,
    src,
    body: body.protocol === 'icmp' ? { ...body, id: port } : { ...body, srcPort: port },
  }
}
const withTarget = (packet: Packet, dst: number, port: number): Packet => {
  const { body } = packet
  return {
    ...packet,
    dst,
    body: body.protocol === 'icmp' ? { ...body, id: port } : { ...body, dstPort: port },
  }
}

export class Translation {
  private readonly inward = new Map<string, Way>()
  private readonly outward = new Map<string, Way>()
  private next: number

  constructor(
    private readonly queue: EventQueue,
    readonly address: number,
    private readonly ports = ALL_PORTS,
  ) {
    this.next = ports.first
  }

  out(packet: Packet): Packet {
    const { protocol } = packet.body
    const [port, remotePort] = portsOf(packet)
    // Of an echo the remote has no port of its own.
    const there = protocol === 'icmp' ? 0 : remotePort
    const key = `${protocol}|${packet.src}:${port}>${packet.dst}:${there}`
    let way = this.outward.get(key)
    if (!way || this.isForgotten(way)) {
      this.next = this.next >= this.ports.last ? this.ports.first : this.next + 1
      way = {
        ...{ address: packet.src, port, outer: this.next, protocol },
        ...{ remote: packet.dst, remotePort: there, lastSeen: 0 },
      }
      this.outward.set(key, way)
      this.inward.set(`${protocol}|${way.outer}`, way)
    }
    way.lastSeen = this.queue.now
    return withSource(packet, this.address, way.outer)
  }

  /** What is an answer to somebody inside; undefined for all else. */
  back(packet: Packet): Packet | undefined {
    const { protocol } = packet.body
    const [port, own] = portsOf(packet)
    const way = this.inward.get(`${protocol}|${own}`)
    if (!way || this.isForgotten(way) || way.remote !== packet.src) return undefined
    if (protocol !== 'icmp' && way.remotePort !== port) return undefined
    way.lastSeen = this.queue.now
    return withTarget(packet, way.address, way.port)
  }

  private isForgotten({ lastSeen }: Way): boolean {
    return this.queue.now - lastSeen > FORGETS_SECONDS
  }
}
