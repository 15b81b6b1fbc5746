/** A DHCP client (RFC 2131 4.4), from discover to bound, with renewal at half the lease. */
import type { EventQueue, Timer } from '../clock/eventQueue'
import { ALL_HOSTS, type Dhcp, type DhcpOptions, type Packet, type Udp } from '../frames/frame'
import type { NetInterface } from './netInterface'

const WAIT_SECONDS = 4
const TRIES = 4
const PAUSE_SECONDS = 20

export interface Lease { readonly address: number; readonly options: DhcpOptions; readonly server: number }

export class DhcpClient {
  lease: Lease | null = null
  private timer: Timer | undefined
  private transaction = 0
  private running = false
  private watchers: ((lease: Lease | null) => void)[] = []

  constructor(
    private readonly queue: EventQueue, private readonly net: NetInterface, private readonly random: () => number,
    /** Called with a lease, or with null after a round of tries without an answer. */
    private readonly onResult: (lease: Lease | null) => void,
  ) {}

  start(): void {
    this.stop()
    this.running = true
    this.discover(TRIES)
  }

  stop(): void {
    this.running = false
    this.timer?.cancel()
    this.lease = null
    for (const w of this.watchers.splice(0)) w(null)
  }

  /** Gives up the lease and asks anew; tells the outcome of this round. */
  renew(done: (lease: Lease | null) => void): void {
    this.start()
    this.watchers.push(done)
  }

  private discover(triesLeft: number): void {
    if (!this.running) return
    if (triesLeft === 0) {
      this.finish(null)
      this.timer = this.queue.after(PAUSE_SECONDS, () => this.discover(TRIES))
      return
    }
    this.transaction = Math.floor(this.random() * 0xffffffff)
    this.broadcast('discover', 0, 0)
    this.timer = this.queue.after(WAIT_SECONDS, () => this.discover(triesLeft - 1))
  }

  private broadcast(op: Dhcp['op'], address: number, server: number): void {
    const data: Dhcp = { kind: 'dhcp', op, transaction: this.transaction, client: this.net.mac, address, server, options: null }
    const packet: Packet = { kind: 'ipv4', src: 0, dst: ALL_HOSTS, ttl: 64, body: { protocol: 'udp', srcPort: 68, dstPort: 67, data } }
    this.net.send(packet, ALL_HOSTS)
  }

  receive(udp: Udp): boolean {
    if (udp.dstPort !== 68 || udp.data.kind !== 'dhcp') return false
    const d = udp.data
    if (!this.running || d.client !== this.net.mac || d.transaction !== this.transaction) return true
    if (d.op === 'offer' && !this.lease) {
      this.timer?.cancel()
      this.broadcast('request', d.address, d.server)
      this.timer = this.queue.after(WAIT_SECONDS, () => this.discover(TRIES))
    } else if (d.op === 'ack' && d.options) {
      this.timer?.cancel()
      this.lease = { address: d.address, options: d.options, server: d.server }
      this.timer = this.queue.after(d.options.leaseSeconds / 2, () => { this.lease = null; this.discover(TRIES) })
      this.finish(this.lease)
    } else if (d.op === 'nak') this.start()
    return true
  }

  private finish(lease: Lease | null): void {
    this.onResult(lease)
    for (const w of this.watchers.splice(0)) w(lease)
  }
}
