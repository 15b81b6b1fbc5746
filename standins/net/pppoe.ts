/**
 * PPP over Ethernet (RFC 2516): discovery, then a session with LCP (RFC 1661), a password in the
 * clear (PAP, RFC 1334) and IPCP (RFC 1332 with the
 * name servers of RFC 1877). Both ends, as far as a line needs them.
 */
import type { EventQueue, Timer } from '../clock/eventQueue'
import { BROADCAST, type Frame, type Mac, type Packet, type Ppp, type Pppoe } from '../frames/frame'

const WAIT_SECONDS = 5
const ECHO_SECONDS = 30
const ECHOES_MISSED = 3
/** 1500 octets of Ethernet less 6 of PPPoE and 2 of PPP (RFC 2516 section 7). */
export const PPPOE_MRU = 1492

export interface PppAddresses {
  readonly own: number
  readonly peer: number
  readonly nameServer: number | null
}

/** An interface without neighbours: whatever is sent goes to the other end. */
export class PppInterface {
  address: number | null = null
  readonly length = 32
  onPacket: (packet: Packet, from: Mac) => void = () => {}
  constructor(private readonly transmit: (packet: Packet) => void) {}
  send(packet: Packet): void {
    if (this.address !== null) this.transmit(packet)
  }
}

const frame = (from: Mac, to: Mac, payload: Pppoe): Frame => ({ from, to, tag: null, payload })

export class PppoeClient {
  readonly net: PppInterface
  private session: { id: number; peer: Mac } | null = null
  private nameServer: number | null = null
  private timer: Timer | undefined
  private echo: Timer | undefined
  private unanswered = 0
  private running = false
  private isOffered = false
  /** What the provider said to the last try. */
  signIn: 'unanswered' | 'refused' | 'accepted' = 'unanswered'

  constructor(
    private readonly queue: EventQueue,
    private readonly mac: Mac,
    private readonly send: (frame: Frame) => void,
    private readonly account: { user: string; password: string },
    /** Called when the line is up, and with null when it is down again. */
    private readonly onResult: (addresses: PppAddresses | null) => void,
  ) {
    this.net = new PppInterface((packet) => this.ppp({ protocol: 'ip', packet }))
  }

  start(): void {
    this.stop()
    this.running = true
    this.discover()
  }

  stop(): void {
    if (this.session)
      this.send(
        frame(this.mac, this.session.peer, {
          kind: 'pppoe',
          code: 'padt',
          session: this.session.id,
          ppp: null,
        }),
      )
    this.running = false
    this.down()
  }

  private down(): void {
    this.timer?.cancel()
    this.echo?.cancel()
    this.session = null
    this.unanswered = 0
    if (this.net.address !== null) {
      this.net.address = null
      this.onResult(null)
    }
  }

  /** Asks again and again until there is a session that is up. */
  private discover(): void {
    if (!this.running) return
    this.down()
    if (!this.isOffered) this.signIn = 'unanswered'
    this.isOffered = false
    this.send(frame(this.mac, BROADCAST, { kind: 'pppoe', code: 'padi', session: 0, ppp: null }))
    this.timer = this.queue.after(WAIT_SECONDS, () => this.discover())
  }

  private ppp(ppp: Ppp): void {
    if (this.session)
      this.send(
        frame(this.mac, this.session.peer, {
          kind: 'pppoe',
          code: 'session',
          session: this.session.id,
          ppp,
        }),
      )
  }

  receive(from: Mac, p: Pppoe): void {
    if (!this.running) return
    if (p.code === 'pado') this.isOffered = true
    if (p.code === 'pado' && !this.session)
      this.send(frame(this.mac, from, { kind: 'pppoe', code: 'padr', session: 0, ppp: null }))
    else if (p.code === 'pads' && !this.session) {
      this.session = { id: p.session, peer: from }
      this.ppp({ protocol: 'lcp', op: 'request', mru: PPPOE_MRU, auth: false })
    } else if (this.session && p.session === this.session.id && from === this.session.peer) {
      if (p.code === 'padt') this.discover()
      else if (p.code === 'session' && p.ppp) this.inside(p.ppp)
    }
  }

  private inside(p: Ppp): void {
    switch (p.protocol) {
      case 'ip':
        this.net.onPacket(p.packet, this.session!.peer)
        break
      case 'lcp':
        if (p.op === 'request') {
          this.ppp({ ...p, op: 'ack' })
          if (p.auth)
            this.ppp({
              protocol: 'pap',
              op: 'request',
              user: this.account.user,
              password: this.account.password,
            })
        } else if (p.op === 'echo') this.ppp({ ...p, op: 'echo-reply' })
        else if (p.op === 'echo-reply') this.unanswered = 0
        break
      case 'pap':
        if (p.op === 'ack') this.ppp({ protocol: 'ipcp', op: 'request', address: 0, nameServer: 0 })
        else if (p.op === 'nak') this.signIn = 'refused'
        break
      case 'ipcp':
        if (p.op === 'nak') {
          this.nameServer = p.nameServer || null
          this.ppp({ ...p, op: 'request' })
        } else if (p.op === 'request') {
          this.peerAddress = p.address
          this.ppp({ ...p, op: 'ack' })
        } else if (p.op === 'ack' && this.net.address === null) this.up(p.address)
        break
    }
  }
  private peerAddress = 0

  private up(own: number): void {
    this.timer?.cancel()
    this.signIn = 'accepted'
    this.net.address = own
    this.onResult({ own, peer: this.peerAddress, nameServer: this.nameServer })
    const ask = (): void => {
      if (this.unanswered >= ECHOES_MISSED) {
        this.discover()
        return
      }
      this.unanswered++
      this.ppp({ protocol: 'lcp', op: 'echo', mru: PPPOE_MRU, auth: false })
      this.echo = this.queue.after(ECHO_SECONDS, ask)
    }
    this.echo = this.queue.after(ECHO_SECONDS, ask)
  }
}

export interface PppoeServerSetup {
  readonly own: number
  readonly customer: number
  readonly nameServer: number
  readonly account: { readonly user: string; readonly password: string }
}

/** The provider's end: one session for one customer. */
export class PppoeServer {
  private next = 1
  private session: { id: number; peer: Mac; known: boolean; up: boolean } | null = null
  onPacket: (packet: Packet, from: Mac) => void = () => {}

  constructor(
    private readonly mac: Mac,
    private readonly send: (frame: Frame) => void,
    private readonly setup: PppoeServerSetup,
  ) {}

  sendPacket(packet: Packet): void {
    if (this.session?.up) this.ppp({ protocol: 'ip', packet })
  }

  private ppp(ppp: Ppp): void {
    this.send(
      frame(this.mac, this.session!.peer, {
        kind: 'pppoe',
        code: 'session',
        session: this.session!.id,
        ppp,
      }),
    )
  }

  receive(from: Mac, p: Pppoe): void {
    const answer = (code: Pppoe['code'], session: number): void =>
      this.send(frame(this.mac, from, { kind: 'pppoe', code, session, ppp: null }))
    if (p.code === 'padi') answer('pado', 0)
    else if (p.code === 'padr') {
      this.session = { id: this.next++, peer: from, known: false, up: false }
      answer('pads', this.session.id)
    } else if (this.session && p.session === this.session.id && from === this.session.peer) {
      if (p.code === 'padt') this.session = null
      else if (p.code === 'session' && p.ppp) this.inside(this.session, p.ppp)
    }
  }

  private inside(session: NonNullable<PppoeServer['session']>, p: Ppp): void {
    if (p.protocol === 'ip') {
      if (session.up) this.onPacket(p.packet, session.peer)
    } else if (p.protocol === 'lcp') {
      if (p.op === 'request') {
        this.ppp({ ...p, op: 'ack' })
        this.ppp({ protocol: 'lcp', op: 'request', mru: PPPOE_MRU, auth: true })
      } else if (p.op === 'echo') this.ppp({ ...p, op: 'echo-reply' })
    } else if (p.protocol === 'pap' && p.op === 'request') {
      session.known =
        p.user === this.setup.account.user && p.password === this.setup.account.password
      this.ppp({ protocol: 'pap', op: session.known ? 'ack' : 'nak', user: '', password: '' })
      if (!session.known) {
        this.send(
          frame(this.mac, session.peer, {
            kind: 'pppoe',
            code: 'padt',
            session: session.id,
            ppp: null,
          }),
        )
        this.session = null
      }
    } else if (p.protocol === 'ipcp' && session.known) {
      if (p.op !== 'request') {
        if (p.op === 'ack') session.up = true
        return
      }
      if (p.address !== this.setup.customer) {
        this.ppp({
          ...p,
          op: 'nak',
          address: this.setup.customer,
          nameServer: this.setup.nameServer,
        })
        return
      }
      this.ppp({ protocol: 'ipcp', op: 'request', address: this.setup.own, nameServer: 0 })
      this.ppp({ ...p, op: 'ack' })
    }
  }
}
