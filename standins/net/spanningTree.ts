/**
 * The spanning tree as one bridge runs it (IEEE 802.1Q 13): what neighbours say is compared and
 * kept, the own view told on when it changes; a socket that is to block does
 * so at once, one that may pass frames waits until what is said has gone round. Heard nothing for a
 * while, what was said is forgotten.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import type { Bpdu, Mac } from '../frames/frame'
import type { Socket } from './socket'

/** Long after the slowest news has gone round a site, s. */
const WAIT_SECONDS = 2
const HELLO_SECONDS = 5
/** Where nobody is heard, in case somebody is plugged in further away. */
const QUIET_HELLO_SECONDS = 60
const FORGET_SECONDS = 16
/** What went through more bridges is old news of a root that is gone (IEEE 802.1Q 13.26.4). */
const MOST_HOPS = 20
/** Changes that are remembered, so that each goes round once. */
const MOST_CHANGES = 256
/** Cost of a cable of 1 Mbit/s; of a faster one so much less. */
const COST_AT_1_MBPS = 20_000_000

interface TreePort {
  readonly socket: Socket
  readonly number: number
  heard: { bpdu: Bpdu; at: number } | null
  saidAt: number
  passes: boolean
  role: 'root' | 'serving' | 'blocked'
  waiting: Timer | null
  closed: boolean
  /** Whether a bridge was heard there since it has a signal. */ bridged: boolean
}
export interface PortSettings {
  /** Hosts are behind it: it passes frames at once. */ readonly isEdge: boolean
  /** It closes where a bridge speaks. */ readonly guard: boolean
}

const before = (a: readonly (string | number)[], b: readonly (string | number)[]): boolean => {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i]! < b[i]!
  return false
}

export class SpanningTree {
  private readonly ports = new Map<string, TreePort>()
  private settings = new Map<string, PortSettings>()
  private own = ''
  private view = { root: '', cost: 0, age: 0, by: null as TreePort | null }
  private running = false
  private timer: Timer | null = null
  private changes = 0
  private readonly heardOf = new Set<string>()
  /** To be called when ways may have changed: what was heard where no longer holds. */
  onChange: () => void = () => {}

  constructor(
    private readonly queue: EventQueue,
    private readonly mac: Mac,
  ) {}

  /** @param number of the socket on the housing, from 1 */
  attach(name: string, socket: Socket, number: number): void {
    const port: TreePort = {
      socket,
      number,
      heard: null,
      saidAt: -Infinity,
      passes: false,
      role: 'serving',
      waiting: null,
      closed: false,
      bridged: false,
    }
    this.ports.set(name, port)
    socket.onLink = (up) => this.linkChanged(name, up)
  }

  start(priority: number, settings: ReadonlyMap<string, PortSettings>): void {
    this.stop()
    this.running = true
    this.settings = new Map(settings)
    this.own = `${String(priority).padStart(5, '0')}.${this.mac}`
    this.view = { root: this.own, cost: 0, age: 0, by: null }
    for (const [name, p] of this.ports) if (p.socket.up) this.linkChanged(name, true)
    this.tick()
  }

  stop(): void {
    this.running = false
    this.timer?.cancel()
    for (const p of this.ports.values()) {
      p.waiting?.cancel()
      Object.assign(p, {
        heard: null,
        passes: false,
        role: 'serving',
        waiting: null,
        closed: false,
        bridged: false,
        saidAt: -Infinity,
      })
    }
  }

  passes(name: string): boolean {
    return this.ports.get(name)?.passes ?? true
  }

  private tick(): void {
    this.timer = this.queue.after(HELLO_SECONDS, () => {
      for (const p of this.ports.values())
        if (p.heard && this.queue.now - p.heard.at > FORGET_SECONDS) p.heard = null
      this.decide()
      for (const p of this.ports.values())
        if (
          p.socket.up &&
          p.role === 'serving' &&
          (p.bridged || this.queue.now - p.saidAt >= QUIET_HELLO_SECONDS || this.hasFresh(p))
        )
          this.say(p)
      this.tick()
    })
  }
  /** The other end may have been starting when it was told first. */
  private hasFresh(p: TreePort): boolean {
    return p.waiting !== null
  }

  private linkChanged(name: string, up: boolean): void {
    const p = this.ports.get(name)!
    p.waiting?.cancel()
    Object.assign(p, { heard: null, passes: false, waiting: null, closed: false, bridged: false })
    if (!this.running) return
    if (up) {
      this.decide()
      this.say(p)
    } else this.decide()
  }

  receive(name: string, bpdu: Bpdu): void {
    const p = this.ports.get(name)
    if (!p || !this.running || p.closed) return
    if (this.settings.get(name)?.guard) {
      p.closed = true
      p.passes = false
      p.waiting?.cancel()
      p.waiting = null
      return
    }
    p.bridged = true
    if (bpdu.change !== null && !this.heardOf.has(bpdu.change)) this.tellChange(bpdu.change, p)
    // On a cable with several bridges the best of them counts; the same one may say something worse
    // than before.
    const isWorse =
      p.heard &&
      before(vectorOf(p.heard.bpdu), vectorOf(bpdu)) &&
      (p.heard.bpdu.bridge !== bpdu.bridge || p.heard.bpdu.port !== bpdu.port)
    if (!isWorse) p.heard = { bpdu, at: this.queue.now }
    this.decide()
    // Who says something worse than one's own does not know better yet.
    if (p.role === 'serving' && before(this.saying(p), vectorOf(bpdu))) this.say(p)
  }

  private saying(p: TreePort): readonly (string | number)[] {
    return [this.view.root, this.view.cost, this.own, p.number]
  }
  private costOf(p: TreePort): number {
    return Math.round(
      COST_AT_1_MBPS /
        (p.socket.agreedMbps ?? Math.min(p.socket.speedMbps, p.socket.peer?.speedMbps ?? Infinity)),
    )
  }

  private decide(): void {
    if (!this.running) return
    let best = {
      vector: [this.own, 0, this.own, 0, 0] as readonly (string | number)[],
      root: this.own,
      cost: 0,
      age: 0,
      by: null as TreePort | null,
    }
    for (const p of this.ports.values()) {
      if (
        !p.socket.up ||
        !p.heard ||
        p.closed ||
        p.heard.bpdu.bridge === this.own ||
        p.heard.bpdu.age >= MOST_HOPS
      )
        continue
      const { root, cost, bridge, port, age } = p.heard.bpdu
      const vector = [root, cost + this.costOf(p), bridge, port, p.number]
      if (before(vector, best.vector))
        best = { vector, root, cost: cost + this.costOf(p), age: age + 1, by: p }
    }
    const isNews =
      best.root !== this.view.root || best.cost !== this.view.cost || best.age !== this.view.age
    this.view = { root: best.root, cost: best.cost, age: best.age, by: best.by }
    for (const [name, p] of this.ports) {
      if (!p.socket.up || p.closed) continue
      p.role =
        p === best.by
          ? 'root'
          : p.heard && before(vectorOf(p.heard.bpdu), this.saying(p))
            ? 'blocked'
            : 'serving'
      if (p.role === 'blocked') {
        p.passes = false
        p.waiting?.cancel()
        p.waiting = null
        continue
      }
      if (p.passes || p.waiting) continue
      const open = (): void => {
        p.waiting = null
        p.passes = p.role !== 'blocked' && !p.closed
        if (p.passes && p.bridged)
          this.tellChange(`${this.own} ${++this.changes} ${this.queue.now}`, null)
      }
      if (this.settings.get(name)?.isEdge && !p.bridged) open()
      else p.waiting = this.queue.after(WAIT_SECONDS, open)
    }
    if (isNews)
      for (const p of this.ports.values())
        if (p.socket.up && p.role === 'serving' && !p.closed) this.say(p)
  }

  private tellChange(change: string, from: TreePort | null): void {
    this.heardOf.add(change)
    if (this.heardOf.size > MOST_CHANGES) this.heardOf.delete(this.heardOf.values().next().value!)
    this.onChange()
    for (const p of this.ports.values())
      if (p !== from && p.socket.up && p.bridged && !p.closed) this.say(p, change)
  }

  private say(p: TreePort, change: string | null = null): void {
    p.saidAt = this.queue.now
    p.socket.send({
      from: this.mac,
      to: BRIDGES,
      tag: null,
      payload: {
        kind: 'bpdu',
        root: this.view.root,
        cost: this.view.cost,
        bridge: this.own,
        port: p.number,
        age: this.view.age,
        change,
      },
    })
  }
}

/** Heard by bridges alone (IEEE 802.1Q 8.6.3). */
const BRIDGES: Mac = '01:80:c2:00:00:00'
const vectorOf = (b: Bpdu): readonly (string | number)[] => [b.root, b.cost, b.bridge, b.port]
