/**
 * One end of a tunnel of IKEv2: what it proposes and takes, whom it takes the other for, which
 * networks it lets through, and when it takes the other for gone (RFC 7296; times of daemons, from
 * memory).
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import type { Ike, Packet } from '../frames/frame'
import type { Layer3 } from '../net/router'
import { longestOf, type Span } from './span'
import type { Heard, Wire } from './tunnelEnd'

/** Where the exchange begins, and where it goes on wherever somebody may translate (RFC 7296 2.23). */
export const IKE_PORT = 500
export const IKE_PORT_TRANSLATED = 4500

/** Between calls that get no answer, s. */
const CALL_SECONDS = 5
/** After so long of silence the other is asked whether it lives, and so often, s. */
const ALIVE_SECONDS = 30
const ALIVE_TRIES = 5

export interface IkeSetup {
  readonly proposal: string
  readonly childProposal: string
  readonly localId: string
  readonly remoteId: string
  readonly local: readonly Span[]
  readonly remote: readonly Span[]
  readonly sharedKey: string | null
  /** Where the other is called; null waits for it. */
  readonly host: string | null
  readonly mtu: number
}

/** By how they begin: what enciphers, what checks, what makes keys, how keys are exchanged. */
const KINDS = [
  /^(aes\d|3des|chacha|camellia|null)/,
  /^(sha|md5|aes[xc])/,
  /^prf/,
  /^(modp|ecp|curve|x\d)/,
]
/** The first of theirs of which some proposal here has one of each kind too. */
function chosen(mine: string, theirs: string): string | undefined {
  const all = (text: string): string[][] =>
    text.split(',').map((p) => p.toLowerCase().replace(/\s/g, '').split('-'))
  const fits = (a: readonly string[], b: readonly string[]): boolean =>
    KINDS.every((kind) => {
      const [x, y] = [a.filter((w) => kind.test(w)), b.filter((w) => kind.test(w))]
      return (x.length === 0 && y.length === 0) || x.some((w) => y.includes(w))
    })
  return all(theirs)
    .find((p) => all(mine).some((q) => fits(p, q)))
    ?.join('-')
}
/** Of two lists what both hold. */
const met = (a: readonly Span[], b: readonly Span[]): Span[] =>
  a.flatMap((p) =>
    b.flatMap((q) => {
      const [wide, narrow] = p.length <= q.length ? [p, q] : [q, p]
      return longestOf([wide], narrow.network) >= 0 ? [narrow] : []
    }),
  )

interface Standing {
  readonly exchange: number
  readonly local: readonly Span[]
  readonly remote: readonly Span[]
  at: Heard
  heardAt: number
  asked: number
}

export class IkeEnd implements Layer3 {
  onPacket: Layer3['onPacket'] = () => {}
  readonly address = null
  readonly length = 32
  /** Last time that it refused somebody, and why, s. */
  refusedAt = -Infinity
  refusal: string | null = null
  callsAt: number | null = null
  private runs = true
  private standing: Standing | null = null
  private own: number | null = null
  private calling: Timer | undefined
  private watching: Timer | undefined
  private waiting: Packet[] = []

  constructor(
    private readonly queue: EventQueue,
    private readonly setup: IkeSetup,
    private readonly wire: Wire<Ike>,
    /** Numbers of exchanges, so that no two ends begin the same. */
    private readonly number: () => number,
  ) {}

  get mtu(): number {
    return this.setup.mtu
  }
  start(): void {
    if (this.setup.host !== null) this.call()
  }
  stop(): void {
    this.runs = false
    this.calling?.cancel()
    this.watching?.cancel()
  }
  isUp(): boolean {
    return this.standing !== null
  }
  /** Its own selectors lead traffic to it, whether it stands or not. */
  leads(address: number): number {
    return longestOf(this.setup.remote, address)
  }
  /** Of several ends behind one port, how well a message fits this one; the best of them gets it. */
  fit(data: Ike): number {
    if (this.own === data.exchange || this.standing?.exchange === data.exchange) return 3
    if (data.message === 'init')
      return chosen(this.setup.proposal, data.proposal) === undefined ? 0 : 1
    // What was begun with one goes on with another, once it is known who calls.
    return data.message === 'auth' && data.id === this.setup.remoteId ? 2 : 0
  }

  send(packet: Packet): void {
    const { standing } = this
    if (!standing) {
      if (longestOf(this.setup.local, packet.src) < 0 || this.setup.host === null) return
      this.waiting = [...this.waiting.slice(-7), packet]
      this.call()
      return
    }
    if (longestOf(standing.local, packet.src) < 0 || longestOf(standing.remote, packet.dst) < 0)
      return
    this.wire.send(standing.at, { ...this.plain('esp', standing.exchange), inner: packet })
  }

  private plain(message: Ike['message'], exchange: number): Ike {
    return {
      ...{ kind: 'ike', message, exchange, proposal: '', id: '', expects: '' },
      ...{ sharedKey: null, local: [], remote: [], why: null, inner: null },
    }
  }

  /** Calls until it is answered; it never gives up. */
  call(): void {
    if (this.calling || this.standing || this.setup.host === null || !this.runs) return
    const again = (): void => {
      this.calling = undefined
      if (!this.runs || this.standing) return
      this.own = this.number()
      const exchange = this.own
      this.wire.resolve(this.setup.host!, (address) => {
        this.callsAt = address
        if (address === null || !this.runs) return
        this.wire.send(
          { address, port: IKE_PORT, by: null, at: IKE_PORT },
          { ...this.plain('init', exchange), proposal: this.setup.proposal },
        )
      })
      this.calling = this.queue.after(CALL_SECONDS, again)
    }
    again()
  }

  private refuse(data: Ike, from: Heard, why: string): void {
    this.refusedAt = this.queue.now
    this.refusal = why
    this.wire.send(from, { ...this.plain('refused', data.exchange), why })
  }

  receive(data: Ike, from: Heard): void {
    if (!this.runs) return
    const { standing, setup } = this
    if (standing?.exchange === data.exchange) standing.heardAt = this.queue.now
    switch (data.message) {
      case 'init': {
        const proposal = chosen(setup.proposal, data.proposal)
        if (proposal === undefined) return this.refuse(data, from, 'no proposal chosen')
        return this.wire.send(from, { ...this.plain('chosen', data.exchange), proposal })
      }
      case 'chosen':
        if (data.exchange !== this.own) return
        return this.wire.send(
          { ...from, port: IKE_PORT_TRANSLATED, at: IKE_PORT_TRANSLATED },
          {
            ...this.plain('auth', data.exchange),
            ...{ id: setup.localId, expects: setup.remoteId, sharedKey: setup.sharedKey },
            proposal: setup.childProposal,
            local: setup.local,
            remote: setup.remote,
          },
        )
      case 'auth':
        return this.authenticate(data, from)
      case 'agreed':
        if (data.exchange !== this.own) return
        if (data.id !== setup.remoteId || data.sharedKey !== setup.sharedKey) {
          this.refusedAt = this.queue.now
          this.refusal = 'authentication failed'
          return
        }
        return this.stand(data.exchange, data.remote, data.local, from)
      case 'refused':
        if (data.exchange !== this.own) return
        this.refusedAt = this.queue.now
        this.refusal = data.why
        return
      case 'alive':
        if (standing?.exchange === data.exchange)
          this.wire.send(from, this.plain('alive-answer', data.exchange))
        // Who was started anew knows nothing of it.
        else this.wire.send(from, { ...this.plain('refused', data.exchange), why: 'unknown' })
        return
      case 'alive-answer':
        if (standing) standing.asked = 0
        return
      case 'esp':
        if (!standing || standing.exchange !== data.exchange || !data.inner) return
        standing.at = from
        if (
          longestOf(standing.remote, data.inner.src) >= 0 &&
          longestOf(standing.local, data.inner.dst) >= 0
        )
          this.onPacket(data.inner, 'ike')
    }
  }

  private authenticate(data: Ike, from: Heard): void {
    const { setup } = this
    if (
      data.id !== setup.remoteId ||
      (data.expects !== '' && data.expects !== setup.localId) ||
      setup.sharedKey === null ||
      data.sharedKey !== setup.sharedKey
    )
      return this.refuse(data, from, 'authentication failed')
    if (chosen(setup.childProposal, data.proposal) === undefined)
      return this.refuse(data, from, 'no proposal chosen')
    const local = met(setup.local, data.remote)
    const remote = met(setup.remote, data.local)
    if (local.length === 0 || remote.length === 0)
      return this.refuse(data, from, 'traffic selectors unacceptable')
    this.stand(data.exchange, local, remote, from)
    this.wire.send(from, {
      ...this.plain('agreed', data.exchange),
      ...{ id: setup.localId, sharedKey: setup.sharedKey },
      ...{ local, remote },
    })
  }

  private stand(
    exchange: number,
    local: readonly Span[],
    remote: readonly Span[],
    at: Heard,
  ): void {
    this.standing = { exchange, local, remote, at, heardAt: this.queue.now, asked: 0 }
    this.calling?.cancel()
    this.calling = undefined
    this.watch()
    const { waiting } = this
    this.waiting = []
    for (const p of waiting) this.send(p)
  }

  /** Whoever is silent is asked, and taken for gone when it does not answer. */
  private watch(): void {
    this.watching?.cancel()
    this.watching = this.queue.after(ALIVE_SECONDS, () => {
      const { standing } = this
      if (!standing || !this.runs) return
      if (this.queue.now - standing.heardAt >= ALIVE_SECONDS) {
        if (standing.asked >= ALIVE_TRIES) {
          this.standing = null
          this.call()
          return
        }
        standing.asked++
        this.wire.send({ ...standing.at, by: null }, this.plain('alive', standing.exchange))
      }
      this.watch()
    })
  }
}
