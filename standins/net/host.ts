/**
 * A host with one interface: an address that is fixed or leased, a default gateway, and what an
 * endpoint does.
 */
import type { EventQueue } from '../clock/eventQueue'
import { sameNetwork, type Frame, type Mac, type Packet } from '../frames/frame'
import { DhcpClient, type Lease } from './dhcpClient'
import { Endpoint } from './endpoint'
import { NetInterface } from './netInterface'

export interface Addressing {
  readonly address: number
  readonly length: number
  readonly gateway: number | null
}

export class Host {
  readonly net: NetInterface
  readonly endpoint: Endpoint
  readonly dhcp: DhcpClient
  gateway: number | null = null
  nameServer: number | null = null
  onAddress: (lease: Lease | null) => void = () => {}

  constructor(queue: EventQueue, mac: Mac, transmit: (frame: Frame) => void, random: () => number) {
    this.net = new NetInterface(queue, mac, transmit)
    this.endpoint = new Endpoint(
      queue,
      () => this.net.address,
      (packet) => this.route(packet),
    )
    this.dhcp = new DhcpClient(queue, this.net, random, (lease) => {
      if (lease) {
        this.net.set(lease.address, lease.options.length)
        this.gateway = lease.options.router
        this.nameServer = lease.options.nameServer
      } else this.clear()
      this.onAddress(lease)
    })
    this.net.onPacket = (packet) => {
      if (packet.body.protocol === 'udp' && this.dhcp.receive(packet.body)) return
      if (packet.dst === this.net.address) this.endpoint.receive(packet)
    }
  }

  get address(): number | null {
    return this.net.address
  }

  setFixed(a: Addressing): void {
    this.dhcp.stop()
    this.net.set(a.address, a.length)
    this.gateway = a.gateway
    this.nameServer = a.gateway
  }

  clear(): void {
    this.net.set(null, 0)
    this.gateway = null
    this.nameServer = null
  }

  stop(): void {
    this.dhcp.stop()
    this.clear()
  }

  /** Of somebody else, on its way. */
  passOn(packet: Packet): void {
    if (packet.ttl > 1) this.route({ ...packet, ttl: packet.ttl - 1 })
  }

  private route(packet: Packet): void {
    if (this.net.address === null) return
    const nextHop = sameNetwork(packet.dst, this.net.address, this.net.length)
      ? packet.dst
      : this.gateway
    if (nextHop !== null) this.net.send(packet, nextHop)
  }
}
