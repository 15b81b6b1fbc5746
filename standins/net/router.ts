/**
 * Routing between interfaces with ordered rules, connection state and address translation on the
 * lines.
 */
import type { EventQueue } from '../clock/eventQueue'
import {
  ALL_HOSTS,
  octetsOf,
  sameNetwork,
  toNumber,
  USUAL_ECHO,
  type Mac,
  type Packet,
  type Udp,
} from '../frames/frame'
import { longestOf, spansIn, type Span } from '../tunnels/span'
import { Endpoint } from './endpoint'
import { PortForwards, type PortForward } from './portForwards'

/** In rules: `line` is every line, a number a VLAN, else a tunnel. */
export type ZoneName = 'line' | number | `tunnel:${string}`
type TunnelPlace = `tunnel:${string}`
/** What an interface is of: a VLAN, a line by its socket, or a tunnel. */
export type Place = number | `line ${string}` | TunnelPlace
export const lineAt = (port: string): Place => `line ${port}`
const isLine = (place: Place | undefined): place is `line ${string}` =>
  typeof place === 'string' && place.startsWith('line ')
const isTunnel = (place: Place | undefined): place is TunnelPlace =>
  typeof place === 'string' && place.startsWith('tunnel:')
const zoneOf = (place: Place): ZoneName => (isLine(place) ? 'line' : place)

/** What the router knows of a line beside its interface. */
export interface LineSetup {
  /** Largest packet, octets. */
  readonly mtu: number
  /** Lines of one group share what leaves, by their weights; groups are used in their order. */
  readonly group: number
  readonly weight: number
  /** Next hop; null while it has none. */
  gateway: number | null
  /** Whether it is taken to lead anywhere. */
  isUsable: boolean
  /** Of one that was just switched on: whether the router knows of it by now. */
  isReady: boolean
}
/** Who leaves by which lines. */
export interface LineChoice {
  readonly from: 'any' | number
  readonly protocol: string
  /** Empty is all of them. */
  readonly ports: readonly { readonly first: number; readonly last: number }[]
  readonly lines: readonly Place[]
}
/** What leaves, for the choice of its line. */
interface Leaving {
  readonly zone: ZoneName
  readonly packet: Packet
  readonly connection: Connection | undefined
}
/**
 * What a router needs of an interface: on a segment with neighbours, or at the end of a line
 * without.
 */
export interface Layer3 {
  readonly address: number | null
  readonly length: number
  /** Largest packet, octets; absent where it is no concern. */
  readonly mtu?: number
  /** Prefix length of what lies behind it beside its own network; -1 of what does not. */
  leads?(address: number): number
  onPacket: (packet: Packet, from: Mac) => void
  send(packet: Packet, nextHop: number): void
}
export interface FilterRule {
  readonly chain: 'input' | 'forward'
  readonly from: 'any' | readonly ZoneName[]
  readonly to: 'any' | readonly ZoneName[]
  readonly family: 'any' | 'ipv4' | 'ipv6'
  /** Names of address lists; null is any address. */
  readonly sources: string | null
  readonly destinations: string | null
  /** Only TCP, UDP and ICMP are spoken here; rules for anything else match nothing. */
  readonly protocol: string
  readonly ports: readonly { readonly first: number; readonly last: number }[]
  /** Empty is all of them. */
  readonly states: readonly State[]
  /** Of connections that a port forward led in: with the others, alone, or not at all. */
  readonly forwarded: 'too' | 'only' | 'not'
  /** When it stands; null is always. */
  readonly hours: {
    readonly days: readonly number[]
    readonly fromMinute: number
    readonly toMinute: number
  } | null
  readonly verdict: 'accept' | 'drop'
}
type State = 'established' | 'related' | 'invalid' | 'new'
/** A tunnel by which some leave for the internet. */
export interface Exit {
  readonly place: TunnelPlace
  readonly through: readonly Span[]
  readonly whenDown: 'blocked' | 'direct'
  isUp(): boolean
}
/** What may come from where: nothing but `only`, and never `never`. */
export interface OriginRule {
  readonly zone: ZoneName
  readonly only: readonly string[] | null
  readonly never: readonly string[]
}

const isIn = (spans: readonly Span[], address: number): boolean => longestOf(spans, address) >= 0

interface Connection {
  /** Seen from who opened it. */
  readonly src: number
  readonly srcPort: number
  readonly dst: number
  readonly dstPort: number
  /** What the outside sees instead of the source. */
  outside: { address: number; port: number } | null
  /** Which line of those that share it took. */
  line?: Place
  lastSeen: number
}

function isFor(c: LineChoice, { zone, packet }: Leaving): boolean {
  if (c.from !== 'any' && c.from !== zone) return false
  if (c.protocol !== 'any' && c.protocol !== packet.body.protocol) return false
  if (c.ports.length === 0) return true
  const port = packet.body.protocol === 'icmp' ? null : packet.body.dstPort
  return port !== null && c.ports.some((p) => port >= p.first && port <= p.last)
}

const IDLE_SECONDS = 300
const SWEEP_SECONDS = 60
const isReply = (data: Udp['data']): boolean => 'isReply' in data && data.isReply
const portsOf = (body: Packet['body']): [number, number] =>
  body.protocol === 'icmp' ? [body.id, body.id] : [body.srcPort, body.dstPort]
const withPorts = (body: Packet['body'], src: number, dst: number): Packet['body'] =>
  body.protocol === 'icmp'
    ? { ...body, id: body.type === 'echo' ? src : dst }
    : { ...body, srcPort: src, dstPort: dst }

export class Router {
  readonly interfaces = new Map<Place, Layer3>()
  /** In the order in which they are used. */
  private readonly lines = new Map<Place, LineSetup>()
  readonly endpoint: Endpoint
  private rules: readonly FilterRule[] = []
  private origins = new Map<ZoneName, { only: readonly Span[] | null; never: readonly Span[] }>()
  private lists = new Map<string, readonly Span[]>()
  masquerade: ReadonlySet<ZoneName> = new Set()
  choices: readonly LineChoice[] = []
  exits: readonly Exit[] = []
  /** Networks that lie behind a host, by its address. */
  routes: readonly { readonly to: Span; readonly via: number }[] = []
  /** Zones from which nothing is passed on, whatever the rules say. */
  readonly deaf = new Set<ZoneName>()
  /** UDP ports of its own that it takes nothing at, whatever the rules say. */
  readonly shut = new Set<number>()
  /** What each line of a group may take before the others have their turn. */
  private readonly credits = new Map<Place, number>()
  /** A broadcast or a UDP datagram to the router itself, after the rules let it in. */
  onLocalUdp: (place: Place, packet: Packet, from: Mac) => void = () => {}
  private readonly forwards: PortForwards
  /** The day of the week, 1 for Monday, and the minute of the day by the clock of the device. */
  wallClock: () => { day: number; minute: number } = () => ({ day: 1, minute: 0 })
  private readonly byFlow = new Map<string, Connection>()
  private readonly byOutside = new Map<string, Connection>()
  private nextPort = 20_000
  private sweepAt = 0

  constructor(private readonly queue: EventQueue) {
    this.forwards = new PortForwards(queue)
    this.endpoint = new Endpoint(
      queue,
      (dst) => this.sourceFor(dst),
      (packet) => this.sendOwn(packet),
    )
  }

  filter(by: {
    readonly rules: readonly FilterRule[]
    readonly origins: readonly OriginRule[]
    readonly addressLists: Readonly<Record<string, readonly string[]>>
    readonly forwards: readonly (Omit<PortForward, 'address'> & { readonly address: string })[]
  }): void {
    this.rules = by.rules
    this.forwards.set(by.forwards.map((f) => ({ ...f, address: toNumber(f.address) })))
    this.origins = new Map(
      by.origins.map((o) => [o.zone, { only: o.only && spansIn(o.only), never: spansIn(o.never) }]),
    )
    this.lists = new Map(
      Object.entries(by.addressLists).map(([name, prefixes]) => [name, spansIn(prefixes)]),
    )
  }

  reset(): void {
    this.interfaces.clear()
    this.byFlow.clear()
    this.byOutside.clear()
    this.forwards.reset()
    this.lines.clear()
    this.credits.clear()
    this.exits = []
    this.routes = []
  }

  attach(place: Place, net: Layer3): void {
    this.interfaces.set(place, net)
    net.onPacket = (packet, from) => this.receive(place, packet, from)
  }

  /** A line after those that were attached before it. Gives what is kept of it. */
  attachLine(
    port: string,
    net: Layer3,
    given: Pick<LineSetup, 'mtu' | 'group' | 'weight'>,
  ): LineSetup {
    const setup: LineSetup = { ...given, gateway: null, isUsable: true, isReady: true }
    this.lines.set(lineAt(port), setup)
    this.attach(lineAt(port), net)
    return setup
  }

  private receive(place: Place, given: Packet, from: Mac): void {
    this.expire()
    const zone = zoneOf(place)
    const origin = this.origins.get(zone)
    if (origin && ((origin.only && !isIn(origin.only, given.src)) || isIn(origin.never, given.src)))
      return
    const answer = this.forwards.answer(given)
    if (answer) {
      const back = this.wayOf(answer)
      if (back !== undefined && given.ttl > 1)
        this.transmit(back, { ...answer, ttl: given.ttl - 1 })
      return
    }
    const returned = zone === 'line' || this.isExit(place) ? this.translateBack(given) : given
    const led =
      returned === given
        ? this.forwards.lead(
            given,
            (a) => this.isOfALine(a),
            (a) => {
              const to = this.connected(a)
              return to === undefined ? undefined : this.interfaces.get(to)
            },
          )
        : undefined
    const packet = led?.inward ?? returned
    const own =
      packet.dst === ALL_HOSTS ||
      [...this.interfaces.values()].some((i) => i.address === packet.dst)
    const { state, connection } = this.stateOf(packet)
    const out = own
      ? undefined
      : (this.connected(packet.dst) ?? this.leaves({ zone, packet, connection }))
    if (!own && out === undefined) return
    if (own && packet.body.protocol === 'udp' && this.shut.has(packet.body.dstPort)) return
    if (!own && this.deaf.has(zone)) return
    if (
      !this.allows(
        own ? 'input' : 'forward',
        zone,
        out === undefined ? null : zoneOf(out),
        packet,
        state,
        led !== undefined,
      )
    )
      return
    const current = connection ?? this.remember(packet)
    current.lastSeen = this.queue.now
    if (isLine(out)) current.line = out
    if (own) {
      if (packet.body.protocol === 'udp' && !isReply(packet.body.data))
        this.onLocalUdp(place, packet, from)
      else if (packet.dst !== ALL_HOSTS) this.endpoint.receive(packet)
      return
    }
    if (packet.ttl <= 1) return
    if (this.isTooBig(packet, out)) {
      this.endpoint.refuseSize(packet, this.mtuOf(out))
      return
    }
    const onward = { ...packet, ttl: packet.ttl - 1 }
    if (led) {
      this.transmit(out!, led.onward(onward))
      return
    }
    this.transmit(
      out!,
      (isLine(out) && zone !== 'line' && this.masquerade.has(zone)) || this.isExit(out)
        ? this.translateOut(onward, current, out!)
        : onward,
    )
  }

  private sendOwn(packet: Packet): void {
    if ([...this.interfaces.values()].some((i) => i.address === packet.dst)) {
      // What it says to itself stays inside.
      this.queue.after(0, () => this.endpoint.receive(packet))
      return
    }
    const out = this.wayOf(packet)
    if (out === undefined) return
    if (this.isTooBig(packet, out)) {
      // What is sealed is broken up, and its pieces get lost on the way, as in many networks.
      if (packet.body.protocol === 'icmp')
        this.endpoint.receive({
          ...packet,
          body: {
            protocol: 'icmp',
            type: 'too-big',
            id: portsOf(packet.body)[0],
            octets: USUAL_ECHO,
            mtu: this.mtuOf(out),
          },
        })
      return
    }
    if (!this.stateOf(packet).connection) this.remember(packet)
    this.transmit(out, packet)
  }

  private mtuOf(out: Place | undefined): number {
    if (out === undefined) return Infinity
    return this.lines.get(out)?.mtu ?? this.interfaces.get(out)?.mtu ?? Infinity
  }
  private isTooBig(packet: Packet, out: Place | undefined): boolean {
    return octetsOf(packet) > this.mtuOf(out)
  }
  private isOfALine(address: number): boolean {
    for (const place of this.lines.keys())
      if (this.interfaces.get(place)?.address === address) return true
    return false
  }
  /** Addresses that the lines have now, those that are taken to lead anywhere first. */
  lineAddresses(): number[] {
    return [...this.lines]
      .sort(([, a], [, b]) => Number(b.isUsable) - Number(a.isUsable))
      .flatMap(([l]) => this.interfaces.get(l)?.address ?? [])
  }

  private sourceFor(dst: number): number | null {
    const out = this.connected(dst) ?? this.wayOut(null)
    return out === undefined ? null : (this.interfaces.get(out)?.address ?? null)
  }

  private transmit(out: Place, packet: Packet): void {
    const net = this.interfaces.get(out)!
    if (isTunnel(out)) {
      net.send(packet, packet.dst)
      return
    }
    const routed = this.routeOf(packet.dst)
    if (routed && !isLine(out)) {
      net.send(packet, routed.via)
      return
    }
    const direct = net.address !== null && sameNetwork(packet.dst, net.address, net.length)
    const nextHop = direct ? packet.dst : (this.lines.get(out)?.gateway ?? null)
    if (nextHop !== null) net.send(packet, nextHop)
  }

  /** Connected networks and what lies behind tunnels and hosts, by the longest prefix. */
  private connected(dst: number): Place | undefined {
    let best: { place: Place; length: number } | undefined
    for (const [place, net] of this.interfaces) {
      const own =
        net.address !== null && sameNetwork(dst, net.address, net.length) ? net.length : -1
      const length = Math.max(own, this.isExit(place) ? -1 : (net.leads?.(dst) ?? -1))
      if (length >= 0 && (!best || length > best.length)) best = { place, length }
    }
    const routed = this.routeOf(dst)
    return routed && (!best || routed.to.length > best.length)
      ? this.connected(routed.via)
      : best?.place
  }
  private routeOf(dst: number): (typeof this.routes)[number] | undefined {
    return this.routes.find((r) => sameNetwork(dst, r.to.network, r.to.length))
  }

  private isExit(place: Place | undefined): boolean {
    return this.exits.some((e) => e.place === place)
  }
  /**
   * Some leave by a tunnel; while that is down they are held back, or leave as everybody does. What
   * came in by a line is answered by it.
   */
  private leaves(leaving: Leaving): Place | undefined {
    const { packet, connection } = leaving
    const exit = this.exits.find((e) => isIn(e.through, packet.src))
    const isAnswer = connection !== undefined && connection.src === packet.dst
    if (!exit || isAnswer) return this.wayOut(leaving)
    if (exit.isUp() || exit.whenDown === 'blocked') return exit.place
    return this.wayOut(leaving)
  }

  /** The first group with a line that leads anywhere; within it, a connection keeps to its line. */
  private wayOut(leaving: Leaving | null): Place | undefined {
    for (const group of this.groupsFor(leaving)) {
      const alive = group.filter((place) => {
        const setup = this.lines.get(place)
        return setup?.isUsable && setup.isReady && setup.gateway !== null
      })
      const [only, ...others] = alive
      if (only === undefined) continue
      if (others.length === 0) return only
      const kept = leaving?.connection?.line
      return kept !== undefined && alive.includes(kept) ? kept : this.nextOf(alive)
    }
    // Where all are taken to be dead, the first with an address is tried all the same.
    return this.groupsFor(leaving)
      .flat()
      .find((place) => {
        const setup = this.lines.get(place)
        return setup?.isReady && setup.gateway !== null
      })
  }

  private groupsFor(leaving: Leaving | null): Place[][] {
    const choice =
      leaving && typeof leaving.zone === 'number'
        ? this.choices.find((c) => isFor(c, leaving))
        : undefined
    if (choice) return choice.lines.map((l) => [l])
    const groups = new Map<number, Place[]>()
    for (const [place, { group }] of this.lines)
      groups.set(group, [...(groups.get(group) ?? []), place])
    return [...groups].sort(([a], [b]) => a - b).map(([, places]) => places)
  }

  /** In turns, by weight. */
  private nextOf(places: readonly Place[]): Place {
    const weights = places.map((p) => this.lines.get(p)!.weight)
    const isNone = weights.every((w) => w === 0)
    const all = isNone ? places.length : weights.reduce((a, b) => a + b, 0)
    let best: Place = places[0]!
    for (const [i, p] of places.entries())
      this.credits.set(p, (this.credits.get(p) ?? 0) + (isNone ? 1 : weights[i]!))
    for (const p of places) if (this.credits.get(p)! > this.credits.get(best)!) best = p
    this.credits.set(best, this.credits.get(best)! - all)
    return best
  }

  /** What was asked by a line's address is answered by that line. */
  private wayOf({ src, dst }: Packet): Place | undefined {
    const out = this.connected(dst)
    if (out !== undefined && !isLine(out)) return out
    for (const place of this.lines.keys())
      if (this.interfaces.get(place)?.address === src) return place
    return out ?? this.wayOut(null)
  }

  private allows(
    chain: 'input' | 'forward',
    from: ZoneName,
    to: ZoneName | null,
    packet: Packet,
    state: State,
    isLed: boolean,
  ): boolean {
    const port = packet.body.protocol === 'icmp' ? null : packet.body.dstPort
    for (const r of this.rules) {
      if (
        r.chain !== chain ||
        r.family === 'ipv6' ||
        (r.states.length > 0 && !r.states.includes(state))
      )
        continue
      if (r.forwarded !== 'too' && (r.forwarded === 'only') !== isLed) continue
      if (r.hours !== null && !this.isNow(r.hours)) continue
      if (r.from !== 'any' && !r.from.includes(from)) continue
      if (chain === 'forward' && r.to !== 'any' && (to === null || !r.to.includes(to))) continue
      if (r.sources !== null && !isIn(this.lists.get(r.sources) ?? [], packet.src)) continue
      if (r.destinations !== null && !isIn(this.lists.get(r.destinations) ?? [], packet.dst))
        continue
      if (r.protocol !== 'any' && r.protocol !== packet.body.protocol) continue
      if (
        r.ports.length > 0 &&
        (port === null || !r.ports.some((p) => port >= p.first && port <= p.last))
      )
        continue
      return r.verdict === 'accept'
    }
    return state === 'established'
  }

  private isNow({ days, fromMinute, toMinute }: NonNullable<FilterRule['hours']>): boolean {
    const { day, minute } = this.wallClock()
    const yesterday = day === 1 ? 7 : day - 1
    if (toMinute > fromMinute)
      return days.includes(day) && minute >= fromMinute && minute < toMinute
    return (
      (days.includes(day) && minute >= fromMinute) ||
      (days.includes(yesterday) && minute < toMinute)
    )
  }

  private flow(packet: Packet, reverse: boolean): string {
    const [s, d] = portsOf(packet.body)
    return reverse
      ? `${packet.body.protocol}|${packet.dst}:${d}>${packet.src}:${s}`
      : `${packet.body.protocol}|${packet.src}:${s}>${packet.dst}:${d}`
  }

  private stateOf(packet: Packet): { state: State; connection: Connection | undefined } {
    const forward = this.byFlow.get(this.flow(packet, false))
    const { body } = packet
    const opens =
      body.protocol === 'udp' ||
      (body.protocol === 'tcp' && body.flag === 'syn') ||
      (body.protocol === 'icmp' && body.type === 'echo')
    // A question is never the answer to another one, even where two hosts ping each other with the
    // same id.
    if (opens && body.protocol !== 'udp') return { state: 'new', connection: forward }
    const connection = forward ?? this.byFlow.get(this.flow(packet, true))
    if (connection) return { state: 'established', connection }
    return { state: opens ? 'new' : 'invalid', connection: undefined }
  }

  private remember(packet: Packet): Connection {
    const [srcPort, dstPort] = portsOf(packet.body)
    const connection: Connection = {
      src: packet.src,
      srcPort,
      dst: packet.dst,
      dstPort,
      outside: null,
      lastSeen: this.queue.now,
    }
    this.byFlow.set(this.flow(packet, false), connection)
    return connection
  }

  /** A connection that goes by another line by now goes on under that one's address, anew. */
  private translateOut(packet: Packet, connection: Connection, line: Place): Packet {
    const address = this.interfaces.get(line)?.address
    if (address === null || address === undefined) return packet
    if (connection.outside?.address !== address) {
      this.nextPort = this.nextPort >= 60_000 ? 20_000 : this.nextPort + 1
      connection.outside = { address, port: this.nextPort }
      this.byOutside.set(
        `${packet.body.protocol}|${connection.dst}|${connection.outside.port}`,
        connection,
      )
    }
    return {
      ...packet,
      src: connection.outside.address,
      body: withPorts(packet.body, connection.outside.port, portsOf(packet.body)[1]),
    }
  }

  private translateBack(packet: Packet): Packet {
    const [s, d] = portsOf(packet.body)
    const connection = this.byOutside.get(`${packet.body.protocol}|${packet.src}|${d}`)
    if (!connection || connection.outside?.address !== packet.dst) return packet
    return { ...packet, dst: connection.src, body: withPorts(packet.body, s, connection.srcPort) }
  }

  /**
   * Forgets idle connections, now and then: a look at all of them for every packet would cost more
   * than the packets.
   */
  private expire(): void {
    if (this.queue.now < this.sweepAt) return
    this.sweepAt = this.queue.now + SWEEP_SECONDS
    this.forwards.expire()
    for (const [key, c] of this.byFlow)
      if (this.queue.now - c.lastSeen > IDLE_SECONDS) this.byFlow.delete(key)
    for (const [key, c] of this.byOutside)
      if (this.queue.now - c.lastSeen > IDLE_SECONDS) this.byOutside.delete(key)
  }
}
