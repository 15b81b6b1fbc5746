/** Tunnels that end on a host: each at a port of its own, with what its file says. */
import type { EventQueue } from '../clock/eventQueue'
import { octetsOf, type Packet } from '../frames/frame'
import type { Host } from '../net/host'
import { TunnelEnd, type TunnelSetup } from '../tunnels/tunnelEnd'

export type HostTunnel = Pick<TunnelSetup, 'identity' | 'peers' | 'mtu'> & {
  readonly id: string
  readonly port: number
}

export class HostTunnels {
  private readonly ends = new Map<string, { as: string; port: number; end: TunnelEnd }>()

  constructor(
    private readonly queue: EventQueue,
    private readonly host: Host,
  ) {}

  end(tunnelId: string): TunnelEnd | undefined {
    return this.ends.get(tunnelId)?.end
  }

  /** Those begin anew of which something else was set. */
  set(tunnels: readonly HostTunnel[]): void {
    for (const [id, { end }] of this.ends)
      if (!tunnels.some((t) => t.id === id)) {
        end.stop()
        this.ends.delete(id)
      }
    for (const t of tunnels) {
      const as = JSON.stringify(t)
      const before = this.ends.get(t.id)
      if (before?.as === as) continue
      before?.end.stop()
      const end = new TunnelEnd(
        this.queue,
        { ...t, address: null, length: 32 },
        {
          send: (to, data) => this.host.endpoint.udp(to.address, t.port, to.port, data),
          resolve: (_, done) => done(null),
        },
      )
      end.onPacket = (packet) => {
        // Between two of its tunnels it passes on by itself.
        if (!this.passOn(packet)) this.host.passOn(packet)
      }
      this.ends.set(t.id, { as, port: t.port, end })
    }
  }

  /** Into whichever leads there by the longest prefix. Gives whether one does. */
  passOn(packet: Packet): boolean {
    let best: TunnelEnd | undefined
    let length = -1
    for (const { end } of this.ends.values())
      if (end.leads(packet.dst) > length) [best, length] = [end, end.leads(packet.dst)]
    if (best && octetsOf(packet) <= best.mtu) best.send(packet)
    return best !== undefined
  }

  /** Gives whether it was for one of them. */
  receive(packet: Packet): boolean {
    const { src, dst, body } = packet
    if (body.protocol !== 'udp' || body.data.kind !== 'sealed') return false
    for (const { port, end } of this.ends.values())
      if (port === body.dstPort) {
        end.receive(body.data, { address: src, port: body.srcPort, by: dst })
        return true
      }
    return false
  }
}
