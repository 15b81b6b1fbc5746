/** One address on one segment: ARP (RFC 826) and the frames around packets. */
import type { EventQueue } from '../clock/eventQueue'
import { ALL_HOSTS, BROADCAST, type Arp, type Frame, type Mac, type Packet } from '../frames/frame'

const ARP_WAIT_SECONDS = 1
const ARP_TRIES = 3

export class NetInterface {
  address: number | null = null
  length = 0
  /** A packet arrived for this interface's hardware address or for all. */
  onPacket: (packet: Packet, from: Mac) => void = () => {}
  private readonly known = new Map<number, Mac>()
  private readonly waiting = new Map<number, Packet[]>()

  constructor(
    private readonly queue: EventQueue,
    readonly mac: Mac,
    private readonly transmit: (frame: Frame) => void,
  ) {}

  set(address: number | null, length: number): void {
    this.address = address
    this.length = length
    this.known.clear()
    this.waiting.clear()
  }

  receive(frame: Frame): void {
    if (frame.to !== this.mac && frame.to !== BROADCAST) return
    const { payload } = frame
    if (payload.kind === 'arp') this.receiveArp(payload)
    else if (payload.kind === 'ipv4') this.onPacket(payload, frame.from)
  }

  /** Sends towards a neighbour on this segment. */
  send(packet: Packet, nextHop: number): void {
    if (packet.dst === ALL_HOSTS) return this.frame(BROADCAST, packet)
    const mac = this.known.get(nextHop)
    if (mac) return this.frame(mac, packet)
    const queued = this.waiting.get(nextHop)
    if (queued) {
      queued.push(packet)
      return
    }
    this.waiting.set(nextHop, [packet])
    this.ask(nextHop, ARP_TRIES)
  }

  /** To a hardware address without asking for it, as a DHCP server does. */
  sendTo(mac: Mac, packet: Packet): void {
    this.frame(mac, packet)
  }

  private frame(to: Mac, payload: Arp | Packet): void {
    this.transmit({ from: this.mac, to, tag: null, payload })
  }

  private ask(target: number, triesLeft: number): void {
    if (this.address === null || !this.waiting.has(target)) return
    if (triesLeft === 0) {
      this.waiting.delete(target)
      return
    }
    this.frame(BROADCAST, {
      kind: 'arp',
      op: 'request',
      senderMac: this.mac,
      sender: this.address,
      targetMac: null,
      target,
    })
    this.queue.after(ARP_WAIT_SECONDS, () => this.ask(target, triesLeft - 1))
  }

  private receiveArp(arp: Arp): void {
    if (this.address === null) return
    if (arp.target !== this.address) return
    this.known.set(arp.sender, arp.senderMac)
    if (arp.op === 'request')
      this.frame(arp.senderMac, {
        kind: 'arp',
        op: 'reply',
        senderMac: this.mac,
        sender: this.address,
        targetMac: arp.senderMac,
        target: arp.sender,
      })
    const queued = this.waiting.get(arp.sender)
    this.waiting.delete(arp.sender)
    for (const packet of queued ?? []) this.frame(arp.senderMac, packet)
  }

  /** Forgets neighbours, as at a change of cable. */
  forget(): void {
    this.known.clear()
  }
}
