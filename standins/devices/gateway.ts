/**
 * The gateway: a switch inside, an interface in every VLAN, the lines outside, leases, names, rules,
 * translation.
 */
import type { Behaviour } from './behaviour'
import type { Profile } from '@mast/core/plan'
import type { GatewayConfiguration, LineState } from '@mast/protocol'
import {
  ALL_HOSTS,
  BROADCAST,
  encodeVendor,
  toNumber,
  toText,
  type Dhcp,
  type Frame,
  type Packet,
} from '../frames/frame'
import { DhcpClient } from '../net/dhcpClient'
import { DhcpServer } from '../net/dhcpServer'
import type { Endpoint } from '../net/endpoint'
import { NetInterface } from '../net/netInterface'
import { PppoeClient } from '../net/pppoe'
import type { Socket } from '../net/socket'
import { LineWatch } from '../net/lineWatch'
import { lineAt, Router, type LineSetup, type Place } from '../net/router'
import { Appliance, type ApplianceSurroundings, type Flash } from './appliance'
import { FACTORY_VLAN, untaggedOnly } from './pageHost'

type Rules = GatewayConfiguration['rules']
type LineConfiguration = GatewayConfiguration['lines'][number]
/** A line as it runs. */
interface Line {
  readonly is: LineConfiguration
  readonly socket: Socket
  readonly setup: LineSetup
  /** Of a line that is asked whether it leads anywhere. */
  watch: LineWatch | null
  /** Was left, and waits for somebody to say that it is used again. */
  isHeld: boolean
  /** Of one that is switched on when it is needed: whether it is on. */
  isOn: boolean
  /** Whether it was switched on and has no signal yet. */
  wakes: boolean
  /** Begins and ends asking for an address. */
  readonly start: () => void
  readonly stop: () => void
  /** Who finds names for it. */
  names: number | null
  client: DhcpClient | undefined
  dialler: PppoeClient | undefined
}
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
  /** By socket, in their order. */
  private readonly lines = new Map<string, Line>()

  constructor(
    around: ApplianceSurroundings,
    id: string,
    profile: Profile,
    hardwareAddress: string,
    flash: Flash,
  ) {
    super(around, id, profile, hardwareAddress, flash)
    this.router = new Router(around.queue)
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

  /** The socket of the first line that is gone by; null where none leads anywhere. */
  get lineUsed(): string | null {
    const all = [...this.lines].sort(([, a], [, b]) => a.setup.group - b.setup.group)
    return all.find(([, l]) => this.leads(l))?.[0] ?? null
  }
  /** Of the first line that has one. */
  get lineAddress(): number | null {
    return this.router.lineAddresses()[0] ?? null
  }
  /** By whom names outside are found: by who answers on the first line that leads anywhere. */
  private get upstreamNames(): number | null {
    for (const { setup, names } of this.lines.values())
      if (setup.gateway !== null && setup.isUsable) return names
    return null
  }

  protected override lineStates(): LineState[] {
    return [...this.lines].map(([port, line]) => {
      const address = this.router.interfaces.get(lineAt(port))?.address ?? null
      return {
        port,
        up: this.sockets.get(port)?.up ?? false,
        address: address === null ? null : toText(address),
        signIn: line.dialler?.signIn ?? null,
        alive: line.watch?.isAlive ?? null,
      }
    })
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
    this.router.choices = c.choices.map((choice) => ({
      ...choice,
      lines: choice.lines.map(lineAt),
    }))
    for (const [nth, line] of c.lines.entries()) this.bringUpLine(line, line.group ?? nth)
    if (this.configured) this.addressed(null)
  }

  private bringUpLine(line: LineConfiguration, group: number): void {
    const socket = this.sockets.get(line.port)
    if (!socket) return
    const mac = line.hardwareAddress ?? this.outerAddress(line.port)
    if (line.mode === 'pppoe') {
      this.dial(line, group, socket, mac)
      return
    }
    const net = new NetInterface(this.around.queue, mac, (frame) =>
      socket.send({ ...frame, tag: line.vlan }),
    )
    socket.onFrame = (frame) => {
      if (frame.tag === line.vlan) net.receive({ ...frame, tag: null })
    }
    const { mtu, weight } = line
    const setup = this.router.attachLine(line.port, net, { mtu, group, weight })
    if (line.mode === 'fixed' && line.address) {
      const [address, length] = line.address.split('/') as [string, string]
      const stand = (up: boolean): void => {
        net.set(toNumber(address), Number(length))
        setup.gateway = up && line.gateway ? toNumber(line.gateway) : null
        kept.names = line.nameServers[0] ? toNumber(line.nameServers[0]) : null
      }
      // Without a signal nothing is sent by it, where another leads somewhere.
      const follows = this.otherLines(line.port)
      const kept = this.keep(line, socket, setup, {
        start: () => stand(!follows || socket.up),
        stop: () => stand(false),
      })
      this.begin(kept, follows ? stand : () => {})
      return
    }
    const client = new DhcpClient(this.around.queue, net, this.around.random, (lease) => {
      net.set(lease?.address ?? null, lease?.options.length ?? 0)
      setup.gateway = lease?.options.router ?? null
      kept.names = lease?.options.nameServer ?? null
    })
    const plain = net.onPacket
    net.onPacket = (packet, from) => {
      if (!(packet.body.protocol === 'udp' && client.receive(packet.body))) plain(packet, from)
    }
    const kept = this.keep(line, socket, setup, {
      start: () => client.start(),
      stop: () => {
        client.stop()
        net.set(null, 0)
        setup.gateway = null
      },
    })
    kept.client = client
    this.begin(kept, (up) => (up ? kept.start() : kept.stop()))
  }

  /** What is kept of a line; nothing is sent by it before `begin`. */
  private keep(
    is: LineConfiguration,
    socket: Socket,
    setup: LineSetup,
    acts: Pick<Line, 'start' | 'stop'>,
  ): Line {
    const groups = this.configured?.lines.map((l, nth) => l.group ?? nth) ?? []
    const line: Line = {
      is,
      socket,
      setup,
      names: null,
      client: undefined,
      dialler: undefined,
      watch: null,
      isHeld: false,
      wakes: false,
      // What is used first is on all the time.
      isOn: is.standby === 'hot' || setup.group <= Math.min(...groups),
      ...acts,
    }
    this.lines.set(is.port, line)
    return line
  }

  /**
   * @param act what it does by itself when its signal comes or goes
   */
  private begin(line: Line, act: (up: boolean) => void): void {
    const { is, socket } = line
    const { switchSeconds } = this.failover
    const { queue } = this.around
    socket.onLink = (up) => {
      if (up && line.isOn && line.wakes) this.woken(line)
      line.watch?.link(up)
      if (!line.watch && line.isOn && this.otherLines(is.port)) this.judged(line, () => socket.up)
      if (!line.isOn) return
      if (up) act(true)
      // Where a signal is counted like any test, the tests tell.
      else if (is.watch?.linkLoss !== 'counted')
        queue.after(switchSeconds, () => {
          if (this.lines.get(is.port) === line && !socket.up) act(false)
        })
    }
    if (line.isOn) {
      this.watchOver(line)
      line.start()
    } else this.around.modem?.(this.id, is.port, false)
  }

  private watchOver(line: Line): void {
    const { watch } = line.is
    const { back } = this.failover
    if (!watch) return
    line.watch = new LineWatch(
      this.around.queue,
      watch,
      (answered) => this.askBy(line, answered),
      () => line.socket.up,
      back.kind === 'after-quiet' ? back.seconds : 0,
      () => this.judged(line, () => line.watch?.isAlive ?? true),
    )
    line.watch.start(this.around.random() * watch.intervalSeconds)
  }

  private get failover(): GatewayConfiguration['failover'] {
    return this.configured?.failover ?? { back: { kind: 'at-once' }, switchSeconds: 0 }
  }

  /** A line is taken to be dead, or alive again: what follows takes its time. */
  private judged(line: Line, isAliveNow: () => boolean): void {
    const isAlive = isAliveNow()
    const isUsed = ![...this.lines.values()].some(
      (l) => l.setup.group < line.setup.group && this.leads(l),
    )
    if (
      !isAlive &&
      isUsed &&
      this.failover.back.kind === 'by-hand' &&
      this.otherLines(line.is.port)
    )
      line.isHeld = true
    if (!isAlive) this.lookAround(line)
    this.around.queue.after(this.failover.switchSeconds, () => {
      if (this.lines.get(line.is.port) !== line || isAliveNow() !== isAlive) return
      line.setup.isUsable = isAlive && !line.isHeld
      this.sendToSleep()
    })
  }

  /** Whether a line can be gone by. */
  private leads({ setup }: Line): boolean {
    return setup.isUsable && setup.gateway !== null
  }

  /** Where nothing that is on leads anywhere, the next that sleeps is switched on. */
  private lookAround(dead: Line): void {
    const all = [...this.lines.values()]
    if (all.some((l) => l !== dead && l.isOn && this.leads(l))) return
    const next = all.find((l) => !l.isOn)
    if (!next) return
    next.isOn = true
    next.wakes = true
    next.setup.isReady = false
    this.around.modem?.(this.id, next.is.port, true)
    if (next.socket.up) this.woken(next)
  }

  /** One that was switched on has its signal; what follows takes its time. */
  private woken(line: Line): void {
    line.wakes = false
    this.watchOver(line)
    line.start()
    this.around.queue.after(this.failover.switchSeconds, () => {
      if (this.lines.get(line.is.port) === line && line.isOn) line.setup.isReady = true
    })
  }

  /** What was switched on sleeps again once a line before it is used. */
  private sendToSleep(): void {
    const all = [...this.lines.values()]
    for (const line of all) {
      const isBehind = all.some((l) => l.setup.group < line.setup.group && this.leads(l))
      if (line.is.standby !== 'cold' || !line.isOn || !isBehind) continue
      line.isOn = false
      line.wakes = false
      line.watch?.stop()
      line.watch = null
      line.setup.isUsable = true
      line.stop()
      this.around.modem?.(this.id, line.is.port, false)
    }
  }

  /** Somebody says that lines which were left are used again. Gives how many there were. */
  useAgain(): number {
    const held = [...this.lines.values()].filter((l) => l.isHeld)
    for (const line of held) {
      line.isHeld = false
      line.setup.isUsable = line.watch?.isAlive ?? true
    }
    this.sendToSleep()
    return held.length
  }

  /** One round of questions, each by the line itself. */
  private askBy(line: Line, answered: () => void): void {
    const src = this.router.interfaces.get(lineAt(line.is.port))?.address
    if (src === null || src === undefined) return
    const { tests, answerSeconds: seconds } = line.is.watch!
    const by = { src, seconds }
    const { endpoint } = this
    for (const { kind, target, port } of tests) {
      const ask = (address: number): void => {
        if (kind === 'ping')
          endpoint.ping(address, (a) => a === 'works' && answered(), undefined, 1, by)
        else if (kind === 'dns')
          endpoint.resolve(address, target, (a) => a !== null && answered(), 1, by)
        else
          endpoint.connect(
            address,
            port ?? 80,
            (a) => (a === 'works' || a === 'refused') && answered(),
            undefined,
            1,
            by,
          )
      }
      if (/^[\d.]+$/.test(target)) ask(toNumber(target))
      else if (line.names !== null) {
        const names = line.names
        if (kind === 'dns') endpoint.resolve(names, target, (a) => a !== null && answered(), 1, by)
        else endpoint.resolve(names, target, (a) => a !== null && ask(a), 1, by)
      }
    }
  }

  private otherLines(port: string): boolean {
    return this.configured?.lines.some((l) => l.port !== port) ?? false
  }

  private dial(line: LineConfiguration, group: number, socket: Socket, mac: string): void {
    const client: PppoeClient = new PppoeClient(
      this.around.queue,
      mac,
      (frame) => socket.send({ ...frame, tag: line.vlan }),
      { user: line.user ?? '', password: line.password ?? '' },
      (up) => {
        setup.gateway = up?.peer ?? null
        kept.names = up?.nameServer ?? null
      },
    )
    const { mtu, weight } = line
    const setup = this.router.attachLine(line.port, client.net, { mtu, group, weight })
    socket.onFrame = (frame) => {
      if (
        frame.tag === line.vlan &&
        frame.payload.kind === 'pppoe' &&
        (frame.to === mac || frame.to === BROADCAST)
      )
        client.receive(frame.from, frame.payload)
    }
    const kept = this.keep(line, socket, setup, {
      start: () => client.start(),
      stop: () => client.stop(),
    })
    kept.dialler = client
    this.begin(kept, (up) => (up ? client.start() : client.stop()))
  }

  /** The sockets of lines have hardware addresses of their own, the next ones. */
  private outerAddress(port: string): string {
    const octets = this.hardwareAddress.split(':')
    const lines = this.profile.ports.filter((p) => p.role === 'wan').map((p) => p.name)
    const nth = 1 + Math.max(0, lines.indexOf(port))
    octets[5] = ((parseInt(octets[5]!, 16) + nth) & 255).toString(16).padStart(2, '0')
    return octets.join(':')
  }

  /**
   * The provider did something to the line; the gateway asks again, as it would within its retry
   * time.
   */
  askAgain(): void {
    for (const line of this.lines.values()) if (line.isOn && line.is.mode !== 'fixed') line.start()
  }

  protected bringDown(): void {
    for (const { client, dialler, watch } of this.lines.values()) {
      client?.stop()
      dialler?.stop()
      watch?.stop()
    }
    this.lines.clear()
    for (const p of this.profile.ports) {
      const socket = this.sockets.get(p.name)!
      if (p.role === 'lan') this.bridge.setMembership(p.name, untaggedOnly(null))
      else {
        socket.onFrame = () => {}
        socket.onLink = () => {}
      }
    }
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
    else if (this.upstreamNames !== null)
      this.endpoint.resolve(this.upstreamNames, data.name, answer)
  }
}

export const gateways: Behaviour = {
  is: ({ kind }) => kind === 'gateway',
  make: ({ around, device, profile, hardwareAddress, flash }) =>
    new Gateway(around, device.id, profile, hardwareAddress, flash()),
}
