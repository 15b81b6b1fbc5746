/** The internet between the lines of a site and everybody else, as far as anybody asks it. */
import type { EventQueue } from '../clock/eventQueue'
import { toText, type Packet } from '../frames/frame'
import { Endpoint } from '../net/endpoint'
import { OnTheInternet } from './hostedController'
import { NameMemory, Names } from './names'
import { PeerBox, type PeerTruth } from './peerBox'
import { INTERNET_HOST, INTERNET_NAMES } from './places'

/** From one end to the other, s. */
const WAY_SECONDS = 0.012

/** A line of the site, seen from outside. */
export interface LineOutside {
  /** Where it is asked; the address of the router that translates for it, where one does. */
  readonly outsideAddress: number
  arrive(packet: Packet): void
}
/** What somebody out there sees of who asks. */
export interface SeenFrom {
  readonly address: string
}

export class Outside {
  readonly names = new Names()
  readonly peers = new Map<string, PeerBox>()
  readonly controller: OnTheInternet
  /** Below nought, where no device begins its own. */
  private lastNumber = 0
  private lines: readonly LineOutside[] = []
  private readonly host: Endpoint

  constructor(private readonly queue: EventQueue) {
    this.host = new Endpoint(
      queue,
      () => INTERNET_HOST,
      (packet) => this.take(packet),
    )
    this.controller = new OnTheInternet(queue, (packet) => this.take(packet))
    const page = (data: unknown, source: number): SeenFrom => this.page(data, source)
    this.host.listening.set(80, page).set(443, page)
  }

  /** Says from where it is called, and lets a name follow that. */
  page(data: unknown, source: number): SeenFrom {
    const asked = data as { follow?: string; ttlSeconds?: number } | undefined
    if (asked?.follow) this.names.update(asked.follow, source, asked.ttlSeconds ?? 300)
    return { address: toText(source) }
  }

  set(lines: readonly LineOutside[]): void {
    this.lines = lines
  }

  /** Makes a peer as it is now; what is as before goes on. */
  renew(truths: readonly PeerTruth[]): void {
    for (const [id, box] of this.peers)
      if (!truths.some((t) => t.id === id)) {
        box.stop()
        this.peers.delete(id)
      }
    for (const truth of truths) {
      const there = this.peers.get(truth.id)
      if (there && JSON.stringify(there.truth) === JSON.stringify(truth)) continue
      there?.stop()
      const around = {
        queue: this.queue,
        names: new NameMemory(this.queue, this.names),
        number: () => --this.lastNumber,
        take: (packet: Packet) => this.take(packet),
      }
      this.peers.set(truth.id, new PeerBox(around, truth))
    }
  }

  /** Whether an address outside is that of a peer, or of one of the lines. */
  isOf(address: string, who: string): boolean {
    const peer = this.peers.get(who)
    if (peer) return toText(peer.truth.outside) === address
    return this.lines.some((l) => toText(l.outsideAddress) === address)
  }

  /** Under way to wherever it is addressed. */
  take(packet: Packet): void {
    this.queue.after(WAY_SECONDS, () => this.deliver(packet))
  }

  private deliver(packet: Packet): void {
    const line = this.lines.find((l) => l.outsideAddress === packet.dst)
    if (line) {
      line.arrive(packet)
      return
    }
    if (packet.dst === INTERNET_NAMES) {
      this.askNames(packet)
      return
    }
    if (packet.dst === INTERNET_HOST) {
      this.host.receive(packet)
      return
    }
    if (this.controller.receive(packet)) return
    for (const p of this.peers.values())
      if (p.truth.outside === packet.dst && p.receive(packet)) return
  }

  /** Of what the names' own server is told and asked. */
  private askNames({ src, dst, body }: Packet): void {
    if (body.protocol !== 'udp') return
    const { data } = body
    const answer = (reply: typeof data): void =>
      this.take({
        ...{ kind: 'ipv4', src: dst, dst: src, ttl: 64 },
        body: { protocol: 'udp', srcPort: body.dstPort, dstPort: body.srcPort, data: reply },
      })
    if (data.kind === 'name-update' && !data.isReply) {
      if (this.names.update(data.name, data.address, data.ttlSeconds))
        answer({ ...data, isReply: true })
    } else if (data.kind === 'dns' && !data.isReply) {
      const found = this.names.lookup(data.name)
      answer({ ...data, answer: found?.address ?? null, isReply: true })
    }
  }
}
