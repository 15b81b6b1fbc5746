/**
 * A desk, a till, a phone, the controller's computer, the installer's laptop: one cable or one
 * radio.
 */
import type { Demand } from './stations'
import type { Behaviour } from './behaviour'
import { sameNetwork, toNumber, type Dhcp, type Mac, type Packet } from '../frames/frame'
import { DhcpServer, type DhcpServerSetup } from '../net/dhcpServer'
import { Host, type Addressing } from '../net/host'
import { Socket } from '../net/socket'
import { Box, type Surroundings } from './box'
import { HostTunnels, type HostTunnel } from './hostTunnels'

export interface HostSetup {
  readonly mac: Mac
  /** Null asks for a lease. */
  readonly fixed: Addressing | null
  readonly ports: readonly number[]
  readonly udpPorts: readonly number[]
  readonly bootSeconds: number
  readonly tunnels: readonly HostTunnel[]
  /** The segments that it hands out leases for, whose gateway passes their requests on to it. */
  readonly scopes: readonly (DhcpServerSetup & { readonly network: number })[]
  readonly radio: {
    readonly networkName: string
    readonly key: string | null
    /** What is typed at the page for guests, where it asks for a password. */
    readonly pagePassword: string | null
  } | null
}

/** What a box that hands out leases as it comes from the factory gives away. */
const STRAY = {
  own: '192.168.66.1',
  first: '192.168.66.100',
  last: '192.168.66.200',
  length: 24,
  leaseSeconds: 600,
}

export class HostBox extends Box {
  readonly host: Host
  /** The one socket that it uses: its cable or its radio. */
  readonly socket: Socket
  readonly tunnels: HostTunnels
  ready = false
  private run = 0
  /** What was given in each network, kept over a restart. */
  private readonly leases = new Map<string, Map<string, number>>()

  constructor(
    around: Surroundings,
    id: string,
    portNames: readonly string[],
    public setup: HostSetup,
  ) {
    super(around, id, portNames)
    this.socket = setup.radio
      ? new Socket(around.queue, this, 'air', around.counter)
      : this.sockets.get(portNames[0]!)!
    if (setup.radio) this.sockets.set('air', this.socket)
    this.host = new Host(around.queue, setup.mac, (frame) => this.socket.send(frame), around.random)
    this.tunnels = new HostTunnels(around.queue, this.host)
    this.socket.onFrame = (frame) => {
      if (this.ready && frame.tag === null) this.host.net.receive(frame)
    }
    this.socket.onLink = (up) => this.linkChanged(up)
    const plain = this.host.net.onPacket
    this.host.net.onPacket = (packet, from) => {
      if (
        packet.body.protocol === 'udp' &&
        packet.body.dstPort === 67 &&
        packet.body.data.kind === 'dhcp'
      )
        this.stray?.receive(packet.body.data)
      // What is for somebody at the other end of its tunnel is passed on into it.
      if (packet.dst === this.host.address || !this.tunnels.passOn(packet)) plain(packet, from)
    }
    this.listen()
  }

  /** What it moves where somebody told it to; null is what its kind usually does. */
  demands: Demand | null = null

  /** A datagram of a tunnel for somebody who uses its cable. */
  onSealed: (packet: Packet) => void = () => {}
  private stray: DhcpServer | undefined
  /** Lets it hand out leases of its own, or no longer. */
  setStray(on: boolean): void {
    const own = toNumber(STRAY.own)
    this.stray = on
      ? new DhcpServer(
          {
            own,
            pools: [{ first: toNumber(STRAY.first), last: toNumber(STRAY.last) }],
            reservations: new Map(),
            options: {
              length: STRAY.length,
              router: own,
              nameServer: own,
              leaseSeconds: STRAY.leaseSeconds,
              vendor: null,
            },
          },
          (to, packet) => this.host.net.sendTo(to, packet),
        )
      : undefined
  }

  private listen(): void {
    this.tunnels.set(this.setup.tunnels)
    this.host.endpoint.listening.clear()
    this.host.endpoint.answering.clear()
    for (const port of this.setup.udpPorts) this.host.endpoint.answering.add(port)
    for (const port of this.setup.ports) this.host.endpoint.listening.set(port, () => 'ok')
    const servers = this.setup.scopes.map((s) => ({
      scope: s,
      server: new DhcpServer(
        s,
        (_, packet) => this.answer(packet),
        this.leasesOf(s.own, s.network),
      ),
    }))
    this.host.endpoint.onUdp = ({ data }, packet) => {
      const { src } = packet
      if (data.kind === 'sealed' && !this.tunnels.receive(packet)) this.onSealed(packet)
      if (data.kind === 'dhcp')
        servers
          .find(({ scope }) => sameNetwork(data.relay || src, scope.network, scope.options.length))
          ?.server.receive(data)
    }
  }

  private leasesOf(own: number, network: number): Map<string, number> {
    const key = `${own} ${network}`
    const known = this.leases.get(key) ?? new Map<string, number>()
    this.leases.set(key, known)
    return known
  }

  /** Back to the gateway that passed the request on, or to the client that asked by itself. */
  private answer({ body }: Packet): void {
    if (body.protocol !== 'udp') return
    const data = body.data as Dhcp
    if (data.relay) this.host.endpoint.udp(data.relay, 67, 67, data)
    else this.host.endpoint.udp(data.address, 67, 68, data)
  }

  override setPower(on: boolean): void {
    if (this.powered === on) return
    this.ready = false
    const run = ++this.run
    super.setPower(on)
    if (!on) {
      this.host.stop()
      return
    }
    this.around.queue.after(this.setup.bootSeconds, () => {
      if (this.run !== run || !this.powered) return
      this.ready = true
      this.ask()
    })
  }

  change(setup: HostSetup): void {
    const before = JSON.stringify(this.setup.fixed)
    this.setup = setup
    this.listen()
    if (this.ready && JSON.stringify(setup.fixed) !== before) this.ask()
  }

  ask(): void {
    if (this.setup.fixed) this.host.setFixed(this.setup.fixed)
    else if (this.socket.up) this.host.dhcp.start()
    else this.host.stop()
  }

  private linkChanged(up: boolean): void {
    if (!this.ready || this.setup.fixed) return
    if (up) this.host.dhcp.start()
    else this.host.stop()
  }
}

/** What a person typed into a host: an address with the mask of its subnet, and its gateway. */
export function typedAddress(
  address: string,
  subnet: string | null,
  gateway: string | null,
): Addressing {
  return {
    address: toNumber(address),
    length: subnet ? Number(subnet.split('/')[1]) : 24,
    gateway: gateway ? toNumber(gateway) : null,
  }
}

export const hosts: Behaviour = {
  is: ({ kind }) => kind === 'host' || kind === 'controller',
  make: ({ around, device, portNames, hostSetup }) =>
    new HostBox(around, device.id, portNames, hostSetup()),
}
