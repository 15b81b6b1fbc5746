/**
 * The lines of a gateway as they run: how each gets its address, what its tests say of it, which are
 * on, and which are gone by.
 */
import type { Profile } from '@mast/core/plan'
import type { GatewayConfiguration, LineState } from '@mast/protocol'
import { BROADCAST, toNumber, toText } from '../frames/frame'
import { DhcpClient } from '../net/dhcpClient'
import { LineWatch } from '../net/lineWatch'
import { NetInterface } from '../net/netInterface'
import { PppoeClient } from '../net/pppoe'
import { lineAt, type LineSetup, type Router } from '../net/router'
import type { Socket } from '../net/socket'
import type { ApplianceSurroundings } from './appliance'

/** What a server of names is asked for, to see whether it answers. */
const ASKED_NAME = 'www.example.net'

/** What its lines need of a gateway. */
interface Housing {
  readonly id: string
  readonly around: ApplianceSurroundings
  readonly profile: Profile
  readonly hardwareAddress: string
  readonly sockets: ReadonlyMap<string, Socket>
}
type Configured = Pick<GatewayConfiguration, 'lines' | 'failover' | 'choices'>
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

export class GatewayLines {
  /** By socket, in their order. */
  private readonly lines = new Map<string, Line>()
  private configured: Configured = {
    lines: [],
    failover: { back: { kind: 'at-once' }, switchSeconds: 0 },
    choices: [],
  }

  constructor(
    private readonly box: Housing,
    private readonly router: Router,
  ) {}

  bringUp(configured: Configured): void {
    this.configured = configured
    this.router.choices = configured.choices.map((choice) => ({
      ...choice,
      lines: choice.lines.map(lineAt),
    }))
    for (const [nth, line] of configured.lines.entries()) this.bringUpLine(line, line.group ?? nth)
  }

  bringDown(): void {
    for (const { client, dialler, watch, socket } of this.lines.values()) {
      client?.stop()
      dialler?.stop()
      watch?.stop()
      socket.onFrame = () => {}
      socket.onLink = () => {}
    }
    this.lines.clear()
  }

  /** Whether the line of a socket can be gone by. */
  leadsBy(port: string): boolean {
    const line = this.lines.get(port)
    return line !== undefined && this.leads(line)
  }
  /** By whom names outside are found: by who answers on the first that is gone by. */
  get names(): number | null {
    const all = [...this.lines.values()].filter((l) => l.setup.gateway !== null)
    // Where all are taken to be dead, the first is tried all the same.
    return (all.find((l) => l.setup.isUsable) ?? all[0])?.names ?? null
  }
  get states(): LineState[] {
    return [...this.lines].map(([port, line]) => {
      const address = this.router.interfaces.get(lineAt(port))?.address ?? null
      return {
        port,
        up: line.socket.up,
        address: address === null ? null : toText(address),
        signIn: line.dialler?.signIn ?? null,
        alive: line.watch?.isAlive ?? null,
      }
    })
  }
  private otherLines(port: string): boolean {
    return this.configured.lines.some((l) => l.port !== port)
  }

  private bringUpLine(line: LineConfiguration, group: number): void {
    const socket = this.box.sockets.get(line.port)
    if (!socket) return
    const mac = line.hardwareAddress ?? this.outerAddress(line.port)
    if (line.mode === 'pppoe') {
      this.dial(line, group, socket, mac)
      return
    }
    const net = new NetInterface(this.box.around.queue, mac, (frame) =>
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
    const client = new DhcpClient(this.box.around.queue, net, this.box.around.random, (lease) => {
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
    const groups = this.configured.lines.map((l, nth) => l.group ?? nth)
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
    const { switchSeconds } = this.configured.failover
    const { queue } = this.box.around
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
    // Also where an earlier configuration let it sleep.
    this.box.around.modem?.(this.box.id, is.port, line.isOn)
    if (line.isOn) {
      this.watchOver(line)
      line.start()
    }
  }

  private watchOver(line: Line): void {
    const { watch } = line.is
    const { back } = this.configured.failover
    if (!watch) return
    line.watch = new LineWatch(
      this.box.around.queue,
      watch,
      (answered) => this.askBy(line, answered),
      () => line.socket.up,
      back.kind === 'after-quiet' ? back.seconds : 0,
      () => this.judged(line, () => line.watch?.isAlive ?? true),
    )
    line.watch.start(this.box.around.random() * watch.intervalSeconds)
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
      this.configured.failover.back.kind === 'by-hand' &&
      this.otherLines(line.is.port)
    )
      line.isHeld = true
    if (!isAlive) this.lookAround(line)
    this.box.around.queue.after(this.configured.failover.switchSeconds, () => {
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
    this.box.around.modem?.(this.box.id, next.is.port, true)
    if (next.socket.up) this.woken(next)
  }

  /** One that was switched on has its signal; what follows takes its time. */
  private woken(line: Line): void {
    line.wakes = false
    this.watchOver(line)
    line.start()
    this.box.around.queue.after(this.configured.failover.switchSeconds, () => {
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
      this.box.around.modem?.(this.box.id, line.is.port, false)
    }
  }

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
    const { endpoint } = this.router
    for (const { kind, target, port } of tests) {
      const ask = (address: number): void => {
        if (kind === 'ping')
          endpoint.ping(address, (a) => a === 'works' && answered(), undefined, 1, by)
        else if (kind === 'dns')
          endpoint.resolve(address, ASKED_NAME, (a) => a !== null && answered(), 1, by)
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

  private dial(line: LineConfiguration, group: number, socket: Socket, mac: string): void {
    const client: PppoeClient = new PppoeClient(
      this.box.around.queue,
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
    const octets = this.box.hardwareAddress.split(':')
    const lines = this.box.profile.ports.filter((p) => p.role === 'wan').map((p) => p.name)
    const nth = 1 + Math.max(0, lines.indexOf(port))
    octets[5] = ((parseInt(octets[5]!, 16) + nth) & 255).toString(16).padStart(2, '0')
    return octets.join(':')
  }

  askAgain(): void {
    for (const line of this.lines.values()) if (line.isOn && line.is.mode !== 'fixed') line.start()
  }
}
