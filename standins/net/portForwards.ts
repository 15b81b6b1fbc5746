/**
 * Ports of the lines' addresses that lead to hosts inside, with the state of each connection: who
 * asked, and what the host takes them for.
 */
import type { EventQueue } from '../clock/eventQueue'
import { sameNetwork, type Packet } from '../frames/frame'

export interface PortForward {
  readonly protocol: string
  readonly outside: { readonly first: number; readonly last: number }
  readonly inside: number
  readonly address: number
}
/** What the router knows of the interface towards a host. */
export interface Towards {
  readonly address: number | null
  readonly length: number
}

interface Flow {
  readonly client: number
  readonly clientPort: number
  readonly at: number
  readonly atPort: number
  readonly host: number
  readonly hostPort: number
  readonly seen: number
  readonly seenPort: number
  lastSeen: number
}

const IDLE_SECONDS = 300
/** From where the ports are taken that a host sees of who asks from its own segment. */
const FIRST_PORT = 61_000
const LAST_PORT = 65_000

export interface Led {
  /** As the rules see it: from who asks to the host inside. */ readonly inward: Packet
  /** As it goes out to the host. */ onward(packet: Packet): Packet
}

export class PortForwards {
  private list: readonly PortForward[] = []
  private readonly byClient = new Map<string, Flow>()
  private readonly byHost = new Map<string, Flow>()
  private next = FIRST_PORT

  constructor(private readonly queue: EventQueue) {}

  set(list: readonly PortForward[]): void {
    this.list = list
  }
  reset(): void {
    this.byClient.clear()
    this.byHost.clear()
  }

  /** A packet to the address of a line that a port leads on; undefined for all others. */
  lead(
    packet: Packet,
    isOfALine: (address: number) => boolean,
    towards: (address: number) => Towards | undefined,
  ): Led | undefined {
    const { body } = packet
    if (this.list.length === 0 || body.protocol === 'icmp' || !isOfALine(packet.dst))
      return undefined
    const forward = this.list.find(
      (f) =>
        f.protocol === body.protocol &&
        body.dstPort >= f.outside.first &&
        body.dstPort <= f.outside.last,
    )
    if (!forward) return undefined
    const hostPort = forward.inside + body.dstPort - forward.outside.first
    const key = `${body.protocol}|${packet.src}:${body.srcPort}>${packet.dst}:${body.dstPort}`
    let flow = this.byClient.get(key)
    if (!flow || flow.host !== forward.address || flow.hostPort !== hostPort) {
      const net = towards(forward.address)
      const isNeighbour =
        net?.address != null && sameNetwork(packet.src, forward.address, net.length)
      this.next = this.next >= LAST_PORT ? FIRST_PORT : this.next + 1
      flow = {
        client: packet.src,
        clientPort: body.srcPort,
        at: packet.dst,
        atPort: body.dstPort,
        host: forward.address,
        hostPort,
        seen: isNeighbour ? net.address : packet.src,
        seenPort: isNeighbour ? this.next : body.srcPort,
        lastSeen: 0,
      }
      this.byClient.set(key, flow)
      this.byHost.set(
        `${body.protocol}|${flow.host}:${flow.hostPort}>${flow.seen}:${flow.seenPort}`,
        flow,
      )
    }
    flow.lastSeen = this.queue.now
    const { host, seen, seenPort } = flow
    return {
      inward: { ...packet, dst: host, body: { ...body, dstPort: hostPort } },
      onward: (p) => ({ ...p, src: seen, body: { ...p.body, srcPort: seenPort } as typeof body }),
    }
  }

  /**
   * The host's answer, as from the address that was asked; undefined for what answers nothing that
   * was led.
   */
  answer(packet: Packet): Packet | undefined {
    const { body } = packet
    if (body.protocol === 'icmp') return undefined
    const flow = this.byHost.get(
      `${body.protocol}|${packet.src}:${body.srcPort}>${packet.dst}:${body.dstPort}`,
    )
    if (!flow) return undefined
    flow.lastSeen = this.queue.now
    return {
      ...packet,
      src: flow.at,
      dst: flow.client,
      body: { ...body, srcPort: flow.atPort, dstPort: flow.clientPort },
    }
  }

  expire(): void {
    for (const map of [this.byClient, this.byHost])
      for (const [key, f] of map) if (this.queue.now - f.lastSeen > IDLE_SECONDS) map.delete(key)
  }
}
