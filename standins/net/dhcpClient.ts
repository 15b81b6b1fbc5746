/**
 * A DHCP client (RFC 2131 4.4): from discover to bound; it asks its server again at half of the
 * lease, everybody at seven eighths, and gives the address up at the end.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import {
  ALL_HOSTS,
  sameNetwork,
  type Dhcp,
  type DhcpOptions,
  type Packet,
  type Udp,
} from '../frames/frame'
import type { NetInterface } from './netInterface'

const WAIT_SECONDS = 4
const TRIES = 4
const PAUSE_SECONDS = 20
/** Of the lease, where the server says nothing else (RFC 2131 4.4.5). */
const RENEW = 0.5
const REBIND = 0.875

export interface Lease {
  readonly address: number
  readonly options: DhcpOptions
  readonly server: number
}

export class DhcpClient {
  lease: Lease | null = null
  /** Everybody who offered something since it last began to ask. */
  readonly offered = new Set<number>()
  private timer: Timer | undefined
  private transaction = 0
  private running = false
  private watchers: ((lease: Lease | null) => void)[] = []

  constructor(
    private readonly queue: EventQueue,
    private readonly net: NetInterface,
    private readonly random: () => number,
    /** Called with a lease, or with null after a round of tries without an answer. */
    private readonly onResult: (lease: Lease | null) => void,
  ) {}

  start(): void {
    this.stop()
    this.running = true
    this.offered.clear()
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
    this.net.send(this.packet(0, ALL_HOSTS, op, address, server), ALL_HOSTS)
  }

  private packet(
    src: number,
    dst: number,
    op: Dhcp['op'],
    address: number,
    server: number,
  ): Packet {
    const data: Dhcp = {
      kind: 'dhcp',
      op,
      transaction: this.transaction,
      client: this.net.mac,
      address,
      server,
      relay: 0,
      options: null,
    }
    return {
      kind: 'ipv4',
      src,
      dst,
      ttl: 64,
      body: { protocol: 'udp', srcPort: 68, dstPort: 67, data },
    }
  }

  /**
   * Asks to keep the address: the server that gave it, then all; without an answer until the end it
   * is given up.
   */
  private keep(lease: Lease): void {
    const { leaseSeconds, length, router } = lease.options
    this.transaction = Math.floor(this.random() * 0xffffffff)
    const nextHop = sameNetwork(lease.server, lease.address, length) ? lease.server : router
    if (nextHop !== null)
      this.net.send(
        this.packet(lease.address, lease.server, 'request', lease.address, lease.server),
        nextHop,
      )
    this.timer = this.queue.after(leaseSeconds * (REBIND - RENEW), () => {
      this.net.send(this.packet(lease.address, ALL_HOSTS, 'request', lease.address, 0), ALL_HOSTS)
      this.timer = this.queue.after(leaseSeconds * (1 - REBIND), () => {
        this.lease = null
        this.finish(null)
        this.discover(TRIES)
      })
    })
  }

  receive(udp: Udp): boolean {
    if (udp.dstPort !== 68 || udp.data.kind !== 'dhcp') return false
    const d = udp.data
    if (!this.running || d.client !== this.net.mac || d.transaction !== this.transaction)
      return true
    if (d.op === 'offer') this.offered.add(d.server)
    if (d.op === 'offer' && !this.lease) {
      this.timer?.cancel()
      this.broadcast('request', d.address, d.server)
      this.timer = this.queue.after(WAIT_SECONDS, () => this.discover(TRIES))
    } else if (d.op === 'ack' && d.options) {
      this.timer?.cancel()
      const lease = { address: d.address, options: d.options, server: d.server }
      const isNew = JSON.stringify(lease) !== JSON.stringify(this.lease)
      this.lease = lease
      this.timer = this.queue.after(d.options.leaseSeconds * RENEW, () => this.keep(lease))
      if (isNew) this.finish(lease)
    } else if (d.op === 'nak') this.start()
    return true
  }

  private finish(lease: Lease | null): void {
    this.onResult(lease)
    for (const w of this.watchers.splice(0)) w(lease)
  }
}
