/**
 * The gateway: a switch inside, an interface in every VLAN, the lines outside, leases, names, rules,
 * translation.
 */
import type { Behaviour } from './behaviour'
import type { Profile } from '@mast/core/plan'
import type { GatewayConfiguration, LineState } from '@mast/protocol'
import {
  ALL_HOSTS,
  encodeUri,
  encodeVendor,
  toNumber,
  type Dhcp,
  type Frame,
  type Packet,
} from '../frames/frame'
import { DhcpServer } from '../net/dhcpServer'
import type { Endpoint } from '../net/endpoint'
import { NetInterface } from '../net/netInterface'
import { Router, type Place } from '../net/router'
import { spansIn } from '../tunnels/span'
import { Appliance, type ApplianceSurroundings, type Flash } from './appliance'
import { GatewayLines } from './gatewayLines'
import { GatewayNames } from './gatewayNames'
import { GatewayTunnels } from './gatewayTunnels'
import { FACTORY_VLAN, untaggedOnly } from './pageHost'

/** How often it asks while it is as from its box (common practice), s. */
const LOOKS_OUT_SECONDS = 20
const TIME_PORT = 123

type Rules = GatewayConfiguration['rules']
const anything: Omit<Rules[number], 'chain' | 'from' | 'to'> = {
  family: 'any',
  sources: null,
  destinations: null,
  protocol: 'any',
  ports: [],
  states: ['new'],
  forwarded: 'too',
  hours: null,
  verdict: 'accept',
}
const openRules: Rules = [
  { ...anything, chain: 'input', from: [FACTORY_VLAN], to: 'any' },
  { ...anything, chain: 'forward', from: [FACTORY_VLAN], to: ['line'] },
]

export class Gateway extends Appliance {
  private readonly router: Router
  private readonly dhcpServers = new Map<Place, DhcpServer>()
  /** What was given in each network, kept over a restart. */
  private readonly leases = new Map<string, Map<string, number>>()
  private readonly lines: GatewayLines
  readonly tunnels: GatewayTunnels
  private readonly dynamicNames: GatewayNames

  constructor(
    around: ApplianceSurroundings,
    id: string,
    profile: Profile,
    hardwareAddress: string,
    flash: Flash,
  ) {
    super(around, id, profile, hardwareAddress, flash)
    this.router = new Router(around.queue)
    this.lines = new GatewayLines(this, this.router)
    this.tunnels = new GatewayTunnels(
      this.router,
      around.queue,
      (zone) => around.ownTunnelKey?.(zone) ?? null,
      () => this.lines.names,
      () => around.random(),
    )
    this.dynamicNames = new GatewayNames(this.router, around.queue)
    for (const p of profile.ports)
      if (p.role === 'lan')
        this.bridge.attach(p.name, this.sockets.get(p.name)!, untaggedOnly(null))
    this.router.onLocalUdp = (zone, packet) => this.local(zone, packet)
  }

  get endpoint(): Endpoint {
    return this.router.endpoint
  }
  private get configured(): GatewayConfiguration | null {
    return this.flash.configuration?.kind === 'gateway' ? this.flash.configuration : null
  }
  get address(): number | null {
    const vlan = this.configured
      ? (this.configured.segments[0]?.vlan ?? FACTORY_VLAN)
      : FACTORY_VLAN
    return this.router.interfaces.get(vlan)?.address ?? null
  }
  protected nameServer(): number | null {
    return null
  }

  /** Of the first line that has one. */
  get lineAddress(): number | null {
    return this.router.lineAddresses()[0] ?? null
  }
  /** Whether a line can be gone by, by its socket. */
  leadsBy(port: string): boolean {
    return this.lines.leadsBy(port)
  }
  protected override lineStates(): LineState[] {
    return this.lines.states
  }
  /** Takes nothing at a port of UDP any more, whatever its rules say, or again. */
  shut(port: number, on: boolean): void {
    if (on) this.router.shut.add(port)
    else this.router.shut.delete(port)
  }
  /** Passes nothing on that comes out of a tunnel, whatever its rules say, or again. */
  deafen(tunnelId: string, on: boolean): void {
    if (on) this.router.deaf.add(`tunnel:${tunnelId}`)
    else this.router.deaf.delete(`tunnel:${tunnelId}`)
  }
  /** Somebody says that lines which were left are used again. Gives how many there were. */
  useAgain(): number {
    return this.lines.useAgain()
  }
  /**
   * The provider did something to the line; the gateway asks again, as it would within its retry
   * time.
   */
  askAgain(): void {
    this.lines.askAgain()
  }

  private leasesOf(network: string): Map<string, number> {
    const known = this.leases.get(network) ?? new Map<string, number>()
    this.leases.set(network, known)
    return known
  }

  protected bringUp(): void {
    const c = this.configured ?? this.factory()
    const taps = new Map<number, (frame: Frame) => void>()
    for (const s of c.segments) {
      const [address, length] = s.address.split('/') as [string, string]
      const net = new NetInterface(this.around.queue, this.hardwareAddress, (frame) =>
        this.bridge.fromTap(s.vlan, frame),
      )
      net.set(toNumber(address), Number(length))
      this.router.attach(s.vlan, net)
      taps.set(s.vlan, (frame) => net.receive(frame))
      if (s.dhcp) {
        const { dhcp } = s
        this.dhcpServers.set(
          s.vlan,
          new DhcpServer(
            {
              own: toNumber(address),
              pools: dhcp.pools.map((p) => ({ first: toNumber(p.first), last: toNumber(p.last) })),
              reservations: new Map(
                dhcp.reservations.map((r) => [r.hardwareAddress, toNumber(r.address)]),
              ),
              options: {
                length: Number(length),
                router: toNumber(address),
                nameServer: toNumber(dhcp.nameServers[0]!),
                leaseSeconds: dhcp.leaseSeconds,
                vendor: dhcp.controllerUrl ? encodeVendor(dhcp.controllerUrl) : null,
                bootstrap: dhcp.bootstrapUrl ? encodeUri(dhcp.bootstrapUrl) : null,
              },
            },
            (to, packet) => net.sendTo(to, packet),
            this.leasesOf(s.address),
          ),
        )
      }
    }
    this.bridge.setTaps(taps)
    for (const p of c.ports)
      this.bridge.setMembership(p.name, {
        untagged: p.untagged,
        tagged: new Set(p.tagged),
        isolated: new Set(p.isolated),
        leaseGuard: p.leaseGuard,
      })
    this.router.filter(c)
    this.router.wallClock = () => this.around.wallClock(c.system.timeZone)
    this.router.masquerade = new Set(c.masquerade)
    this.router.routes = c.routes.flatMap(({ to, via }) =>
      spansIn([to]).map((span) => ({ to: span, via: toNumber(via) })),
    )
    this.lines.bringUp(c)
    this.tunnels.bringUp(c)
    this.dynamicNames.bringUp(c)
    this.endpoint.answering.add(TIME_PORT)
    for (const port of this.around.controllerInside?.(this.id) ?? [])
      this.endpoint.listening.set(port, () => 'controller')
    if (this.configured) this.addressed(null)
    else this.lookOut()
  }

  /** As from its box: once a line gives it an address, it asks who waits for it. */
  private lookOut(): void {
    const again = (): void => this.later(LOOKS_OUT_SECONDS, () => this.lookOut())
    if (this.lineAddress === null) again()
    else this.askMeetingPoint(again)
  }
  protected override seekAgain(): void {
    if (this.configured) this.addressed(null)
    else this.lookOut()
  }
  protected override lookUp(name: string, done: (address: number | null) => void): void {
    const server = this.lines.names
    if (server === null) done(null)
    else this.endpoint.resolve(server, name, done)
  }

  protected bringDown(): void {
    this.tunnels.bringDown()
    this.dynamicNames.bringDown()
    this.lines.bringDown()
    for (const p of this.profile.ports)
      if (p.role === 'lan') this.bridge.setMembership(p.name, untaggedOnly(null))
    this.bridge.setTaps(new Map())
    this.dhcpServers.clear()
    this.router.reset()
  }

  /**
   * As from its box: a LAN of its own where its profile has one, and the first socket for a line,
   * if there is any.
   */
  private factory(): GatewayConfiguration {
    const { address } = this.profile.factory
    const own = address?.split('/')[0] ?? ''
    const base = own.split('.').slice(0, 3).join('.')
    const socket = this.profile.ports.find((p) => p.role === 'wan')
    return {
      kind: 'gateway',
      name: '',
      system: {
        hostName: '',
        timeZone: 'UTC',
        timeServers: [],
        banner: '',
        logTo: null,
        monitoring: null,
        neighbours: false,
        spanningTree: null,
        pageFrom: [],
      },
      controllerUrl: null,
      names: [],
      origins: [],
      addressLists: {},
      rules: openRules,
      forwards: [],
      masquerade: [FACTORY_VLAN],
      tunnels: [],
      routes: [],
      dynamicNames: [],
      failover: { back: { kind: 'at-once' }, switchSeconds: 0 },
      choices: [],
      segments:
        address === null
          ? []
          : [
              {
                vlan: FACTORY_VLAN,
                name: 'factory',
                address,
                relayTo: null,
                dhcp: {
                  pools: [{ first: `${base}.100`, last: `${base}.200` }],
                  leaseSeconds: 3600,
                  reservations: [],
                  nameServers: [own],
                  timeServers: [],
                  routes: [],
                  domain: null,
                  controllerUrl: null,
                },
              },
            ],
      ports: this.profile.ports
        .filter((p) => p.role === 'lan')
        .map((p) => ({
          name: p.name,
          untagged: FACTORY_VLAN,
          tagged: [],
          isolated: [],
          mode: 'access',
          description: '',
          edge: false,
          edgeGuard: false,
          leaseGuard: false,
          routerGuard: false,
          stormPercent: null,
        })),
      lines: socket
        ? [
            {
              port: socket.name,
              vlan: null,
              priority: 0,
              mtu: 1500,
              mode: 'automatic',
              user: null,
              password: null,
              address: null,
              gateway: null,
              nameServers: [],
              hardwareAddress: null,
              speedMbps: null,
              segmentSize: null,
              group: 0,
              weight: 1,
              standby: 'hot',
              watch: null,
              inspected: false,
            },
          ]
        : [],
    }
  }

  /**
   * Answers for the segments whose leases it hands out; passes the others on to their server and
   * its answers back (RFC 1542 4).
   */
  private lease(zone: Place, data: Dhcp): void {
    if (data.op === 'offer' || data.op === 'ack' || data.op === 'nak') {
      const back = [...this.router.interfaces.values()].find(
        (i) => i instanceof NetInterface && i.address === data.relay && data.relay !== 0,
      ) as NetInterface | undefined
      back?.sendTo(data.client, {
        kind: 'ipv4',
        src: data.relay,
        dst: ALL_HOSTS,
        ttl: 64,
        body: { protocol: 'udp', srcPort: 67, dstPort: 68, data },
      })
      return
    }
    const relayTo = this.configured?.segments.find((s) => s.vlan === zone)?.relayTo
    const own = this.router.interfaces.get(zone)?.address
    if (relayTo && own) this.endpoint.udp(toNumber(relayTo), 67, 67, { ...data, relay: own }, own)
    else this.dhcpServers.get(zone)?.receive(data)
  }

  private local(zone: Place, packet: Packet): void {
    if (packet.body.protocol !== 'udp') return
    const { data, srcPort } = packet.body
    if (data.kind === 'dhcp') {
      this.lease(zone, data)
      return
    }
    if (data.kind === 'sealed' || data.kind === 'ike') {
      this.tunnels.receive(packet)
      return
    }
    if (data.kind === 'datagram') {
      this.endpoint.receive(packet)
      return
    }
    if (data.kind !== 'dns' || data.isReply || packet.body.dstPort !== 53) return
    const answer = (address: number | null): void =>
      this.endpoint.udp(
        packet.src,
        53,
        srcPort,
        { ...data, answer: address, isReply: true },
        packet.dst,
      )
    const own = this.configured?.names.find((n) => n.name === data.name)
    if (own) answer(toNumber(own.address))
    else if (this.lines.names !== null) this.endpoint.resolve(this.lines.names, data.name, answer)
  }
}

export const gateways: Behaviour = {
  is: ({ kind }) => kind === 'gateway',
  make: ({ around, device, profile, hardwareAddress, flash }) =>
    new Gateway(around, device.id, profile, hardwareAddress, flash()),
}
