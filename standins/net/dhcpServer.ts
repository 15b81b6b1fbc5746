/**
 * A DHCP server for one segment (RFC 2131 4.3). A request that names no server is a client's that
 * holds on to its address.
 */
import { type Dhcp, type DhcpOptions, type Mac, type Packet, ALL_HOSTS } from '../frames/frame'

export interface DhcpServerSetup {
  readonly own: number
  readonly pools: readonly { readonly first: number; readonly last: number }[]
  readonly reservations: ReadonlyMap<Mac, number>
  readonly options: DhcpOptions
}

export class DhcpServer {
  /** @param leases addresses by client, which the device keeps over a restart (RFC 2131 2.1) */
  constructor(
    private readonly setup: DhcpServerSetup,
    private readonly reply: (to: Mac, packet: Packet) => void,
    readonly leases: Map<Mac, number> = new Map(),
  ) {}

  receive(d: Dhcp): void {
    if (d.op === 'discover') {
      const address = this.addressFor(d.client)
      if (address !== undefined) this.send(d, 'offer', address)
    } else if (d.op === 'request' && (d.server === this.setup.own || d.server === 0)) {
      if (this.addressFor(d.client) === d.address) {
        this.leases.set(d.client, d.address)
        this.send(d, 'ack', d.address)
      } else this.send(d, 'nak', 0)
    }
  }

  private addressFor(client: Mac): number | undefined {
    const reserved = this.setup.reservations.get(client)
    if (reserved !== undefined) return reserved
    const had = this.leases.get(client)
    const taken = new Set([...this.setup.reservations.values(), this.setup.own])
    // What was given before the pools or reservations changed is given again only where it still
    // may be.
    if (
      had !== undefined &&
      !taken.has(had) &&
      this.setup.pools.some((p) => had >= p.first && had <= p.last)
    )
      return had
    const used = new Set([...taken, ...this.leases.values()])
    for (const { first, last } of this.setup.pools)
      for (let a = first; a <= last; a++) if (!used.has(a)) return a
    return undefined
  }

  private send(d: Dhcp, op: 'offer' | 'ack' | 'nak', address: number): void {
    const data: Dhcp = {
      ...d,
      op,
      address,
      server: this.setup.own,
      options: op === 'nak' ? null : this.setup.options,
    }
    this.reply(d.client, {
      kind: 'ipv4',
      src: this.setup.own,
      dst: ALL_HOSTS,
      ttl: 64,
      body: { protocol: 'udp', srcPort: 67, dstPort: 68, data },
    })
  }
}
