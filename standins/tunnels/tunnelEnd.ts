/**
 * One end of a tunnel: who it lets in by whose key, what it takes from whom and sends to whom, where
 * it last heard them, and when a session is old. The times are those of the published protocol
 * (WireGuard, NDSS 2017, section 6), from memory.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import type { Packet, Sealed } from '../frames/frame'
import type { Layer3 } from '../net/router'
import { longestOf, type Span } from './span'

/** After so long a new session is made, and after so long none is used any more, s. */
const RENEW_SECONDS = 120
const END_SECONDS = 180
/** Between calls that get no answer, and for how long they go on, s. */
const CALL_SECONDS = 5
const CALLING_SECONDS = 90
/** Who hears nothing answers at least so soon, and is called anew when it does not, s. */
const ANSWER_SECONDS = 10
const SILENT_SECONDS = ANSWER_SECONDS + CALL_SECONDS
const MOST_WAITING = 64

export interface TunnelPeer {
  readonly name: string
  readonly publicKey: string
  readonly sharedKey: string | null
  readonly allowed: readonly Span[]
  readonly endpoint: { readonly host: string; readonly port: number } | null
  /** 0 sends none. */
  readonly keepaliveSeconds: number
}
export interface TunnelSetup {
  /** Public half of its own key. */
  readonly identity: string
  readonly address: number | null
  readonly length: number
  readonly mtu: number
  readonly peers: readonly TunnelPeer[]
}
export interface Heard {
  readonly address: number
  readonly port: number
  /** Its own address by which it heard. */
  readonly by: number | null
  /** Its own port by which it heard, where it has several. */
  readonly at?: number
}
/** What lies around it: how its datagrams leave, and who knows names. */
export interface Wire<D = Sealed> {
  send(to: Heard, data: D): void
  resolve(host: string, done: (address: number | null) => void): void
}

interface Kept {
  readonly is: TunnelPeer
  at: Heard | null
  /** Confirmed when the other end is known to have it too. */
  session: { readonly id: number; readonly since: number; isConfirmed: boolean } | null
  before: number | null
  /** Since when it is called without an answer. */
  callingSince: number | null
  waiting: Packet[]
  calling: Timer | undefined
  awake: Timer | undefined
  answer: Timer | undefined
  silent: Timer | undefined
}

export class TunnelEnd implements Layer3 {
  onPacket: Layer3['onPacket'] = () => {}
  private readonly peers: Kept[]
  private nextSession = 1
  private runs = true
  /** Last call that it could not place: by a key that it does not know, or meant for another, s. */
  refusedAt = -Infinity

  constructor(
    private readonly queue: EventQueue,
    private readonly setup: TunnelSetup,
    private readonly wire: Wire,
  ) {
    this.peers = setup.peers.map((is) => ({
      ...{ is, at: null, session: null, before: null, callingSince: null, waiting: [] },
      ...{ calling: undefined, awake: undefined, answer: undefined, silent: undefined },
    }))
  }

  get address(): number | null {
    return this.setup.address
  }
  get length(): number {
    return this.setup.length
  }
  get mtu(): number {
    return this.setup.mtu
  }

  /** Who has to keep a way open begins at once. */
  start(): void {
    for (const p of this.peers) if (p.is.keepaliveSeconds > 0) this.keepAwake(p)
  }
  stop(): void {
    this.runs = false
    for (const p of this.peers)
      for (const t of [p.calling, p.awake, p.answer, p.silent]) t?.cancel()
  }

  /** Prefix length of what it sends to somebody; -1 of what it sends to nobody. */
  leads(address: number): number {
    return Math.max(-1, ...this.peers.map((p) => longestOf(p.is.allowed, address)))
  }
  /** Whether a session stands with somebody, or with one of them. */
  isUp(publicKey?: string): boolean {
    return this.peers.some(
      (p) =>
        (publicKey === undefined || p.is.publicKey === publicKey) && this.sessionOf(p) !== null,
    )
  }
  /** Where it calls its first peer, or heard it last. */
  get callsAt(): number | null {
    return this.peers[0]?.at?.address ?? null
  }

  /** Calls a peer, whatever it knows of it. */
  call(publicKey: string): void {
    const p = this.peers.find((x) => x.is.publicKey === publicKey)
    if (p) this.begin(p)
  }

  send(packet: Packet): void {
    let best: Kept | undefined
    let length = -1
    for (const p of this.peers) {
      const l = longestOf(p.is.allowed, packet.dst)
      if (l > length) [best, length] = [p, l]
    }
    if (best) this.sendTo(best, packet)
  }

  private sessionOf(p: Kept): number | null {
    return p.session?.isConfirmed && this.queue.now - p.session.since < END_SECONDS
      ? p.session.id
      : null
  }

  private sendTo(p: Kept, inner: Packet | null): void {
    const session = this.sessionOf(p)
    if (session === null || !p.at) {
      if (inner && p.waiting.length < MOST_WAITING) p.waiting.push(inner)
      this.begin(p)
      return
    }
    if (this.queue.now - p.session!.since > RENEW_SECONDS) this.begin(p)
    p.answer?.cancel()
    p.answer = undefined
    // Who sends and hears nothing calls anew: the other end may have started again.
    if (inner)
      p.silent ??= this.queue.after(SILENT_SECONDS, () => {
        p.silent = undefined
        this.begin(p)
      })
    this.wire.send(p.at, this.sealed(p, 'data', session, inner))
  }

  private sealed(
    p: Kept,
    message: Sealed['message'],
    session: number,
    inner: Packet | null = null,
  ): Sealed {
    const { publicKey: to, sharedKey } = p.is
    return { kind: 'sealed', message, from: this.setup.identity, to, sharedKey, session, inner }
  }

  /** Calls until it is answered or has tried long enough. */
  private begin(p: Kept): void {
    if (p.callingSince !== null || !this.runs) return
    p.callingSince = this.queue.now
    const again = (): void => {
      if (!this.runs || p.callingSince === null) return
      if (this.queue.now - p.callingSince >= CALLING_SECONDS) {
        p.callingSince = null
        p.waiting = []
        // Routers find the name anew when nobody answers (common practice).
        if (p.is.endpoint) p.at = null
        return
      }
      this.callOnce(p)
      // The address by which it was heard may be the trouble: another line takes over from it.
      if (p.at) p.at = { ...p.at, by: null }
      p.calling = this.queue.after(CALL_SECONDS, again)
    }
    again()
  }

  private callOnce(p: Kept): void {
    const session = this.nextSession++
    const go = (at: Heard | null): void => {
      if (!this.runs || p.callingSince === null || !at) return
      p.at = at
      this.wire.send(at, this.sealed(p, 'call', session))
    }
    const { endpoint } = p.is
    // What was heard since is newer than what was typed.
    if (p.at || !endpoint) go(p.at)
    else
      this.wire.resolve(endpoint.host, (address) =>
        go(address === null ? null : { address, port: endpoint.port, by: null }),
      )
  }

  private keepAwake(p: Kept): void {
    this.sendTo(p, null)
    p.awake = this.queue.after(p.is.keepaliveSeconds, () => this.keepAwake(p))
  }

  receive(data: Sealed, from: Heard): void {
    const p = this.peers.find((x) => x.is.publicKey === data.from)
    if (!this.runs) return
    if (!p || data.to !== this.setup.identity || data.sharedKey !== p.is.sharedKey) {
      if (data.message === 'call') this.refusedAt = this.queue.now
      return
    }
    if (data.message === 'data') {
      this.take(p, data, from)
      return
    }
    if (data.message === 'answer' && p.callingSince === null) return
    // Whoever calls may be somewhere else by now.
    p.at = from
    p.before = p.session?.isConfirmed ? p.session.id : p.before
    p.session = {
      id: data.session,
      since: this.queue.now,
      isConfirmed: data.message === 'answer',
    }
    p.callingSince = null
    p.calling?.cancel()
    if (data.message === 'call') this.wire.send(from, this.sealed(p, 'answer', data.session))
    else {
      // The first packet tells the other end that its answer came.
      this.sendTo(p, null)
      this.sendWaiting(p)
    }
  }

  private sendWaiting(p: Kept): void {
    const { waiting } = p
    p.waiting = []
    for (const packet of waiting) this.sendTo(p, packet)
  }

  private take(p: Kept, data: Sealed, from: Heard): void {
    if (p.session?.id === data.session && !p.session.isConfirmed) {
      p.session.isConfirmed = true
      p.at = from
      this.sendWaiting(p)
    }
    const session = this.sessionOf(p)
    if (session === null || (data.session !== session && data.session !== p.before)) return
    p.at = from
    p.silent?.cancel()
    p.silent = undefined
    const { inner } = data
    if (!inner) return
    p.answer ??= this.queue.after(ANSWER_SECONDS, () => {
      p.answer = undefined
      this.sendTo(p, null)
    })
    if (longestOf(p.is.allowed, inner.src) >= 0) this.onPacket(inner, p.is.name)
  }
}
