/**
 * A managed device: what it keeps over a restart, how it starts, and how it speaks to the
 * controller. Everything takes the time that its
 * profile says, give or take a tenth.
 */
import { createHash } from 'node:crypto'
import type { Light, Profile } from '@mast/core/plan'
import {
  configurationSchema,
  desiredSchema,
  helloReplySchema,
  reportReplySchema,
  tokenReplySchema,
  type Configuration,
  type LineState,
  type PathState,
  type Report,
  type ReportReply,
} from '@mast/protocol'
import type { Timer } from '../clock/eventQueue'
import { sameNetwork, toNumber, toText } from '../frames/frame'
import type { Endpoint } from '../net/endpoint'
import { SpanningTree } from '../net/spanningTree'
import { VlanBridge } from '../net/vlanBridge'
import type { Meeting } from '../outside/hostedController'
import { INTERNET_MEETING_POINT } from '../outside/places'
import { Box, type Surroundings } from './box'
import type { Guests } from './guests'
import type { Factory, Identity } from '../zeroTouch/factory'
import { FirstStart, serverOf, type BootstrapServer, type Started } from '../zeroTouch/firstStart'
import { SelfCare, type Running } from './selfCare'
import type { ClientRule, Demand } from './stations'

export interface HttpReply {
  readonly status: number
  readonly body: unknown
  readonly bytes: Uint8Array
}
export interface HttpRequest {
  readonly method: 'GET' | 'POST'
  readonly path: string
  readonly token?: string | null
  readonly etag?: string | null
  readonly body?: unknown
  /** The address of the controller that it calls. */
  readonly to?: string | null
  /** By TLS, where it proves itself by what its maker put into it. */
  readonly identity?: Identity
  readonly server?: BootstrapServer
}

export interface ApplianceSurroundings extends Surroundings {
  /** What a client moves where nothing holds it back. */
  demandOf(clientId: string): Demand
  /** Who has passed the page of a network for guests. */
  readonly guests: Guests
  /** The real exchange with the controller; virtual time waits for it. */
  http(request: HttpRequest): Promise<HttpReply | null>
  /** What takes real time and none of its own. */
  aside<T>(work: () => Promise<T>): Promise<T>
  readonly factory: Factory
  now(): Date
  /**
   * What a clock shows in a time zone: the day of the week, 1 for Monday, and the minute of the
   * day.
   */
  wallClock(timeZone: string): { day: number; minute: number }
  /** Switches on or off what stands before a gateway's socket for a line, where it can be. */
  modem?(gatewayId: string, port: string, on: boolean): void
  /** The ports on which a controller inside this device is called. */
  controllerInside?(deviceId: string): readonly number[]
  /** Public half of the key that was made on a gateway for one of its tunnels. */
  ownTunnelKey?(zone: string): string | null
  /** Something went wrong in here that no device should be able to bring about. */
  failed(error: unknown): void
}

/** What a device keeps without power. */
export interface Flash {
  serial: string
  claimSecret: string
  token: string | null
  sequence: number
  firmware: string
  configuration: Configuration | null
  digest: string | null
  factoryPassword: boolean
  /** Of an access point: what the controller said of clients. */
  clientRules?: readonly ClientRule[]
  /** What was fetched and waits for its moment. */
  held: { configuration: Configuration; digest: string; trialSeconds: number | null } | null
  /**
   * What it ran before a configuration that it tries, and for how long it tries it after a start,
   * s.
   */
  before: { configuration: Configuration; digest: string; trialSeconds: number } | null
  /** A configuration that nobody confirmed. */
  wentBackFrom: string | null
  /**
   * What the controller had it run when somebody set something else at its own page; null where
   * nobody did.
   */
  changedFrom: string | null
}

export const factoryFlash = (serial: string, firmware: string, random: () => number): Flash => ({
  serial,
  firmware,
  token: null,
  sequence: 0,
  configuration: null,
  digest: null,
  factoryPassword: true,
  held: null,
  before: null,
  wentBackFrom: null,
  changedFrom: null,
  claimSecret: Array.from({ length: 64 }, () => Math.floor(random() * 16).toString(16)).join(''),
})

/** Of a bridge that nobody set (IEEE 802.1Q 13.26.3). */
const FACTORY_PRIORITY = 32_768
const RETRY_SECONDS = 10
const PAGE_PORT = 443
/** After which a device from its box asks again where nobody had anything for it. */
const START_AGAIN_SECONDS = 300
/** Tries at a controller that does not answer, after which a device looks anew where it is. */
const TRIES_BEFORE_LOOKING = 6

export interface PageRequest {
  readonly act: 'password' | 'firmware' | 'configuration'
  readonly configuration?: unknown
  /** The version that somebody has with him. */
  readonly firmware?: string
}

export abstract class Appliance extends Box {
  readonly bridge: VlanBridge
  private readonly tree: SpanningTree | null
  light: Light['state'] = 'off'
  phase: Report['phase'] = 'running'
  private bootedAt = 0
  private timers: Timer[] = []
  private run = 0
  private done: string[] = []
  private message: string | null = null
  protected controller: string | null = null
  /** From when it writes into its memory until it starts anew; until then it does nothing else. */
  private isWriting = false
  private readonly care = new SelfCare()
  /** Tries in a row that nobody answered, and how often it looked anew. */
  private unanswered = 0
  private unclaimed = 0
  private looked = 0
  /** Its lease says another controller than its configuration. */
  private isInDoubt = false
  /** It asks, or asked and goes on in another way. */
  private isStarting = false

  constructor(
    override readonly around: ApplianceSurroundings,
    id: string,
    readonly profile: Profile,
    readonly hardwareAddress: string,
    public flash: Flash,
  ) {
    super(
      around,
      id,
      profile.ports.map((p) => p.name),
    )
    this.tree = profile.abilities.includes('spanning-tree')
      ? new SpanningTree(around.queue, hardwareAddress)
      : null
    this.bridge = new VlanBridge(around.queue, this.tree)
    for (const [i, p] of profile.ports.entries())
      if (p.role !== 'wan') this.tree?.attach(p.name, this.sockets.get(p.name)!, i + 1)
  }

  /** Where it speaks from. */
  abstract get endpoint(): Endpoint
  abstract get address(): number | null
  /** Sets up interfaces and ports from the flash, or as from the factory. */
  protected abstract bringUp(): void
  protected abstract bringDown(): void
  protected abstract nameServer(): number | null
  protected lineStates(): LineState[] {
    return []
  }
  protected pathStates(): PathState[] {
    return []
  }
  /** How many have joined it, of what serves clients on the air. */
  protected get clientCount(): number | undefined {
    return undefined
  }

  /** Of an access point: who has joined it. */
  protected stationStates(): Report['stations'] {
    return undefined
  }
  /** What the controller says of clients. */
  protected take?(rules: readonly ClientRule[]): void

  override setPower(on: boolean): void {
    if (this.powered === on) return
    super.setPower(on)
    if (on) this.boot()
    else {
      this.halt()
      this.light = 'off'
    }
  }

  restart(): void {
    this.halt()
    if (this.powered) this.boot()
  }

  private halt(): void {
    this.run++
    for (const t of this.timers.splice(0)) t.cancel()
    this.bringDown()
    this.tree?.stop()
    this.bridge.reset()
    this.controller = null
    this.isWriting = false
    this.care.stop()
    this.isStarting = false
  }

  private untilHalt(): Running {
    const { run, endpoint } = this
    return {
      endpoint,
      later: (seconds, what) => this.later(seconds, what),
      isOver: () => this.run !== run,
      restart: () => {
        if (!this.isWriting) this.restart()
      },
    }
  }

  private jitter(seconds: number): number {
    return seconds * (0.9 + 0.2 * this.around.random())
  }

  protected later(seconds: number, what: () => void): void {
    const { run } = this
    this.timers.push(
      this.around.queue.after(seconds, () => {
        if (this.run === run && this.powered) what()
      }),
    )
    if (this.timers.length > 64) this.timers = this.timers.slice(-32)
  }

  private boot(): void {
    this.light = 'starting'
    this.phase = 'running'
    this.later(this.jitter(this.profile.waits.bootSeconds), () => {
      this.bootedAt = this.around.queue.now
      this.light = 'seeking-address'
      const from = this.flash.configuration?.system.pageFrom.map(
        (p) => p.split('/') as [string, string],
      )
      this.endpoint.answersTo = (source, port) =>
        port !== PAGE_PORT ||
        !from ||
        from.some(([network, length]) => sameNetwork(source, toNumber(network), Number(length)))
      this.endpoint.listening.set(PAGE_PORT, (data) => this.page(data as PageRequest))
      if (this.flash.before) this.later(this.flash.before.trialSeconds, () => this.goBack())
      this.bringUp()
      const c = this.flash.configuration
      this.care.start(this.untilHalt(), c?.system)
      this.tree?.start(
        c?.system.spanningTree?.priority ?? FACTORY_PRIORITY,
        new Map((c?.ports ?? []).map((p) => [p.name, { isEdge: p.edge, guard: p.edgeGuard }])),
      )
    })
  }

  /**
   * To be called by the kinds when the device has an address (again), with what DHCP said of the
   * controller.
   */
  protected addressed(
    controllerFromDhcp: string | null,
    bootstrapFromDhcp: readonly string[] = [],
  ): void {
    if (this.controller) return
    if (bootstrapFromDhcp.length > 0 && this.isNew && !this.isStarting) {
      this.isStarting = true
      this.light = 'seeking-controller'
      this.start(bootstrapFromDhcp, () => this.addressed(controllerFromDhcp))
      return
    }
    const configured = this.flash.configuration?.controllerUrl ?? null
    this.isInDoubt =
      controllerFromDhcp !== null && configured !== null && controllerFromDhcp !== configured
    // What one of them says may be of yesterday; in turns neither keeps it away for good.
    const found =
      this.looked % 2 === 0
        ? (controllerFromDhcp ?? configured)
        : (configured ?? controllerFromDhcp)
    if (found) {
      this.controller = found
      this.light = 'seeking-controller'
      this.later(this.around.random(), () => this.call())
      return
    }
    const names = this.nameServer()
    if (names === null) return
    this.light = 'seeking-controller'
    this.endpoint.resolve(names, 'controller.internal', (a) => {
      if (this.controller) return
      if (a !== null) {
        this.controller = `http://${toText(a)}:8043`
        this.call()
      } else this.askMeetingPoint(() => this.later(RETRY_SECONDS, () => this.addressed(null)))
    })
  }

  private get isNew(): boolean {
    return this.flash.token === null && this.flash.configuration === null
  }

  /** Asks the servers that a lease names for what its owner wants on it (RFC 8572). */
  private start(uris: readonly string[], otherwise: () => void): void {
    const { run } = this
    const again = (): void => {
      if (this.isNew && !this.isWriting) this.start(uris, () => {})
    }
    const done = (started: Started | null): void => {
      if (this.run !== run || !this.powered || this.isWriting || !this.isNew) return
      if (started?.kind === 'firmware') this.loadFirmware(started.version)
      else if (started) this.setHere(started.configuration)
      else {
        this.later(START_AGAIN_SECONDS, again)
        otherwise()
      }
    }
    new FirstStart(
      this.around,
      {
        serial: this.flash.serial,
        model: this.profile.id,
        firmware: this.flash.firmware,
        kind: this.profile.kind as Configuration['kind'],
      },
      (host, port, isThere) => this.reach(host, port, isThere),
      done,
    ).ask(uris.flatMap((u) => serverOf(u) ?? []))
  }

  /** Who waits for it is told to it by its serial, wherever the internet is reached. */
  protected askMeetingPoint(otherwise: () => void): void {
    const { run } = this
    const { serial } = this.flash
    const told = (_: unknown, reply?: unknown): void => {
      if (this.run !== run || this.controller) return
      const url = (reply as Meeting | undefined)?.controllerUrl
      if (!url) return otherwise()
      this.controller = url
      this.light = 'seeking-controller'
      this.call()
    }
    this.endpoint.connect(INTERNET_MEETING_POINT, 443, told, { serial })
  }
  /** Finds an address by the name server that this device asks. */
  protected lookUp(name: string, done: (address: number | null) => void): void {
    const server = this.nameServer()
    if (server === null) done(null)
    else this.endpoint.resolve(server, name, done)
  }

  /** Finds out anew where the controller is. */
  protected seekAgain(): void {
    this.addressed(null)
  }

  private lookAnew(): void {
    this.unanswered = 0
    this.unclaimed = 0
    this.looked++
    this.controller = null
    this.seekAgain()
  }

  /**
   * Reaches the controller through the stand-in network first; only then is the real exchange made.
   */
  private exchange(request: HttpRequest, then: (reply: HttpReply) => void): void {
    if (this.isWriting) return
    const { run } = this
    const match = /^https?:\/\/([a-z\d.-]+):(\d+)$/.exec(this.controller ?? '')
    const again = (): void => {
      if (this.light !== 'in-service') this.light = 'seeking-controller'
      if (++this.unanswered >= TRIES_BEFORE_LOOKING) return this.lookAnew()
      this.later(RETRY_SECONDS, () => this.call())
    }
    if (!match) {
      this.fault(`the controller address '${this.controller}' is not one`)
      return
    }
    this.reach(match[1]!, Number(match[2]), (isThere) => {
      if (this.run !== run) return
      if (!isThere) return again()
      void this.around
        .http({ ...request, to: this.controller })
        .then((reply) => {
          if (this.run !== run || !this.powered || this.isWriting) return
          if (reply) {
            this.unanswered = 0
            this.looked = 0
            then(reply)
          } else again()
        })
        .catch((error: unknown) => this.around.failed(error))
    })
  }

  private reach(host: string, port: number, done: (isThere: boolean) => void): void {
    const at = (address: number): void =>
      this.endpoint.connect(address, port, (answer) => done(answer === 'works'))
    if (/^[\d.]+$/.test(host)) at(toNumber(host))
    else this.lookUp(host, (address) => (address === null ? done(false) : at(address)))
  }

  private call(): void {
    if (!this.flash.token) this.hello()
    // What somebody set here stands until it is told to fetch.
    else if (this.flash.changedFrom !== null) this.settle()
    else this.fetchDesired()
  }

  private hello(): void {
    const claimSecretDigest = createHash('sha256').update(this.flash.claimSecret).digest('hex')
    const address = toText(this.address ?? 0)
    this.exchange(
      {
        method: 'POST',
        path: '/controller/v1/hello',
        body: {
          serial: this.flash.serial,
          hardwareAddress: this.hardwareAddress,
          model: this.profile.id,
          firmware: this.flash.firmware,
          address,
          claimSecretDigest,
          factoryPassword: this.flash.factoryPassword,
        },
      },
      (reply) => {
        const parsed = helloReplySchema.safeParse(reply.body)
        if (reply.status !== 200 || !parsed.success) return this.retry()
        if (parsed.data.status === 'unclaimed') {
          this.light = 'awaiting-claim'
          // The lease may be of a neighbour that has not gone back yet: then the other one knows it.
          if (this.isInDoubt && ++this.unclaimed >= TRIES_BEFORE_LOOKING) this.lookAnew()
          else this.later(parsed.data.retryAfterSeconds, () => this.hello())
        } else this.askToken()
      },
    )
  }

  private askToken(): void {
    this.exchange(
      {
        method: 'POST',
        path: '/controller/v1/token',
        body: { serial: this.flash.serial, claimSecret: this.flash.claimSecret },
      },
      (reply) => {
        const parsed = tokenReplySchema.safeParse(reply.body)
        if (reply.status !== 200 || !parsed.success) return this.retry()
        this.flash.token = parsed.data.token
        this.flash.sequence = 0
        this.fetchDesired()
      },
    )
  }

  private fetchDesired(): void {
    this.exchange(
      {
        method: 'GET',
        path: '/controller/v1/desired',
        token: this.flash.token,
        etag: this.flash.digest,
      },
      (reply) => {
        if (reply.status === 401) {
          this.flash.token = null
          this.light = 'seeking-controller'
          return this.retry()
        }
        if (reply.status === 304) {
          this.flash.held = null
          return this.settle()
        }
        const parsed = desiredSchema.safeParse(reply.body)
        if (reply.status !== 200 || !parsed.success) return this.retry()
        const { firmware, configuration, digest, apply, trialSeconds } = parsed.data
        const loads =
          firmware.version !== this.flash.firmware ||
          (digest !== this.flash.digest && apply === 'at-once')
        if (loads) this.light = 'loading'
        if (firmware.version !== this.flash.firmware)
          this.report('loading-firmware', () =>
            this.exchange(
              { method: 'GET', path: firmware.path, token: this.flash.token },
              (image) => {
                const intact =
                  image.status === 200 &&
                  createHash('sha256').update(image.bytes).digest('hex') === firmware.digest
                if (!intact) return this.fault('the firmware arrived damaged')
                this.loadFirmware(firmware.version)
              },
            ),
          )
        else if (digest === this.flash.digest || digest === this.flash.wentBackFrom) this.settle()
        else if (apply === 'at-once')
          this.report('loading-configuration', () =>
            this.tryConfiguration({ configuration, digest, trialSeconds }),
          )
        else {
          this.flash.held = { configuration, digest, trialSeconds }
          this.settle()
        }
      },
    )
  }

  private loadFirmware(version: string): void {
    this.isWriting = true
    this.light = 'loading'
    this.phase = 'loading-firmware'
    this.later(this.jitter(this.profile.waits.firmwareSeconds), () => {
      this.flash.firmware = version
      this.restart()
    })
  }

  private loadConfiguration(
    configuration: Configuration,
    digest: string | null,
    before: Flash['before'],
    changedFrom: string | null = null,
  ): void {
    this.isWriting = true
    this.light = 'loading'
    this.phase = 'loading-configuration'
    this.later(this.jitter(this.profile.waits.applySeconds), () => {
      Object.assign(this.flash, { configuration, digest, held: null, before, changedFrom })
      if (configuration.system.administrator) this.flash.factoryPassword = false
      this.restart()
    })
  }

  private settle(): void {
    this.light = 'in-service'
    this.phase = 'running'
    this.report('running', ({ applyInSeconds }) => {
      if (applyInSeconds !== null && this.flash.held)
        this.later(applyInSeconds, () => {
          const { held } = this.flash
          if (held) this.tryConfiguration(held)
        })
    })
  }

  private tryConfiguration({
    configuration,
    digest,
    trialSeconds,
  }: NonNullable<Flash['held']>): void {
    const { configuration: now, digest: nowDigest } = this.flash
    // Who tries one already goes back to what it last kept.
    this.loadConfiguration(
      configuration,
      digest,
      trialSeconds === null || !now || !nowDigest
        ? null
        : (this.flash.before ?? { configuration: now, digest: nowDigest, trialSeconds }),
    )
  }

  /** Nobody said that it may keep what it tries. */
  private goBack(): void {
    const { before } = this.flash
    if (!before) return
    this.flash.wentBackFrom = this.flash.digest
    this.message = 'nobody confirmed the new configuration; this is the one before'
    Object.assign(this.flash, {
      configuration: before.configuration,
      digest: before.digest,
      before: null,
    })
    this.restart()
  }

  private report(phase: Report['phase'], then: (told: ReportReply) => void): void {
    this.phase = phase
    const body: Report = {
      holds: this.flash.held?.digest ?? null,
      onTrial: this.flash.before !== null,
      wentBackFrom: this.flash.wentBackFrom,
      changedHere: this.flash.changedFrom !== null,
      clock: {
        zone: this.flash.configuration?.system.timeZone ?? 'UTC',
        from: this.care.timeFrom === null ? null : toText(this.care.timeFrom),
      },
      sequence: ++this.flash.sequence,
      phase,
      firmware: this.flash.firmware,
      configurationDigest: this.flash.digest,
      uptimeSeconds: this.around.queue.now - this.bootedAt,
      address: toText(this.address ?? 0),
      factoryPassword: this.flash.factoryPassword,
      ports: [...this.sockets].map(([name, s]) => ({
        name,
        up: s.up,
        speedMbps: s.agreedMbps,
        heard: this.bridge.heardAt(name).slice(0, 64),
      })),
      lines: this.lineStates(),
      paths: this.pathStates(),
      ...(this.clientCount === undefined ? {} : { clients: this.clientCount }),
      stations: this.stationStates(),
      done: this.done,
      message: this.message,
    }
    this.exchange(
      { method: 'POST', path: '/controller/v1/report', token: this.flash.token, body },
      (reply) => {
        if (reply.status === 401) {
          this.flash.token = null
          return this.retry()
        }
        const parsed = reportReplySchema.safeParse(reply.body)
        if (reply.status !== 200 || !parsed.success) return this.retry()
        this.done = []
        this.message = null
        this.flash.wentBackFrom = null
        if (parsed.data.clientRules) this.take?.(parsed.data.clientRules)
        if (parsed.data.trial === 'keep') this.flash.before = null
        if (parsed.data.trial === 'back') return this.goBack()
        then(parsed.data)
        if (phase !== 'running') return
        const { commands, nextReportSeconds, wants, sendRunning } = parsed.data
        const isOther =
          wants !== null &&
          (wants.digest !== this.flash.changedFrom || wants.firmware !== this.flash.firmware)
        if (isOther || commands.some((c) => c.command === 'fetch')) this.flash.changedFrom = null
        if (sendRunning && this.flash.changedFrom !== null)
          this.sendRunning(() => this.carryOut(commands, nextReportSeconds))
        else this.carryOut(commands, nextReportSeconds)
      },
    )
  }

  /** What it runs, for who asked. An answer that is none keeps nothing from going on. */
  private sendRunning(then: () => void): void {
    const { configuration, digest } = this.flash
    this.exchange(
      {
        method: 'POST',
        path: '/controller/v1/running',
        token: this.flash.token,
        body: { digest, configuration },
      },
      then,
    )
  }

  private carryOut(
    commands: readonly { id: string; command: string }[],
    nextReportSeconds: number,
  ): void {
    for (const { id } of commands) this.done.push(id)
    if (commands.some((c) => c.command === 'restart')) return this.restart()
    this.later(nextReportSeconds, () => this.call())
  }

  private retry(): void {
    this.later(RETRY_SECONDS, () => this.call())
  }

  protected fault(message: string): void {
    this.light = 'fault'
    this.message = message
    this.later(RETRY_SECONDS * 3, () => this.call())
  }

  /** The device's own page, as the laptop sees it. */
  private page(request: PageRequest): { ok: boolean; text: string } {
    if (this.isWriting) return { ok: false, text: 'it is writing; wait' }
    switch (request.act) {
      case 'password':
        this.flash.factoryPassword = false
        return { ok: true, text: 'password replaced' }
      case 'firmware':
        if (this.flash.firmware === request.firmware)
          return { ok: true, text: 'runs this version already' }
        this.loadFirmware(request.firmware ?? this.profile.firmware.wanted)
        return { ok: true, text: 'writing' }
      case 'configuration': {
        const parsed = configurationSchema.safeParse(request.configuration)
        if (!parsed.success || parsed.data.kind !== this.profile.kind)
          return { ok: false, text: 'this file is not for this kind of device' }
        this.setHere(parsed.data)
        return { ok: true, text: 'writing' }
      }
    }
  }

  /** Somebody sets it up at its own page. Gives whether it took it: while it writes it does not. */
  setHere(configuration: Configuration): boolean {
    if (this.isWriting) return false
    const { token, changedFrom, digest } = this.flash
    const next = createHash('sha256').update(canonical(configuration)).digest('hex')
    const from = token === null ? null : (changedFrom ?? digest)
    this.loadConfiguration(configuration, next, null, next === from ? null : from)
    return true
  }
}

/** Keys in order, no white space: how docs/controller-protocol.md says that a digest is made. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (value !== null && typeof value === 'object')
    return `{${Object.keys(value)
      .sort()
      .map((k) => `${JSON.stringify(k)}:${canonical((value as Record<string, unknown>)[k])}`)
      .join(',')}}`
  return JSON.stringify(value)
}
