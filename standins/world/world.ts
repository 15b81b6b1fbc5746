/**
 * One site as it stands on the ground: devices, cables, a line, hosts, a laptop, hands, and faults.
 * Knows of the plan what is physical.
 */
import { uplinksInOrder, type Device, type SitePlan, type Uplink } from '@mast/core/plan'
import { configurationSchema, type Observation, type Probe } from '@mast/protocol'
import type { HiddenWall } from '../air/air'
import { Clock } from '../clock/clock'
import { EventQueue } from '../clock/eventQueue'
import { seededRandom } from '../clock/random'
import { wallClockAt } from '../clock/wallClock'
import {
  type DrillAsked,
  type DrillSeen,
  type Hand,
  type HandReply,
  type Snapshot,
  type WorldDescription,
} from '../control/messages'
import { faultKey, kindOfFault, type Fault, type FaultWorld } from '../faults'
import { behaviourOf } from '../devices'
import { AccessPoint } from '../devices/accessPoint'
import {
  Appliance,
  factoryFlash,
  type ApplianceSurroundings,
  type Flash,
  type HttpReply,
  type HttpRequest,
} from '../devices/appliance'
import type { Box } from '../devices/box'
import { Gateway } from '../devices/gateway'
import { Guests } from '../devices/guests'
import { HostBox } from '../devices/hostBox'
import { goodPath, Provider } from '../devices/provider'
import { Outside } from '../outside/outside'
import { toNumber, toText } from '../frames/frame'
import type { Endpoint } from '../net/endpoint'
import { connect, disconnect, type Socket } from '../net/socket'
import { BridgeRadio } from '../devices/bridgeRadio'
import { BridgesOnAir } from './bridgesOnAir'
import { usualDemand } from './clientDemand'
import { ClientsOnAir } from './clientsOnAir'
import { controllerPorts, hostSetup, inventedAddress } from './hostSetup'
import { Factory } from '../zeroTouch/factory'
import { lineTruth } from './lineTruth'
import { passedOnPorts, peerTruths } from './peerTruth'
import { TunnelProbes } from './tunnelProbes'
import { runDrill } from './drill'
import { runProbe } from './probes'

const DEFAULT_SPEED = 60
const PAGE_TRIES = 60
const PAGE_PAUSE_SECONDS = 10

export type ControllerHttp = (request: HttpRequest) => Promise<HttpReply | null>

/** A world that stands still since something in it went wrong. */
export class WorldStopped extends Error {}

/** What is kept of a world while its process is down. */
export interface Saved {
  readonly description: WorldDescription
  readonly speed: number
  readonly seconds: number
  readonly faults: readonly Fault[]
  /** Ids of the lines that are plugged in. An earlier version knew of one. */
  readonly linesPlugged?: readonly string[]
  readonly linePlugged?: boolean
  /** How antennas were turned by hand. */
  readonly turned?: Readonly<Record<string, { across: number; up: number }>>
  readonly boxes: Readonly<
    Record<string, { powered: boolean; placed: boolean; flash: Flash | null }>
  >
}

export class World implements FaultWorld {
  readonly queue = new EventQueue()
  readonly clock: Clock
  readonly boxes = new Map<string, Box>()
  readonly laptop: HostBox
  /** By line. */
  readonly providers = new Map<string, Provider>()
  private laptopAt: string | null = null
  private readonly plugged = new Set<string>()
  private readonly faults = new Map<string, Fault>()
  /** What the units with the other label remember, while a serial is mistyped or was. */
  private readonly memories = new Map<string, Flash>()
  private readonly around: ApplianceSurroundings
  readonly guests = new Guests(this.queue)
  readonly onAir = new ClientsOnAir(this)
  readonly bridges = new BridgesOnAir(this)
  readonly outside = new Outside(this.queue)
  private readonly tunnelProbes = new TunnelProbes(this)

  constructor(
    private description: WorldDescription,
    private readonly http: ControllerHttp,
    speed = DEFAULT_SPEED,
    readonly factory = new Factory(),
    private readonly otherControllers: readonly string[] = [],
  ) {
    this.clock = new Clock(this.queue, speed, undefined, (error) => this.failed(error))
    const wallClock: ApplianceSurroundings['wallClock'] = (timeZone) =>
      wallClockAt(timeZone, this.epochNow)
    this.around = {
      wallClock,
      guests: this.guests,
      queue: this.queue,
      demandOf: (id) => {
        const box = this.boxes.get(id)
        return (box instanceof HostBox ? box.demands : null) ?? usualDemand(id)
      },
      random: seededRandom(description.seed),
      counter: { frames: 0 },
      http: (request) => this.realExchange(request),
      modem: (gatewayId, port, on) => {
        for (const u of Object.values(this.plan.uplinks)) {
          const at = u.portId ? this.plan.ports[u.portId] : undefined
          if (at?.deviceId === gatewayId && at.name === port) this.providers.get(u.id)?.wake(on)
        }
      },
      controllerInside: (deviceId) =>
        this.plan.controller.hostDeviceId === deviceId ? controllerPorts(this.plan) : [],
      factory,
      aside: (work) => this.clock.hold(() => work()),
      now: () => new Date(this.epochNow * 1000),
      ownTunnelKey: (zone) => this.plan.tunnels[zone.slice('tunnel:'.length)]?.publicKey ?? null,
      failed: (error) => this.failed(error),
    }
    this.laptop = new HostBox(this.around, 'laptop', ['eth0'], {
      mac: '02:00:00:ff:00:02',
      fixed: null,
      ports: [],
      udpPorts: [],
      scopes: [],
      tunnels: [],
      bootSeconds: 0,
      radio: null,
    })
    this.laptop.placed = true
    this.laptop.setPower(true)
    this.update(description)
  }

  /** Why everything stands still; null while it runs. */
  stopped: string | null = null
  private readonly waiting = new Set<(error: Error) => void>()

  /**
   * Whatever went wrong is this world's matter: it stands still and says why, and the others go on.
   */
  failed(error: unknown): void {
    this.clock.stop()
    this.stopped ??= (error instanceof Error ? error.message : String(error))
      .split('\n')[0]!
      .slice(0, 200)
    for (const reject of this.waiting) reject(new Error(this.stopped))
    this.waiting.clear()
  }

  /**
   * Work that a person or the server waits for: it ends when the world does.
   * @throws Error with the reason
   */
  async guarded<T>(work: () => T | Promise<T>): Promise<T> {
    if (this.stopped !== null) throw new WorldStopped(this.stopped)
    return new Promise<T>((resolve, reject) => {
      const end = (error: Error): void => reject(new WorldStopped(error.message))
      this.waiting.add(end)
      void (async () => work())()
        .then(resolve, (error: unknown) => this.failed(error))
        .finally(() => this.waiting.delete(end))
    })
  }

  /** s since 1970 (UTC). */
  get epochNow(): number {
    return (this.description.epochSeconds ?? 0) + this.queue.now
  }

  get plan(): SitePlan {
    return this.description.plan
  }

  private realExchange(request: HttpRequest): Promise<HttpReply | null> {
    return this.clock.hold(() => this.http(request))
  }

  /**
   * Takes over a changed plan: new things appear, removed ones go, cables follow. Devices keep
   * their memory. A plan older than this one's is left alone.
   */
  update(description: WorldDescription): void {
    const { revision, release, keysVersion } = this.description
    const now = [description.revision, description.release, description.keysVersion]
    const at = [revision, release, keysVersion].findIndex((n, i) => n !== now[i])
    if (at >= 0 && now[at]! < [revision, release, keysVersion][at]!) return
    this.description = description
    const { plan } = description
    for (const [id, box] of this.boxes)
      if (!plan.devices[id]) {
        box.setPower(false)
        for (const s of box.sockets.values()) disconnect(s)
        this.boxes.delete(id)
      }
    for (const device of Object.values(plan.devices)) {
      const box = this.boxes.get(device.id)
      if (!box) this.boxes.set(device.id, this.wired(device, this.make(device)))
      else if (box instanceof HostBox) box.change(hostSetup(this.description, device))
      else if (box instanceof Appliance && !this.isMistyped(device.id) && device.serial)
        box.flash.serial = device.serial
    }
    this.renewProviders()
    this.nameTunnels()
    this.renewPeers()
    this.renewController()
    this.cable()
  }

  /** Names under which tunnels are found lead to the line as it is when they are registered. */
  private nameTunnels(): void {
    const [first] = this.lines.filter((l) => l.portId !== null)
    const provider = first && this.providers.get(first.id)
    for (const { endpointName, dynamicName } of Object.values(this.plan.tunnels))
      if (endpointName && provider && !this.outside.names.lookup(endpointName))
        this.outside.names.register(endpointName, provider.outsideAddress, dynamicName?.ttlSeconds)
  }
  private renewController(): void {
    const { hosted, port } = this.plan.controller
    this.outside.controller.set(
      hosted && {
        name: hosted.name,
        port,
        ports: controllerPorts(this.plan),
        waitsFor: new Set(Object.values(this.plan.devices).flatMap((d) => d.serial ?? [])),
      },
      this.outside.names,
      this.otherControllers,
    )
  }
  private renewPeers(): void {
    const truths = peerTruths(this.description, (host, address) =>
      this.outside.names.register(host, address),
    )
    for (const t of truths)
      for (const f of this.faults.values()) {
        const spoils = kindOfFault(f).spoilsPeer
        if (spoils?.of(f) === t.id) spoils.spoil(f, t)
      }
    this.outside.renew(truths)
  }

  private get lines(): Uplink[] {
    return uplinksInOrder(this.plan)
  }
  /** Whether a fault is of a line: of the one that it names, or of the first that is in a socket. */
  private isOf(faultLine: string | null, line: Uplink): boolean {
    return faultLine === null
      ? line === this.lines.find((l) => l.portId !== null)
      : faultLine === line.id
  }

  private renewProviders(): void {
    for (const [id, provider] of this.providers)
      if (!this.plan.uplinks[id]) {
        disconnect(provider.socket)
        this.providers.delete(id)
        this.plugged.delete(id)
      }
    for (const [nth, line] of this.lines.entries()) {
      const truth = lineTruth(
        line,
        nth,
        this.description.linePasswords[line.id] ?? null,
        passedOnPorts(this.plan),
      )
      const path = goodPath()
      for (const f of this.faults.values()) {
        const { spoilsLine, spoilsPath } = kindOfFault(f)
        if (spoilsLine && this.isOf(spoilsLine.of(f), line)) spoilsLine.spoil(f, truth)
        if (spoilsPath && this.isOf(spoilsPath.of(f), line)) spoilsPath.spoil(f, path)
      }
      const there = this.providers.get(line.id)
      if (there) {
        // What the provider changes without touching the line.
        there.truth.mtu = truth.mtu
        there.truth.startSeconds = truth.startSeconds
        there.truth.known = truth.known
        there.truth.passesOn = truth.passesOn
        there.truth.shutPorts = truth.shutPorts
        if (JSON.stringify(truth) === JSON.stringify(there.truth)) {
          there.changePath(path)
          continue
        }
        disconnect(there.socket)
      }
      const provider = new Provider(this.around, line.id, truth, this.outside)
      this.providers.set(line.id, provider)
      provider.changePath(path)
    }
    this.outside.set([...this.providers.values()])
  }

  private wired(device: Device, box: Box): Box {
    for (const p of this.plan.profiles[device.profileId]!.ports)
      box.sockets.get(p.name)!.speedMbps = p.speedMbps
    if (box instanceof BridgeRadio) box.hears = () => this.bridges.reportedBy(device.id)
    return box
  }

  private make(device: Device): Box {
    const profile = this.plan.profiles[device.profileId]!
    const flash = (): Flash =>
      factoryFlash(
        device.serial ??
          `UNKNOWN-${device.id.toUpperCase().replace(/[^A-Z0-9-]/g, '-')}`.slice(0, 32),
        device.firmware ?? profile.firmware.shipped,
        this.around.random,
      )
    return behaviourOf(profile).make({
      around: this.around,
      device,
      profile,
      portNames: profile.ports.map((p) => p.name),
      hardwareAddress: device.hardwareAddress ?? inventedAddress(device.id),
      flash,
      hostSetup: () => hostSetup(this.description, device),
      onAir: () => this.airChanged(),
    })
  }

  private socketOf(portId: string): Socket | undefined {
    const port = this.plan.ports[portId]
    return port && this.boxes.get(port.deviceId)?.sockets.get(port.name)
  }

  /** The gateway's socket into which a line is plugged. */
  socketOfLine(lineId: string): string | undefined {
    const portId = this.plan.uplinks[lineId]?.portId
    return portId ? this.plan.ports[portId]?.name : undefined
  }

  /** Where the plug of a port really is, faults considered. */
  private plugOf(portId: string): string {
    let at = portId
    for (const f of this.faults.values()) at = kindOfFault(f).plugOf?.(f, at) ?? at
    return at
  }

  /**
   * Brings every cable to where it should be now; what need not move is not touched, so that nobody
   * loses a signal for nothing.
   */
  private cable(): void {
    const wanted = new Map<Socket, Socket>()
    const join = (a: Socket | undefined, b: Socket | undefined): void => {
      if (a && b && !wanted.has(a) && !wanted.has(b)) wanted.set(a, b).set(b, a)
    }
    if (this.laptopAt) {
      const box = this.boxes.get(this.laptopAt)
      const profile = this.plan.profiles[this.plan.devices[this.laptopAt]?.profileId ?? '']
      const socket = profile?.ports.find((p) => p.role === 'lan')
      join(this.laptop.socket, socket && box?.sockets.get(socket.name))
    }
    for (const l of Object.values(this.plan.links)) {
      const [a, b] = [this.plugOf(l.a), this.plugOf(l.b)]
      const owners = [a, b].map((p) => this.boxes.get(this.plan.ports[p]?.deviceId ?? ''))
      const leadMbps = Math.min(
        ...[...this.faults.values()].map((f) => kindOfFault(f).leadMbps?.(f, l.id) ?? Infinity),
      )
      for (const socket of [this.socketOf(a), this.socketOf(b)])
        if (socket) socket.leadMbps = leadMbps
      if (owners.every((o) => o?.placed)) join(this.socketOf(a), this.socketOf(b))
    }
    for (const line of this.lines) {
      const isCut = [...this.faults.values()].some((f) => {
        const cut = kindOfFault(f).cutsLine?.(f)
        return cut !== undefined && this.isOf(cut, line)
      })
      if (
        this.plugged.has(line.id) &&
        line.portId &&
        !isCut &&
        this.boxes.get(this.plan.ports[line.portId]!.deviceId)?.placed
      )
        join(this.socketOf(line.portId), this.providers.get(line.id)!.socket)
    }

    const all = [
      ...[...this.boxes.values()].flatMap((b) => [...b.sockets.values()]),
      this.laptop.socket,
      ...[...this.providers.values()].map((p) => p.socket),
    ]
    // Those of access points and of who joins them come and go by themselves.
    const isAssociated = (s: Socket): boolean =>
      s.air === null && (s.name === 'air' || s.name.startsWith('air-'))
    for (const s of all) if (!isAssociated(s) && s.peer && wanted.get(s) !== s.peer) disconnect(s)
    for (const [a, b] of wanted) if (a.peer !== b) connect(a, b)
    this.airChanged()
  }

  private airChanged(): void {
    this.bridges.renew((portId) => this.socketOf(portId))
    this.onAir.associate()
  }

  get faultsIn(): readonly Fault[] {
    return [...this.faults.values()]
  }
  get seed(): number {
    return this.description.seed
  }
  get hiddenWalls(): readonly HiddenWall[] {
    return [...this.faults.values()].flatMap((f) => kindOfFault(f).hiddenWall?.(f) ?? [])
  }

  /** Where access points really hang that hang elsewhere than the plan says. */
  get moved(): ReadonlyMap<string, { readonly x: number; readonly y: number }> {
    return new Map(
      [...this.faults.values()].flatMap((f) => {
        const m = kindOfFault(f).moves?.(f)
        return m ? [[m.deviceId, m] as const] : []
      }),
    )
  }

  private isMistyped(deviceId: string): boolean {
    return this.faults.has(`mistyped-serial:${deviceId}`)
  }

  /** Puts a fault in or takes it out. */
  setFault(fault: Fault, on: boolean): HandReply {
    const key = faultKey(fault)
    if (this.faults.has(key) === on) return { ok: true, text: on ? 'is in already' : 'was not in' }
    const keep = (isIn: boolean): void => {
      if (isIn) this.faults.set(key, fault)
      else this.faults.delete(key)
    }
    keep(on)
    const reply = kindOfFault(fault).put?.(this, fault, on)
    if (reply && !reply.ok) {
      keep(!on)
      return reply
    }
    this.renewProviders()
    this.renewPeers()
    this.cable()
    return reply ?? { ok: true, text: on ? 'put in' : 'taken out' }
  }

  appliance(deviceId: string): Appliance | undefined {
    const box = this.boxes.get(deviceId)
    return box instanceof Appliance ? box : undefined
  }
  accessPoint(deviceId: string): AccessPoint | undefined {
    const box = this.boxes.get(deviceId)
    return box instanceof AccessPoint ? box : undefined
  }
  host(deviceId: string): HostBox | undefined {
    const box = this.boxes.get(deviceId)
    return box instanceof HostBox ? box : undefined
  }
  relabel(deviceId: string, isMistyped: boolean): string {
    const box = this.appliance(deviceId)!
    const planned = this.plan.devices[deviceId]?.serial ?? box.flash.serial
    // The device with the right label keeps its memory for the time when the fault is taken out.
    const other = this.memories.get(deviceId)
    this.memories.set(deviceId, box.flash)
    const serial = isMistyped ? mistype(planned) : planned
    box.flash = other ?? factoryFlash(serial, box.flash.firmware, this.around.random)
    box.restart()
    return box.flash.serial
  }

  /** Does what a person's hands would do. */
  async hand(hand: Hand): Promise<HandReply> {
    switch (hand.kind) {
      case 'power':
        for (const id of hand.deviceIds) {
          const box = this.boxes.get(id)
          if (!box) return { ok: false, text: `there is no ${id} here` }
          if (!(box instanceof Appliance)) box.placed = true
          box.setPower(hand.on)
        }
        this.cable()
        return { ok: true, text: hand.on ? 'has power' : 'is off' }
      case 'laptop':
        this.laptopAt = hand.plugInto
        this.cable()
        if (hand.address) {
          const [address, length] = hand.address.split('/') as [string, string]
          this.laptop.change({
            ...this.laptop.setup,
            fixed: { address: toNumber(address), length: Number(length), gateway: null },
          })
        } else this.laptop.change({ ...this.laptop.setup, fixed: null })
        this.laptop.ask()
        return {
          ok: true,
          text: hand.address ? `laptop on ${hand.address}` : 'laptop on automatic',
        }
      case 'page':
        return this.page(hand)
      case 'plug':
        for (const id of hand.deviceIds) {
          const box = this.boxes.get(id)
          if (!box) return { ok: false, text: `there is no ${id} here` }
          if (this.laptopAt === id) this.laptopAt = null
          box.setPower(false)
          box.placed = true
          this.cable()
          box.setPower(true)
        }
        this.cable()
        return { ok: true, text: 'cabled and powered' }
      case 'reset':
        for (const id of hand.deviceIds) {
          const box = this.boxes.get(id)
          if (!(box instanceof Appliance))
            return { ok: false, text: `there is no device with settings called ${id} here` }
          box.flash = factoryFlash(box.flash.serial, box.flash.firmware, this.around.random)
          box.restart()
        }
        return { ok: true, text: 'as from its box' }
      case 'plug-line':
        if (!this.plan.uplinks[hand.lineId])
          return { ok: false, text: `there is no line ${hand.lineId} here` }
        this.plugged.add(hand.lineId)
        this.cable()
        return { ok: true, text: 'line plugged in' }
      case 'turn': {
        if (!this.boxes.has(hand.deviceId))
          return { ok: false, text: `there is no ${hand.deviceId} here` }
        this.bridges.turn(hand.deviceId, { across: hand.across, up: hand.up })
        this.cable()
        return { ok: true, text: 'turned', readings: this.bridges.readingsAt(hand.deviceId) }
      }
      case 'use-again': {
        const { gateway } = this
        if (!gateway?.powered) return { ok: false, text: 'the gateway has no power' }
        return gateway.useAgain() > 0
          ? { ok: true, text: 'the first line is used again' }
          : { ok: false, text: 'no line waits for that' }
      }
    }
  }

  /** What whoever sets a device up has with him. */
  private firmwareFor(deviceId: string): string | undefined {
    const device = this.plan.devices[deviceId]
    return (
      device && (device.firmwareWanted ?? this.plan.profiles[device.profileId]!.firmware.wanted)
    )
  }
  private page(hand: Extract<Hand, { kind: 'page' }>): Promise<HandReply> {
    return new Promise((resolve) => {
      const attempt = (left: number): void => {
        this.laptop.host.endpoint.connect(
          toNumber(hand.address),
          443,
          (answer, reply) => {
            const text = reply as { ok: boolean; text: string } | undefined
            if (answer === 'works' && text?.ok) resolve(text)
            else if (left > 0) this.queue.after(PAGE_PAUSE_SECONDS, () => attempt(left - 1))
            else
              resolve(
                text ?? {
                  ok: false,
                  text:
                    `no page answers on ${hand.address}; is the laptop plugged into the ` +
                    'device, with an address of the same subnet?',
                },
              )
          },
          {
            act: hand.act,
            configuration: hand.configuration,
            firmware: this.firmwareFor(hand.deviceId),
          },
        )
      }
      attempt(PAGE_TRIES)
    })
  }

  /** Leases first, since everything else needs an address; then all the others side by side. */
  probe(probes: readonly Probe[]): Promise<Observation[]> {
    return this.clock.hurry(() => this.probed(probes))
  }

  /** Tries a failover, in a hurry. */
  drill(asked: DrillAsked): Promise<DrillSeen> {
    return this.clock.hurry(() => runDrill(this, asked))
  }

  private async probed(probes: readonly Probe[]): Promise<Observation[]> {
    const byId = new Map<string, Observation>()
    // Tried inside first, as somebody who carries it out afterwards would.
    for (const p of probes.filter((x) => x.inside))
      byId.set(p.id, await this.tunnelProbes.inside(p))
    // Who is at a page for guests does nothing else meanwhile.
    const there = probes.filter(
      (p) => !p.via && !p.targetVia && p.kind !== 'page' && !this.tunnelProbes.isAlone(p),
    )
    const leases = there.filter((p) => p.kind === 'lease')
    const first = await Promise.all(leases.map((p) => runProbe(this, p)))
    const rest = await Promise.all(
      there.filter((p) => p.kind !== 'lease').map((p) => runProbe(this, p)),
    )
    for (const o of [...first, ...rest]) byId.set(o.id, o)
    for (const o of await this.tunnelProbes.alone(probes)) byId.set(o.id, o)
    // One walk after the other: a client is at one access point at a time.
    for (const p of probes) if (!byId.has(p.id)) byId.set(p.id, await this.walked(p))
    return probes.map((p) => byId.get(p.id)!)
  }

  /**
   * Carries the hosts to the access points that are asked for, waits for their addresses, asks, and
   * lets them go again.
   */
  private async walked(p: Probe): Promise<Observation> {
    const target = p.target?.kind === 'host' ? p.target.deviceId : null
    const wanted = [
      [p.from, p.via],
      [target, p.targetVia],
    ].flatMap(([host, at]) => (host && at ? [[host, at] as const] : []))
    const isMoving = wanted.filter(([host, at]) => {
      const point = this.boxes.get(at)
      return !(point instanceof AccessPoint && point.has(host))
    })
    for (const [host, at] of wanted) this.onAir.hold(host, at)
    this.onAir.associate()
    if (p.kind !== 'lease')
      for (const [host] of isMoving)
        await runProbe(this, {
          ...p,
          id: host,
          from: host,
          kind: 'lease',
          target: null,
          port: null,
        })
    try {
      return await runProbe(this, p)
    } finally {
      for (const [host] of wanted) this.onAir.hold(host, null)
    }
  }

  get gateway(): Gateway | undefined {
    for (const b of this.boxes.values()) if (b instanceof Gateway) return b
    return undefined
  }

  /** Who asks from the internet, by the first line that has a signal. */
  get internet(): Endpoint | undefined {
    const lines = this.lines.flatMap((l) => this.providers.get(l.id) ?? [])
    return (lines.find((p) => p.socket.up) ?? lines[0])?.endpoint
  }

  get lineAddress(): number | null {
    return this.gateway?.lineAddress ?? null
  }

  snapshot(): Snapshot {
    const address = (b: Box): number | null =>
      b instanceof HostBox ? b.host.address : b instanceof Appliance && b.powered ? b.address : null
    return {
      revision: this.description.revision,
      release: this.description.release,
      keysVersion: this.description.keysVersion,
      speed: this.clock.speed,
      seconds: this.queue.now,
      frames: this.around.counter.frames,
      devices: [...this.boxes.values()].map((b) => {
        const a = address(b)
        return {
          id: b.id,
          powered: b.powered,
          placed: b.placed,
          light: b instanceof Appliance ? b.light : null,
          address: a === null ? null : toText(a),
          serial: b instanceof Appliance ? b.flash.serial : null,
        }
      }),
      stopped: this.stopped,
      bridges: this.bridges.seen,
      lines: this.lines.map(({ id }) => ({
        id,
        plugged: this.plugged.has(id),
        up: this.providers.get(id)!.socket.up,
      })),
      laptop: {
        pluggedInto: this.laptopAt,
        address: this.laptop.host.address === null ? null : toText(this.laptop.host.address),
      },
      faults: [...this.faults.values()],
    }
  }

  save(): Saved {
    return {
      description: this.description,
      speed: this.clock.speed,
      seconds: this.queue.now,
      faults: [...this.faults.values()],
      linesPlugged: [...this.plugged],
      turned: this.bridges.saved,
      boxes: Object.fromEntries(
        [...this.boxes.values()].map((b) => [
          b.id,
          { powered: b.powered, placed: b.placed, flash: b instanceof Appliance ? b.flash : null },
        ]),
      ),
    }
  }

  /** Puts back what was saved; everything that had power starts again. */
  restore(saved: Saved): void {
    this.queue.now = saved.seconds
    for (const [id, p] of Object.entries(saved.turned ?? {})) this.bridges.turn(id, p)
    const known = saved.linesPlugged ?? (saved.linePlugged ? [this.lines[0]?.id ?? ''] : [])
    for (const id of known) if (this.plan.uplinks[id]) this.plugged.add(id)
    for (const [id, kept] of Object.entries(saved.boxes)) {
      const box = this.boxes.get(id)
      if (!box) continue
      box.placed = kept.placed
      if (box instanceof Appliance && kept.flash) box.flash = understood(kept.flash)
    }
    for (const f of saved.faults) {
      // A unit of another label has a memory of its own.
      const deviceId = 'deviceId' in f ? f.deviceId : ''
      const flash = saved.boxes[deviceId]?.flash
      this.setFault(f, true)
      const box = this.appliance(deviceId)
      if (box && flash) box.flash = flash
    }
    this.cable()
    for (const [id, kept] of Object.entries(saved.boxes))
      if (kept.powered) this.boxes.get(id)?.setPower(true)
    this.cable()
  }
}

/**
 * A configuration of an earlier form is no longer understood: the device is as from its box, with
 * its name to the controller.
 */
function understood(flash: Flash): Flash {
  const { changedFrom = null } = flash as Partial<Flash>
  const known = { ...flash, held: null, before: null, wentBackFrom: null, changedFrom }
  return flash.configuration === null || configurationSchema.safeParse(flash.configuration).success
    ? { ...known, ...keptTrial(flash) }
    : { ...known, configuration: null, digest: null, changedFrom: null }
}
/** What it held or tried, as far as that is still understood. */
function keptTrial({
  held,
  before,
  wentBackFrom,
}: Partial<Flash>): Pick<Flash, 'held' | 'before' | 'wentBackFrom'> {
  const isUnderstood = <T extends { configuration: unknown }>(c: T | null | undefined): T | null =>
    c && configurationSchema.safeParse(c.configuration).success ? c : null
  return {
    held: isUnderstood(held),
    before: isUnderstood(before),
    wentBackFrom: wentBackFrom ?? null,
  }
}

/**
 * One character wrong, as a tired eye reads a label: 8 for B, 0 for O, or the last digit off by
 * one.
 */
export function mistype(serial: string): string {
  const i = serial.search(/[0-9](?=[^0-9]*$)/)
  if (i < 0) return `${serial.slice(0, -1)}${serial.endsWith('X') ? 'Y' : 'X'}`
  return serial.slice(0, i) + String((Number(serial[i]) + 1) % 10) + serial.slice(i + 1)
}
